import fc from 'fast-check';
import { expect, it } from 'vitest';
import { backOffMs } from './back-off';

it('waits twice as long each time, varied by a third, up to the limit', () => {
  expect([1, 2, 3, 4, 9].map((n) => backOffMs(n, 1000, 60_000, 0.5))).toEqual([1000, 2000, 4000, 8000, 60_000]);
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 10_000 }), fc.double({ min: 0, max: 1, noNaN: true }), (n, random) => {
      const pause = backOffMs(n, 500, 30_000, random);
      const middle = Math.min(30_000, 500 * 2 ** Math.min(n - 1, 30));
      expect(pause).toBeGreaterThanOrEqual(Math.floor((middle * 2) / 3));
      expect(pause).toBeLessThanOrEqual(Math.ceil((middle * 4) / 3));
    }),
  );
});
