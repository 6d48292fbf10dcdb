import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { seededRandom } from '../random/seeded';
import { chanceOfDifference, holm, neededOfEach, rateDifference } from './compare-rates';
import { compareWithBest, differenceWords } from './difference-words';

const of = (count: number, all: number) => ({ count, of: all });

describe('the difference between two shares', () => {
  it.each([
    // Newcombe, Statistics in Medicine 17 (1998), table II, method 10.
    [56, 70, 48, 80, 0.0524, 0.3339],
    [9, 10, 3, 10, 0.1705, 0.809],
    [6, 7, 2, 7, 0.0582, 0.8062],
    [5, 56, 0, 29, -0.0381, 0.1926],
    [0, 10, 0, 20, -0.1611, 0.2775],
    [10, 10, 0, 20, 0.6791, 1],
  ])('of %i of %i and %i of %i', (a, m, b, n, low, high) => {
    const found = rateDifference(of(a, m), of(b, n));
    expect(found.difference).toBeCloseTo(a / m - b / n, 10);
    expect(found.low).toBeCloseTo(low, 4);
    expect(found.high).toBeCloseTo(high, 4);
  });
});

describe('the probability of chance', () => {
  it.each([
    // Fisher, The Design of Experiments (1935): the lady who tasted tea.
    [3, 4, 1, 4, 34 / 70],
    [4, 4, 0, 4, 2 / 70],
    // Fisher, Statistical Methods (1934), section 21.02: convictions of twins of criminals, one-sided 0.0005367.
    [10, 13, 2, 17, 0.00053672 + 0.00000051],
    [0, 0, 5, 10, 1],
    [0, 12, 0, 15, 1],
  ])('of %i of %i and %i of %i', (a, m, b, n, p) => expect(chanceOfDifference(of(a, m), of(b, n))).toBeCloseTo(p, 5));

  it('is the same the other way round, from 0 to 1, and sound for many', () => {
    const tally = fc.nat({ max: 3000 }).chain((all) => fc.tuple(fc.nat({ max: all }), fc.constant(all)));
    fc.assert(
      fc.property(tally, tally, ([a, m], [b, n]) => {
        const p = chanceOfDifference(of(a, m), of(b, n));
        expect(p).toBeGreaterThanOrEqual(0);
        expect(p).toBeLessThanOrEqual(1);
        expect(chanceOfDifference(of(b, n), of(a, m))).toBeCloseTo(p, 6);
      }),
      { numRuns: 60 },
    );
    expect(chanceOfDifference(of(500, 50_000), of(600, 50_000))).toBeCloseTo(0.00264, 4);
  });

  it('gives no more false alarms than it says where nothing differs', () => {
    const random = seededRandom(11);
    const draw = (n: number, rate: number) => Array.from({ length: n }).filter(() => random() < rate).length;
    let alarms = 0;
    const tests = 1500;
    for (let i = 0; i < tests; i++)
      if (chanceOfDifference(of(draw(140, 0.12), 140), of(draw(140, 0.12), 140)) < 0.05) alarms++;
    // Three standard errors above 5 %.
    expect(alarms / tests).toBeLessThan(0.067);
    let several = 0;
    for (let i = 0; i < 400; i++) {
      const all = [0, 1, 2, 3].map((k) => ({ name: String(k), ...of(draw(120, 0.15), 120) }));
      if (compareWithBest(all)?.differences.some((d) => d.tells)) several++;
    }
    expect(several / 400).toBeLessThan(0.083);
  });

  it('is corrected where several are looked at', () => {
    // Holm (1979), as worked in standard texts.
    expect(holm([0.01, 0.04, 0.03, 0.005]).map((p) => Number(p.toFixed(4)))).toEqual([0.03, 0.06, 0.06, 0.02]);
    expect(holm([])).toEqual([]);
  });
});

describe('how many it takes to tell', () => {
  it('is as published', () => {
    // Fleiss (1981), table A.3 gives 219 with continuity correction, 199 without.
    expect(neededOfEach(0.1, 0.2)).toBe(199);
    expect(neededOfEach(0.2, 0.1)).toBe(199);
    expect(neededOfEach(0.3, 0.3)).toBe(Infinity);
  });
});

describe('a comparison in words', () => {
  const said = (...all: [string, number, number][]) =>
    differenceWords(
      all.map(([name, count, n]) => ({ name, count, of: n })),
      'got more replies',
    );
  it('says what is certain, and what is not', () => {
    expect(said(['A', 9, 88], ['B', 16, 88])).toBe(
      'B got more replies than A; with 88 each this may still be chance: 214 more each would tell.',
    );
    expect(said(['A', 9, 60], ['B', 22, 90])).toBe(
      'B got more replies than A; with 90 and 60 people this may still be chance: 218 more each would tell.',
    );
    expect(said(['A', 12, 90], ['B', 26, 177])).toBe(
      'B got more replies than A, but too little to tell it from chance.',
    );
    expect(said(['A', 20, 400], ['B', 60, 400])).toBe('B got more replies than A, by more than chance.');
    expect(said(['A', 5, 50], ['B', 5, 50])).toBe('A and B did alike so far.');
    expect(said(['A', 10, 1000], ['B', 60, 1000], ['C', 12, 1000])).toBe(
      'B got more replies than each of the others, by more than chance.',
    );
  });

  it('says nothing where there is nothing to compare', () => {
    expect(said(['A', 3, 20])).toBeNull();
    expect(said(['A', 3, 20], ['B', 0, 0])).toBeNull();
    expect(said(['A', 0, 20], ['B', 0, 20])).toBeNull();
  });
});
