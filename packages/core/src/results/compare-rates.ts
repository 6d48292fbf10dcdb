import { Z_80, Z_975 } from './normal';
import { rateRange } from './rate-range';

/** How often something happened among so many. */
export interface Tally {
  count: number;
  of: number;
}

/** The difference between two shares, with the range in which the true one lies 95 times in 100. */
export interface RateDifference {
  difference: number;
  low: number;
  high: number;
}

/**
 * The first share less the second, by the hybrid score interval, which holds for small numbers and for shares near 0 too.
 *
 * Source: R. G. Newcombe, Interval estimation for the difference between independent proportions, Statistics in Medicine 17
 * (1998), method 10.
 */
export function rateDifference(a: Tally, b: Tally): RateDifference {
  const [one, two] = [rateRange(a.count, a.of), rateRange(b.count, b.of)];
  const difference = one.rate - two.rate;
  const spread = (down: number, up: number) => Math.hypot(down, up);
  return {
    difference,
    low: Math.max(-1, difference - spread(one.rate - one.low, two.high - two.rate)),
    high: Math.min(1, difference + spread(one.high - one.rate, two.rate - two.low)),
  };
}

/** Ways of the same probability are told apart by rounding otherwise. */
const SAME = 1 + 1e-7;

/**
 * How probable it is that two shares differ so much, or more, where the true ones are the same: Fisher's exact test, two-sided.
 *
 * Source: R. A. Fisher, Statistical Methods for Research Workers, 5th ed. (1934), section 21.02.
 *
 * @returns 0 to 1; 1 where either has no trials
 */
export function chanceOfDifference(a: Tally, b: Tally): number {
  const [hits, all] = [a.count + b.count, a.of + b.of];
  const least = Math.max(0, hits - b.of);
  const most = Math.min(hits, a.of);
  const logWays = (n: number, k: number) => logFactorial(n) - logFactorial(k) - logFactorial(n - k);
  const total = logWays(all, hits);
  const of = (k: number) => Math.exp(logWays(a.of, k) + logWays(b.of, hits - k) - total);
  const seen = of(a.count) * SAME;
  let sum = 0;
  for (let k = least; k <= most; k++) {
    const p = of(k);
    if (p <= seen) sum += p;
  }
  return Math.min(1, sum);
}

/** Up to here summed up, from here on by Stirling's series, whose next term is below 1e-9 by then. */
const MOST_SUMMED = 256;
const SUMMED: number[] = [0];
for (let n = 1; n <= MOST_SUMMED; n++) SUMMED.push((SUMMED[n - 1] as number) + Math.log(n));

function logFactorial(n: number): number {
  if (n <= MOST_SUMMED) return SUMMED[n] as number;
  return n * Math.log(n) - n + Math.log(2 * Math.PI * n) / 2 + 1 / (12 * n) - 1 / (360 * n ** 3);
}

/**
 * Probabilities of chance where several were looked at, so that all of them together mislead no more often than one would.
 *
 * Source: S. Holm, A simple sequentially rejective multiple test procedure, Scandinavian Journal of Statistics 6 (1979).
 *
 * @returns in the order given, 0 to 1
 */
export function holm(chances: readonly number[]): number[] {
  const order = chances.map((_, i) => i).sort((a, b) => (chances[a] as number) - (chances[b] as number));
  const out = Array<number>(chances.length).fill(1);
  let before = 0;
  order.forEach((at, rank) => {
    before = Math.max(before, Math.min(1, (chances.length - rank) * (chances[at] as number)));
    out[at] = before;
  });
  return out;
}

/**
 * How many of each it takes to tell two shares apart that are truly as far apart as these: at 5 %, 80 times in 100.
 *
 * Source: J. L. Fleiss, Statistical Methods for Rates and Proportions, 2nd ed. (1981), section 3.2, without continuity
 * correction.
 *
 * @returns Infinity where they are the same
 */
export function neededOfEach(a: number, b: number): number {
  if (a === b) return Infinity;
  const middle = (a + b) / 2;
  const spread = Z_975 * Math.sqrt(2 * middle * (1 - middle)) + Z_80 * Math.sqrt(a * (1 - a) + b * (1 - b));
  return Math.ceil((spread / (a - b)) ** 2);
}
