import { describe, expect, it } from 'vitest';
import { drawVariant } from './draw-variant';

const drawn = (shares: number[], campaignId = 1) => {
  const counts = shares.map(() => 0);
  for (let i = 0; i < 10_000; i++) {
    const at = drawVariant(shares, campaignId, `p${i}@grove${i % 7}.example`);
    counts[at] = (counts[at] ?? 0) + 1;
  }
  return counts.map((n) => n / 100);
};

describe('drawVariant', () => {
  it('gives each variant its share', () => {
    const [a = 0, b = 0, c = 0] = drawn([50, 30, 20]);
    // Four standard deviations of a share among ten thousand.
    expect(Math.abs(a - 50)).toBeLessThan(2);
    expect(Math.abs(b - 30)).toBeLessThan(2);
    expect(Math.abs(c - 20)).toBeLessThan(2);
  });

  it('draws the same for the same person, and another in another campaign', () => {
    expect(drawVariant([1, 1], 5, 'ana@x.example')).toBe(drawVariant([1, 1], 5, 'ana@x.example'));
    const differs = Array.from({ length: 200 }, (_, i) => `p${i}@x.example`).filter(
      (key) => drawVariant([1, 1], 1, key) !== drawVariant([1, 1], 2, key),
    );
    expect(differs.length).toBeGreaterThan(60);
  });

  it('gives the first where there is nothing to share', () => {
    expect(drawVariant([], 1, 'a')).toBe(0);
    expect(drawVariant([0, 0], 1, 'a')).toBe(0);
    expect(drawn([0, 100])).toEqual([0, 100]);
  });
});
