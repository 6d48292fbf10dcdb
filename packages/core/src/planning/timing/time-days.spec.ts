import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { campaign, mailbox, workspace } from '../../testing/plan-inputs';
import { weekdayWindows } from '../../time/window';
import type { PlanInput, PlanMailbox } from '../workspace/plan-input';
import { noPlacements, type Placements } from '../placements/placements';
import { everyMailbox, Timetable } from './time-days';

const one = [{ delay: 0, tolerance: 0 }];
/** Monday 19 October 2026 in Berlin, an hour at a time. */
const at = (hour: number) => Date.UTC(2026, 9, 19, hour - 2);

/** So many people, all on the first day, of one mailbox or in turn of two. */
function placed(people: number, mailboxes: PlanMailbox[], over: Partial<PlanInput> = {}) {
  const campaigns = [campaign({ steps: one, mailboxes: mailboxes.map((_, m) => m) })];
  const input = workspace([people], { mailboxes, campaigns, now: at(7), ...over });
  const placements = noPlacements(input);
  for (let p = 0; p < people; p++) placements.take(p, p % mailboxes.length, Int32Array.of(0));
  return { input, placements };
}

function instantsOf(input: PlanInput, placements: Placements): number[] {
  const timetable = new Timetable(input, placements);
  expect(timetable.time(everyMailbox(placements)).size).toBe(0);
  return [...timetable.instant];
}

describe('the instants of a day', () => {
  it('lie inside the hours, the pace apart, over the whole of them, and no gap is like all others', () => {
    const days = fc.record({
      people: fc.integer({ min: 12, max: 60 }),
      pace: fc.integer({ min: 0, max: 300 }),
      seed: fc.nat(),
    });
    fc.assert(
      fc.property(days, ({ people, pace, seed }) => {
        const windows = weekdayWindows(540, 1020);
        const { input, placements } = placed(people, [mailbox({ windows, paceSeconds: pace })], { seed });
        const instants = instantsOf(input, placements).sort((a, b) => a - b);
        const gaps = instants.slice(1).map((instant, k) => instant - instants[k]!);
        const [first, last] = [instants[0]!, instants.at(-1)!];
        expect(first).toBeGreaterThanOrEqual(at(9));
        expect(last).toBeLessThan(at(17));
        expect(Math.min(...gaps)).toBeGreaterThanOrEqual(1000 * pace);
        expect(last - first).toBeGreaterThan(0.6 * (at(17) - at(9)));
        expect(new Set(gaps).size).toBeGreaterThan(gaps.length / 2);
      }),
      { numRuns: 60 },
    );
  });

  it('are the same for the same seed, others for another, and not in the order of the list', () => {
    const of = (seed: number) => {
      const { input, placements } = placed(30, [mailbox()], { seed });
      return instantsOf(input, placements);
    };
    expect(of(4)).toEqual(of(4));
    expect(of(4)).not.toEqual(of(5));
    expect(of(4)).not.toEqual(of(4).sort((a, b) => a - b));
  });

  it('are found of the mailboxes asked for, and all are listed by mailbox', () => {
    const { input, placements } = placed(8, [mailbox(), mailbox()]);
    const timetable = new Timetable(input, placements);
    timetable.time(new Set([1]));
    expect([...timetable.instant].map((instant) => instant > 0)).toEqual(
      Array.from({ length: 8 }, (_, p) => p % 2 === 1),
    );
    timetable.time(new Set([0]));
    const mailboxOf = [...timetable.inOrder()].map((k) => placements.mailbox[k]!);
    expect(mailboxOf).toEqual([0, 0, 0, 0, 1, 1, 1, 1]);
  });

  it('keep to what the provider takes in 24 hours, and whoever finds none is named with the day', () => {
    // Twelve left yesterday between four and five in the afternoon: of fifteen three may leave before those are a day old.
    const alreadyUsed = Array.from({ length: 12 }, (_, k) => ({
      instant: at(16) - 86_400_000 + 300_000 * k,
      units: 1,
    }));
    const own = mailbox({ providerLimit24h: 15, alreadyUsed, windows: weekdayWindows(540, 975), paceSeconds: 10 });
    const { input, placements } = placed(15, [own]);
    const timetable = new Timetable(input, placements);
    const spilled = timetable.time(everyMailbox(placements));
    expect(spilled.size).toBeGreaterThan(0);
    expect([...spilled.values()].every((day) => day === 0)).toBe(true);
    const timed = [...timetable.instant].filter((_, p) => !spilled.has(p));
    for (const instant of timed) {
      const lately = (t: number) => t > instant - 86_400_000 && t <= instant;
      expect(alreadyUsed.filter((u) => lately(u.instant)).length + timed.filter(lately).length).toBeLessThanOrEqual(15);
    }
    expect(timed.length).toBeGreaterThanOrEqual(3);
  });
});
