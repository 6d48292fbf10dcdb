import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { startCurves, type Curves } from './start-curves';
import type { Stream } from './stream-program';

const steps = (...pairs: [delay: number, tolerance: number][]) =>
  [[0, 0] as const, ...pairs].map(([delay, tolerance]) => ({ delay, tolerance }));
const flat = (days: number, units: number, classes: Stream['classes']): Stream => ({
  workday: Array.from({ length: days }, (_, i) => i),
  capacity: new Float64Array(days).fill(units),
  available: null,
  classes,
});
/** The course through one stream, of as many as can start. */
const alone = (stream: Stream, lastStart: number, gap: number, bucketDays = 1): Curves =>
  startCurves([stream], lastStart, Infinity, { gap, bucketDays })[0]!;
const SHARP = { gap: 1e-4, bucketDays: 1 };
const whole = (days: number) => new Float64Array(days).fill(1);

describe('startCurves', () => {
  it('starts as many as the optimum does: 5,000 by day 146 with exact delays, 100 a day', () => {
    const stream = flat(170, 100, [{ steps: steps([3, 0], [4, 0]), part: whole(170) }]);
    const [curves] = alone(stream, 146, 1e-3);
    expect(curves![0]!.at(-1)).toBeGreaterThan(4950);
    expect(curves![0]!.at(-1)).toBeLessThan(5010);
    expect(curves![2]!.at(-1)).toBeCloseTo(curves![0]!.at(-1)!, 3);
  });

  it('starts nobody whose follow-up would fall into days that are shut', () => {
    // Two weeks: days 10 to 19 do not exist, though they count as working days.
    const workday = [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 20, 21, 22, 23, 24, 25, 26, 27, 28, 29];
    const stream = { ...flat(20, 10, [{ steps: steps([4, 1]), part: whole(20) }]), workday };
    const [curves] = alone(stream, 25, 1e-3);
    // From day 6 on the follow-up is due on day 10 at the earliest and 11 at the latest.
    expect(curves![0]![9]! - curves![0]![5]!).toBeLessThan(0.1);
    expect(curves![0]!.at(-1)! - curves![0]![9]!).toBeGreaterThan(10);
  });

  it('starts all of a class by its last day, at its part of the starts on the way, or near it where it may deviate', () => {
    const parts = fc.tuple(
      fc.integer({ min: 1, max: 5 }),
      fc.integer({ min: 1, max: 5 }),
      fc.integer({ min: 6, max: 16 }),
    );
    fc.assert(
      fc.property(parts, ([own, other, last]) => {
        const days = 50;
        const part = Float64Array.from({ length: days }, (_, j) => (j <= last ? own / (own + other) : 0));
        const classes = [
          { steps: steps([2, 2], [3, 2]), part },
          { steps: steps([3, 2]), part: part.map((x) => 1 - x) },
        ];
        // As many as start by then when nobody says how many there are, and a few less.
        const [free] = alone(flat(days, 60, classes), 30, 1e-4);
        const most = [free![0]!.at(-1)! * 0.95, 10_000];
        const told = classes.map((own, k) => ({ ...own, most: most[k]! }));
        const early = [false, true].map((deviates) => {
          const [first, second] = alone({ ...flat(days, 60, told), deviates }, 30, 1e-4).map((curves) => curves[0]!);
          expect(first![last]!).toBeGreaterThan(most[0]! - 0.5);
          expect(first!.at(-1)!).toBeLessThan(most[0]! + 0.5);
          for (let j = 0; j <= last; j++) {
            const even = part[j]! * (first![j]! + second![j]!);
            expect(Math.abs(first![j]! - even)).toBeLessThan((deviates ? 0.01 * most[0]! : 0) + 0.5);
          }
          const sumOf = (curve: Float64Array) => curve.slice(0, 31).reduce((sum, x) => sum + x, 0);
          return 3 * sumOf(first!) + 2 * sumOf(second!);
        });
        // Leaning only brings more freedom.
        expect(early[1]).toBeGreaterThan(early[0]! * (1 - 1e-3));
      }),
      { numRuns: 20 },
    );
  });

  it('starts as many in several streams together as are wanted, and each as early as no other division would', () => {
    const capacity = fc.array(fc.integer({ min: 5, max: 40 }), { minLength: 30, maxLength: 40 });
    const given = fc.tuple(capacity, capacity, fc.double({ min: 0.1, max: 0.9, noNaN: true }));
    fc.assert(
      fc.property(given, ([a, b, part]) => {
        const streams = [a, b].map((units): Stream => ({
          ...flat(units.length, 1, [{ steps: steps([3, 1]), part: whole(units.length) }]),
          capacity: Float64Array.from(units),
        }));
        const [last, units] = [20, 150];
        const startsOf = (curves: Curves) => curves[0]![0]!;
        const total = (curves: Curves[]) => curves.reduce((sum, c) => sum + startsOf(c).at(-1)!, 0);
        const worth = (curves: Curves[]) =>
          curves.reduce(
            (sum, c) =>
              sum +
              startsOf(c)
                .subarray(0, last + 1)
                .reduce((x, y) => x + y, 0),
            0,
          );
        const joint = startCurves(streams, last, units, SHARP);
        const most = total(startCurves(streams, last, Infinity, SHARP));
        expect(total(joint)).toBeCloseTo(Math.min(units, most), 0);
        const divided = streams.flatMap((stream, i) =>
          startCurves([stream], last, units * (i === 0 ? part : 1 - part), SHARP),
        );
        expect(worth(joint)).toBeGreaterThan(worth(divided) * 0.999 - 1);
      }),
      { numRuns: 40 },
    );
  });

  it('taken some days at a time is a little less sharp: no day is overfull, and nearly as many start', () => {
    const pair = fc.tuple(fc.integer({ min: 1, max: 6 }), fc.integer({ min: 1, max: 3 }));
    const capacity = fc.array(fc.integer({ min: 20, max: 40 }), { minLength: 60, maxLength: 90 });
    fc.assert(
      fc.property(fc.array(pair, { maxLength: 3 }), capacity, (pairs, units) => {
        const n = units.length;
        const classes = [{ steps: steps(...pairs), part: whole(n) }];
        const stream = { ...flat(n, 1, classes), capacity: Float64Array.from(units) };
        const [sharp, even] = [1, 4].map((bucketDays) => alone(stream, n - 30, 1e-3, bucketDays)[0]!);
        const begun = [sharp!, even!].map(([starts]) => starts!.at(-1)!);
        expect(begun[1]! / begun[0]!).toBeGreaterThan(0.85);
        expect(begun[1]! / begun[0]!).toBeLessThan(1.15);
        for (let j = 0; j < n; j++) {
          const sent = even!.reduce((sum, curve) => sum + curve[j]! - (j === 0 ? 0 : curve[j - 1]!), 0);
          expect(sent).toBeLessThanOrEqual(units[j]! * 1.02 + 1);
        }
      }),
      { numRuns: 40 },
    );
  });

  it('never overfills a day, sends nothing early or late, and keeps to what is available', () => {
    const pattern = fc.array(fc.tuple(fc.integer({ min: 1, max: 6 }), fc.integer({ min: 0, max: 3 })), {
      maxLength: 3,
    });
    const capacity = fc.array(fc.integer({ min: 1, max: 60 }), { minLength: 30, maxLength: 60 });
    fc.assert(
      fc.property(pattern, pattern, capacity, fc.double({ min: 0, max: 1, noNaN: true }), (a, b, units, part) => {
        const n = units.length;
        const classes = [a, b].map((pairs, k) => ({
          steps: steps(...pairs),
          part: new Float64Array(n).map((_, i) => ((k === 0) === i < n / 2 ? part : 1 - part)),
        }));
        const available = Float64Array.from({ length: n }, (_, i) => 5 * (i + 1));
        const stream = { ...flat(n, 1, classes), capacity: Float64Array.from(units), available };
        const curves = alone(stream, Math.floor(n / 2), 1e-3);
        const scale = (0.02 * units.reduce((x, y) => x + y, 0)) / n + 0.1;
        for (let j = 0; j < n; j++) {
          let [sent, begun] = [0, 0];
          curves.forEach((own, k) => {
            own.forEach((curve, s) => {
              sent += curve[j]! - (j === 0 ? 0 : curve[j - 1]!);
              if (s === 0) return;
              const { delay, tolerance } = classes[k]!.steps[s]!;
              expect(curve[j]!).toBeLessThanOrEqual((j < delay ? 0 : own[s - 1]![j - delay]!) + scale);
              if (j >= delay + tolerance)
                expect(curve[j]!).toBeGreaterThanOrEqual(own[s - 1]![j - delay - tolerance]! - scale);
            });
            begun += own[0]![j]!;
          });
          expect(sent).toBeLessThanOrEqual(units[j]! + scale);
          expect(begun).toBeLessThanOrEqual(available[j]! + scale);
        }
      }),
      { numRuns: 60 },
    );
  });
});
