import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Stretches } from './stretches';

describe('days taken together', () => {
  it('are as many as asked for at most, and apart where another sort of day begins', () => {
    const { last, of, capacity } = new Stretches(Float64Array.of(5, 5, 5, 5, 5, 7, 7), (day) => day !== 2, 4);
    expect([...last]).toEqual([1, 5, 6]);
    expect([...of]).toEqual([0, 0, 1, 1, 1, 1, 2]);
    expect([...capacity]).toEqual([10, 22, 7]);
  });

  it('fill as their capacity does: what fills each stretch fills each day', () => {
    const days = fc.array(fc.record({ units: fc.integer({ min: 0, max: 50 }), joins: fc.boolean() }), {
      maxLength: 40,
    });
    fc.assert(
      fc.property(days, fc.integer({ min: 1, max: 6 }), (list, most) => {
        const capacity = Float64Array.from(list, ({ units }) => units);
        const stretches = new Stretches(capacity, (day) => list[day]!.joins, most);
        const sums = stretches.capacity.map((_, e) => stretches.capacity.subarray(0, e + 1).reduce((a, b) => a + b, 0));
        const byDay = stretches.byDay(sums);
        let sum = 0;
        capacity.forEach((units, day) => {
          sum += units;
          expect(byDay[day]).toBeCloseTo(sum, 6);
        });
        const lengths = stretches.last.map((end, e) => end - (e === 0 ? -1 : stretches.last[e - 1]!));
        for (const length of lengths) expect(length).toBeLessThanOrEqual(most);
        list.forEach(({ joins }, day) => {
          if (day > 0 && !joins) expect(stretches.of[day]).toBe(stretches.of[day - 1]! + 1);
        });
      }),
    );
  });
});
