import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { seededRandom } from '../../random/seeded';
import { matrixOf } from '../../testing/matrices';
import { maximise, type Inequalities } from './linear-program';
import { COMMON } from './shared-workspace';

const rows = (n: number, list: [entries: [column: number, value: number][], bound: number][]): Inequalities => ({
  n,
  matrix: matrixOf(list.map(([entries]) => entries)),
  bound: list.map(([, bound]) => bound),
});
const used = ({ matrix: { start, index, value } }: Inequalities, r: number, z: Float64Array) => {
  let sum = 0;
  for (let k = start[r]!; k < start[r + 1]!; k++) sum += value[k]! * z[index[k]!]!;
  return sum;
};

describe('maximise', () => {
  it('finds the corner of a small program', () => {
    const program = rows(2, [
      [[[0, 1]], 2],
      [[[1, 1]], 3],
      [
        [
          [0, 1],
          [1, 1],
        ],
        4,
      ],
      [[[0, -1]], 0],
      [[[1, -1]], 0],
    ]);
    const { z, status } = maximise(program, Float64Array.of(2, 1), 1e-7);
    expect(status).toBe('solved');
    expect(z[0]).toBeCloseTo(2, 4);
    expect(z[1]).toBeCloseTo(2, 4);
  });

  it('ends with the best it has where no step brings it nearer any more', () => {
    // Neighbours share 1, each has up to 1, said twice: asked for more than numbers can tell apart.
    for (let n = 2; n < 40; n++) {
      const program = rows(n, [
        ...Array.from({ length: n - 1 }, (_, i): [[number, number][], number] => [
          [
            [i, 1],
            [i + 1, 1],
          ],
          1,
        ]),
        ...Array.from({ length: 3 * n }, (_, i): [[number, number][], number] =>
          i < n ? [[[i, -1]], 0] : [[[i % n, 1]], 1],
        ),
      ]);
      const { z } = maximise(program, new Float64Array(n).fill(1), 0);
      expect(
        z.reduce((a, b) => a + b, 0),
        `of ${n}`,
      ).toBeCloseTo(Math.ceil(n / 2), 3);
    }
  });

  it('solves larger programs than most, and small ones after them as before', () => {
    // Neighbours share 1: every other has all of it, and the first and the last have, of an odd number.
    const chain = (n: number) =>
      rows(n, [
        ...Array.from({ length: n - 1 }, (_, i): [[number, number][], number] => [
          [
            [i, 1],
            [i + 1, 1],
          ],
          1,
        ]),
        ...Array.from({ length: n }, (_, i): [[number, number][], number] => [[[i, -1]], 0]),
      ]);
    const solved = (n: number) => maximise(chain(n), new Float64Array(n).fill(1), 1e-6).z;
    const before = solved(21);
    const n = COMMON.variables + 3;
    const large = solved(n);
    expect(large).toHaveLength(n);
    expect(large.reduce((a, b) => a + b, 0) / ((n + 1) / 2)).toBeCloseTo(1, 4);
    expect(solved(21)).toEqual(before);
  });

  it('finds the corner that a program was made around', () => {
    for (const n of [5, 40, 90]) {
      const random = seededRandom(n);
      // A corner at which n rows hold with multipliers of their own, and as many that do not.
      const corner = Float64Array.from({ length: n }, () => random());
      const objective = new Float64Array(n);
      const list = Array.from({ length: 2 * n }, (_, r): [[number, number][], number] => {
        const entries = Array.from({ length: n }, (_, i): [number, number] => [
          i,
          random() + (i === r % n ? n / 4 : 0),
        ]);
        const multiplier = r < n ? 0.5 + random() : 0;
        for (const [i, value] of entries) objective[i]! += multiplier * value;
        return [entries, entries.reduce((sum, [i, value]) => sum + value * corner[i]!, r < n ? 0 : 5 * random())];
      });
      for (let i = 0; i < n; i++) list.push([[[i, -1]], 0]);
      const { z } = maximise(rows(n, list), objective, 1e-8);
      const worth = (at: Float64Array) => at.reduce((sum, value, i) => sum + value * objective[i]!, 0);
      expect(worth(z) / worth(corner)).toBeCloseTo(1, 5);
    }
  });

  it('solves chains whose optimum is known: all that the tightest of each window lets through', () => {
    const capacities = fc.array(fc.integer({ min: 1, max: 50 }), { minLength: 3, maxLength: 60 });
    fc.assert(
      fc.property(capacities, (capacity) => {
        // Neighbours share a capacity: x(i) + x(i + 1) <= c(i), x >= 0. By dynamic programming over cuts the
        // optimum of an interval matrix is a whole number; weak duality bounds it from above.
        const n = capacity.length + 1;
        const program = rows(n, [
          ...capacity.map((c, i): [[number, number][], number] => [
            [
              [i, 1],
              [i + 1, 1],
            ],
            c,
          ]),
          ...Array.from({ length: n }, (_, i): [[number, number][], number] => [[[i, -1]], 0]),
        ]);
        const { z } = maximise(program, new Float64Array(n).fill(1), 1e-7);
        for (let r = 0; r < program.bound.length; r++)
          expect(used(program, r, z)).toBeLessThanOrEqual(program.bound[r]! + 1e-3);
        expect(z.reduce((a, b) => a + b, 0)).toBeCloseTo(bestOfChain(capacity), 1);
      }),
    );
  });
});

/** The most that neighbours can sum to: whole numbers suffice, so every value of each is tried in turn. */
function bestOfChain(capacity: number[]): number {
  const most = capacity.reduce((a, b) => Math.max(a, b), 0);
  let best = Array.from({ length: most + 1 }, (_, x) => (x <= capacity[0]! ? x : -Infinity));
  for (let i = 1; i <= capacity.length; i++) {
    best = Array.from({ length: most + 1 }, (_, x) => {
      if (x > (capacity[i] ?? most)) return -Infinity;
      const before = best.slice(0, Math.max(0, capacity[i - 1]! - x + 1));
      return x <= capacity[i - 1]! ? x + Math.max(...before) : -Infinity;
    });
  }
  return Math.max(...best);
}
