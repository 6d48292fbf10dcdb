import { Z_975 as Z } from './normal';

/** A share of some trials, and the range in which the true share lies 95 times in 100. */
export interface RateRange {
  count: number;
  of: number;
  /** All three from 0 to 1; of no trials at all the share is 0 and the range 0 to 1. */
  rate: number;
  low: number;
  high: number;
}

/**
 * Wilson's score interval, which holds for small numbers and for shares near 0 too.
 *
 * Source: E. B. Wilson, Probable inference, the law of succession, and statistical inference, JASA 22 (1927).
 *
 * @param count 0 to `of`
 */
export function rateRange(count: number, of: number): RateRange {
  if (of <= 0) return { count, of: 0, rate: 0, low: 0, high: 1 };
  const rate = count / of;
  const z2 = (Z * Z) / of;
  const middle = (rate + z2 / 2) / (1 + z2);
  const half = (Z * Math.sqrt((rate * (1 - rate)) / of + z2 / (4 * of))) / (1 + z2);
  // Of none and of all the bound is the end of the scale itself, whatever rounding makes of it.
  const low = count === 0 ? 0 : Math.max(0, middle - half);
  const high = count === of ? 1 : Math.min(1, middle + half);
  return { count, of, rate, low, high };
}
