import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { rateRange } from './rate-range';

describe('rateRange', () => {
  it.each([
    // Newcombe, Statistics in Medicine 17 (1998), table I, method 3.
    [81, 263, 0.2553, 0.3662],
    [15, 148, 0.0624, 0.1605],
    [0, 20, 0, 0.1611],
    [1, 29, 0.0061, 0.1718],
  ])('%i of %i', (count, of, low, high) => {
    const range = rateRange(count, of);
    expect(range.low).toBeCloseTo(low, 4);
    expect(range.high).toBeCloseTo(high, 4);
  });

  it('holds the share, stays on the scale, and says nothing of no trials', () => {
    fc.assert(
      fc.property(fc.nat({ max: 5000 }), fc.nat({ max: 5000 }), (a, b) => {
        const { low, rate, high } = rateRange(Math.min(a, b), Math.max(a, b, 1));
        expect(0 <= low && low <= rate && rate <= high && high <= 1).toBe(true);
      }),
    );
    expect(rateRange(0, 0)).toMatchObject({ low: 0, high: 1 });
  });
});
