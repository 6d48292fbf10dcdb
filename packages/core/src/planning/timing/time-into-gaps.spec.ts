import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { seededRandom } from '../../random/seeded';
import type { DayRules } from './assign-instants';
import { timeIntoGaps, type PartlyTimed } from './time-into-gaps';

const HOUR = 3_600_000;
const day: PartlyTimed['open'] = [
  { startMs: 9 * HOUR, endMs: 12 * HOUR },
  { startMs: 13 * HOUR, endMs: 17 * HOUR },
];
const rules = (over: Partial<DayRules> = {}): DayRules => ({
  ...{ paceMs: 60_000, lastMs: -Infinity, providerLimit24h: null, earlier: [], ...over },
});
const at = (...instants: (number | null)[]): PartlyTimed[] =>
  instants.map((instant, id) => ({ id, units: 1, open: day, instant }));

describe('timing into gaps', () => {
  it('leaves what has an instant where it is, and keeps its distance', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 0, max: 47 }), { maxLength: 40 }),
        fc.integer({ min: 0, max: 12 }),
        fc.nat(),
        (slots, fresh, seed) => {
          // Slots of five minutes from nine to twelve and from one to two.
          const known = slots.map((s) => (s < 36 ? 9 * HOUR + s * 300_000 : 13 * HOUR + (s - 36) * 300_000));
          const messages = at(...known, ...Array<null>(fresh).fill(null));
          const timed = timeIntoGaps(messages, rules(), seededRandom(seed));
          expect(timed).not.toBeNull();
          expect(timed!.slice(0, known.length)).toEqual(known);
          const inOrder = [...timed!].sort((a, b) => a - b);
          for (let i = 1; i < inOrder.length; i++) expect(inOrder[i]! - inOrder[i - 1]!).toBeGreaterThanOrEqual(60_000);
          for (const t of timed!) expect(day.some((s) => s.startMs <= t && t < s.endMs)).toBe(true);
        },
      ),
    );
  });

  it('times anew what lies outside its hours, too near another, or too soon after the day before', () => {
    const timed = timeIntoGaps(
      at(8 * HOUR, 10 * HOUR, 10 * HOUR + 5000, 9 * HOUR),
      rules({ lastMs: 9 * HOUR - 1000 }),
      seededRandom(1),
    )!;
    expect(timed[1]).toBe(10 * HOUR);
    for (const t of [timed[0]!, timed[2]!, timed[3]!]) {
      expect(t).toBeGreaterThanOrEqual(9 * HOUR + 59_000);
      expect(Math.abs(t - 10 * HOUR)).toBeGreaterThanOrEqual(60_000);
    }
  });

  it('gives up where there is no room, and where the provider’s 24 hours would be over', () => {
    const short: PartlyTimed[] = at(9 * HOUR, null).map((m) => ({
      ...m,
      open: [{ startMs: 9 * HOUR, endMs: 9 * HOUR + 60_000 }],
    }));
    expect(timeIntoGaps(short, rules(), seededRandom(1))).toBeNull();
    const earlier = [{ instant: -8 * HOUR, units: 3 }];
    expect(timeIntoGaps(at(10 * HOUR, null), rules({ providerLimit24h: 4, earlier }), seededRandom(1))).toBeNull();
    expect(timeIntoGaps(at(17 * HOUR - 1), rules({ providerLimit24h: 3, earlier }), seededRandom(1))).toEqual([
      17 * HOUR - 1,
    ]);
  });
});
