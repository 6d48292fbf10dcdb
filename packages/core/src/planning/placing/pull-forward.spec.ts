import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { campaign, mailbox, workspace } from '../../testing/plan-inputs';
import { advanceFollowUps } from '../replan/advance-follow-ups';
import { noPlacements, type Placements } from '../placements/placements';
import { pullForward } from './pull-forward';

const steps = [
  { delay: 0, tolerance: 0 },
  { delay: 2, tolerance: 3 },
  { delay: 3, tolerance: 2 },
];

/** Forty people in two mailboxes, each started on the first day from one of their own on which there is room. */
const started = fc
  .record({
    quota: fc.integer({ min: 2, max: 9 }),
    from: fc.array(fc.nat({ max: 25 }), { minLength: 40, maxLength: 40 }),
  })
  .map(({ quota, from }) => {
    const mailboxes = [mailbox({ capacity: { quota } }), mailbox({ capacity: { quota: quota + 1 } })];
    const placements = noPlacements(
      workspace([40], { mailboxes, campaigns: [campaign({ steps, mailboxes: [0, 1] })], horizonDays: 120 }),
    );
    from.forEach((day, p) => {
      for (let i = day; i < placements.days.count && placements.mailbox[p] === -1; i++) placements.start(p, p % 2, i);
    });
    return placements;
  });

/** Of each person the days; fails where they are not theirs to have. */
function daysOf({ days, day, mailbox: of, width, book }: Placements): number[][] {
  const used = new Map<number, number>();
  const all = Array.from(of, (m, p) => {
    expect(m).toBeGreaterThanOrEqual(0);
    const own = [...day.slice(p * width, (p + 1) * width)];
    for (const [s, i] of own.entries()) {
      used.set(m * days.count + i, (used.get(m * days.count + i) ?? 0) + 1);
      if (s === 0) continue;
      const { delay, tolerance } = steps[s]!;
      const waited = days.workday[i]! - days.workday[own[s - 1]!]!;
      expect(waited).toBeGreaterThanOrEqual(delay);
      expect(waited).toBeLessThanOrEqual(delay + tolerance);
    }
    return own;
  });
  for (const [cell, messages] of used) expect(messages).toBeLessThanOrEqual(book.open.capacity[cell]!);
  expect([...book.used].reduce((sum, n) => sum + n, 0)).toBe(3 * all.length);
  return all;
}

describe('pulling starters forward', () => {
  it('starts nobody later, the last of all earlier where there is room, and everybody on days they may have', () => {
    fc.assert(
      fc.property(started, (placements) => {
        const before = daysOf(placements);
        pullForward(placements, 0.5);
        const after = daysOf(placements);
        after.forEach((own, p) => expect(own[0]).toBeLessThanOrEqual(before[p]![0]!));
        // Whoever was the last and stays cannot have an earlier start.
        const last = (all: number[][]) => Math.max(...all.map((own) => own[0]!));
        const p = before.findLastIndex((own) => own[0] === last(before));
        if (after[p]![0] !== before[p]![0]) return;
        for (const m of [0, 1])
          for (let i = 0; i < last(before); i++)
            if (placements.book.left(m, i) > 0) expect(placements.couldStart(p, m, i)).toBe(false);
      }),
      { numRuns: 60 },
    );
  });

  it('leaves whoever was put there on purpose', () => {
    const placements = noPlacements(workspace([3], { campaigns: [campaign({ steps })], horizonDays: 60 }));
    for (const p of [0, 1, 2]) placements.start(p, 0, 7 + p);
    pullForward(placements, 1, 2);
    expect([0, 1, 2].map((p) => placements.day[3 * p])).toEqual([0, 0, 9]);
  });
});

describe('follow-ups', () => {
  it('move to the first day that is free, none later than it was nor out of its time', () => {
    fc.assert(
      fc.property(started, (placements) => {
        const before = daysOf(placements);
        advanceFollowUps(placements, null);
        daysOf(placements).forEach((own, p) =>
          own.forEach((day, s) => expect(s === 0 ? day - before[p]![s]! : Math.max(0, day - before[p]![s]!)).toBe(0)),
        );
      }),
      { numRuns: 60 },
    );
    // One alone: three and then four days after the start there is all the room there is.
    const alone = noPlacements(workspace([1], { campaigns: [campaign({ steps })], horizonDays: 60 }));
    alone.take(0, 0, Int32Array.of(0, 4, 9));
    advanceFollowUps(alone, null);
    expect([...alone.day]).toEqual([0, 2, 7]);
  });
});
