import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { seekLastDay } from './last-day';

const bounds = { first: 1, last: 400, rounds: 12, missing: 0.005, over: 0.005, apart: 1 };

describe('the last day on which it pays to start', () => {
  it('is found, or the days around it, whatever the slope', () => {
    const rates = fc.array(fc.double({ min: 0.001, max: 0.2, noNaN: true }), { minLength: 400, maxLength: 400 });
    const at = fc.integer({ min: 2, max: 390 });
    fc.assert(
      fc.property(rates, at, at, fc.double({ min: 0.002, max: 0.1, noNaN: true }), (rate, exact, begin, perDay) => {
        const tried: number[] = [];
        const tryDay = (day: number) => {
          tried.push(day);
          let over = 0;
          for (let d = exact; d < day; d++) over += rate[d]!;
          for (let d = day; d < exact; d++) over -= rate[d]!;
          return { day, over: over - rate[exact]! / 3 };
        };
        const found = seekLastDay(tryDay, { day: begin, perDay, tried: null }, { ...bounds, rounds: 400 });
        expect(tried.length).toBe(new Set(tried).size);
        if (found.between) {
          expect(found.between.map(({ day }) => day)).toEqual([exact, exact + 1]);
          expect(found.day).toBeCloseTo(exact + rate[exact]! / 3 / rate[exact]!, 6);
        } else expect(Math.abs(found.tried.over)).toBeLessThanOrEqual(0.005);
      }),
    );
  });

  it('takes few tries where starts grow evenly', () => {
    const tried: number[] = [];
    const tryDay = (day: number) => {
      tried.push(day);
      return { day, over: (day - 57.4) * 0.03 };
    };
    const found = seekLastDay(tryDay, { day: 80, perDay: 0.02, tried: null }, bounds);
    expect(found.between?.map(({ day }) => day)).toEqual([57, 58]);
    expect(found.day).toBeCloseTo(57.4, 6);
    expect(tried.length).toBeLessThanOrEqual(4);
  });

  it('ends at the last day there is', () => {
    const found = seekLastDay((day) => ({ day, over: -0.5 }), { day: 399, perDay: 0.02, tried: null }, bounds);
    expect(found.tried.day).toBe(400);
    expect(found.between).toBeNull();
  });
});
