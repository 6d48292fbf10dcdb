import { describe, expect, it } from 'vitest';
import { repliesToCome, shareAt, stillSilent, type Silence } from './still-silent';

// Freireich et al., Blood 21 (1963): weeks in remission under 6-MP; the worked example of most texts on the method.
const ENDED = [6, 6, 6, 7, 10, 13, 16, 22, 23];
const GOING_ON = [6, 9, 10, 11, 17, 19, 20, 25, 32, 32, 34, 35];
const SILENCES: Silence[] = [
  ...ENDED.map((lasted) => ({ lasted, ended: true, people: 1 })),
  ...GOING_ON.map((lasted) => ({ lasted, ended: false, people: 1 })),
];

const waiting = (lasted: number): Silence => ({ lasted, ended: false, people: 1 });

describe('the share still silent', () => {
  it('falls as published', () => {
    const curve = stillSilent(SILENCES).map(({ from, share }) => [from, Number(share.toFixed(3))]);
    expect(curve).toEqual([
      ...[
        [0, 1],
        [6, 0.857],
        [7, 0.807],
        [10, 0.753],
        [13, 0.69],
        [16, 0.627],
        [22, 0.538],
        [23, 0.448],
      ],
    ]);
  });

  it('is the same for people who are counted together', () => {
    const keyOf = (s: Silence) => `${s.lasted} ${String(s.ended)}`;
    const together = [...new Set(SILENCES.map(keyOf))].map((key): Silence => {
      const same = SILENCES.filter((s) => keyOf(s) === key);
      return { ...(same[0] as Silence), people: same.length };
    });
    expect(together.length).toBeLessThan(SILENCES.length);
    const rounded = (of: readonly Silence[]) => stillSilent(of).map((s) => [s.from, s.share.toFixed(12)]);
    expect(rounded(together)).toEqual(rounded(SILENCES));
  });

  it('is whole before the first reply, and of nobody', () => {
    expect(shareAt(stillSilent(SILENCES), 5)).toBe(1);
    expect(shareAt(stillSilent(SILENCES), 1000)).toBeCloseTo(0.448, 3);
    expect(stillSilent([])).toEqual([{ from: 0, share: 1 }]);
    expect(stillSilent([{ lasted: 0, ended: true, people: 3 }])).toEqual([
      { from: 0, share: 1 },
      { from: 0, share: 0 },
    ]);
  });
});

describe('replies to come', () => {
  it('are what the curve has for those who are silent still', () => {
    expect(repliesToCome(SILENCES, [waiting(0)])).toBeCloseTo(1 - 0.4482, 3);
    expect(repliesToCome(SILENCES, [waiting(16), waiting(30)])).toBeCloseTo(1 - 0.4482 / 0.6275, 3);
    expect(repliesToCome(SILENCES, [])).toBe(0);
  });

  it('are not said where hardly anybody has replied', () =>
    expect(
      repliesToCome(
        SILENCES.filter((s) => !s.ended || s.lasted < 10),
        [waiting(1)],
      ),
    ).toBeNull());
});
