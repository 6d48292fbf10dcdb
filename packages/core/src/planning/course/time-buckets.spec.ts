import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { TimeBuckets } from './time-buckets';

describe('days in buckets', () => {
  it('are as many as asked for at most, and apart where another sort of day begins', () => {
    const { last, of, capacity } = new TimeBuckets(Float64Array.of(5, 5, 5, 5, 5, 7, 7), (day) => day !== 2, 4);
    expect([...last]).toEqual([1, 5, 6]);
    expect([...of]).toEqual([0, 0, 1, 1, 1, 1, 2]);
    expect([...capacity]).toEqual([10, 22, 7]);
  });

  it('fill as their capacity does: what fills each bucket fills each day', () => {
    const days = fc.array(fc.record({ units: fc.integer({ min: 0, max: 50 }), joins: fc.boolean() }), {
      maxLength: 40,
    });
    fc.assert(
      fc.property(days, fc.integer({ min: 1, max: 6 }), (list, most) => {
        const capacity = Float64Array.from(list, ({ units }) => units);
        const buckets = new TimeBuckets(capacity, (day) => list[day]!.joins, most);
        const sums = buckets.capacity.map((_, e) => buckets.capacity.subarray(0, e + 1).reduce((a, b) => a + b, 0));
        const byDay = buckets.byDay(sums);
        let sum = 0;
        capacity.forEach((units, day) => {
          sum += units;
          expect(byDay[day]).toBeCloseTo(sum, 6);
        });
        const lengths = buckets.last.map((end, e) => end - (e === 0 ? -1 : buckets.last[e - 1]!));
        for (const length of lengths) expect(length).toBeLessThanOrEqual(most);
        list.forEach(({ joins }, day) => {
          if (day > 0 && !joins) expect(buckets.of[day]).toBe(buckets.of[day - 1]! + 1);
        });
      }),
    );
  });
});
