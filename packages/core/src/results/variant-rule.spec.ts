import { describe, expect, it } from 'vitest';
import { seededRandom } from '../random/seeded';
import {
  clearLosers,
  lookDue,
  stoppedWords,
  VARIANT_LOOKS,
  VARIANT_RULE_ERROR,
  type VariantTally,
} from './variant-rule';

const tallies = (...of: [count: number, of: number][]): VariantTally[] =>
  of.map(([count, n], variant) => ({ variant, count, of: n }));

/** Whether the rule stops one of variants whose true shares are these, before it has made all its looks. */
function stopsAny(shares: readonly number[], random: () => number): boolean {
  const replied = shares.map(() => 0);
  let reached = 0;
  for (const look of VARIANT_LOOKS) {
    for (; reached < look; reached++)
      for (const [i, share] of shares.entries()) if (random() < share) replied[i] = (replied[i] ?? 0) + 1;
    if (clearLosers(replied.map((count, variant) => ({ variant, count, of: reached }))).length > 0) return true;
  }
  return false;
}

describe('the rule that stops a variant', () => {
  it('looks when every variant has reached enough, and makes up for no look', () => {
    expect(lookDue(0, tallies([9, 49], [9, 300]))).toBeNull();
    expect(lookDue(0, tallies([9, 50], [9, 300]))).toBe(1);
    expect(lookDue(1, tallies([9, 99], [9, 300]))).toBeNull();
    expect(lookDue(1, tallies([9, 210], [9, 300]))).toBe(3);
    expect(lookDue(6, tallies([9, 9000], [9, 9000]))).toBeNull();
    expect(lookDue(0, tallies([9, 9000]))).toBeNull();
  });

  it('stops what is clearly worse, each of several', () => {
    expect(clearLosers(tallies([20, 100], [1, 100])).map((s) => s.loser.variant)).toEqual([1]);
    expect(clearLosers(tallies([2, 200], [40, 200], [3, 200])).map((s) => s.loser.variant)).toEqual([2, 0]);
    expect(clearLosers(tallies([10, 100], [5, 100]))).toEqual([]);
    expect(clearLosers(tallies([0, 100], [0, 100]))).toEqual([]);
    expect(clearLosers([])).toEqual([]);
  });

  it.each([[[0.1, 0.1]], [[0.02, 0.02]], [[0.1, 0.1, 0.1, 0.1]]])(
    'stops one of those that are alike (%j) no more often than it says',
    (shares) => {
      const random = seededRandom(11);
      const TRIALS = 600;
      const wrong = Array.from({ length: TRIALS }, () => stopsAny(shares, random)).filter(Boolean).length;
      // Three standard errors above what it says would be a rule that does not keep its word.
      expect(wrong / TRIALS).toBeLessThan(VARIANT_RULE_ERROR + 3 * Math.sqrt(VARIANT_RULE_ERROR / TRIALS));
    },
  );

  it('finds what is half as good nearly always', () => {
    const random = seededRandom(3);
    const found = Array.from({ length: 100 }, () => stopsAny([0.1, 0.05], random)).filter(Boolean).length;
    expect(found).toBeGreaterThan(85);
  });

  it('says what it has done', () => {
    const [stopped] = clearLosers(tallies([20, 100], [1, 100]));
    expect(stoppedWords(stopped!, 'Tue 24 Nov')).toBe(
      'Variant B was stopped on Tue 24 Nov: 1 of 100 replied to B, 20 of 100 replied to A (p < 0.0001).',
    );
  });
});
