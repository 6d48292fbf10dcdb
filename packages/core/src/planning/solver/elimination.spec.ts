import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { eliminate } from './elimination';
import { matrixOf } from '../../testing/matrices';

/** Neighbours before anything is eliminated. */
function joinedIn(rows: readonly number[][], n: number): Set<number>[] {
  const joined = Array.from({ length: n }, () => new Set<number>());
  for (const row of rows) for (const a of row) for (const b of row) if (a !== b) joined[a]!.add(b);
  return joined;
}

describe('eliminate', () => {
  it('eliminates a column of least degree next, and gives the structure of the factor', () => {
    const programs = fc
      .integer({ min: 1, max: 90 })
      .chain((n) =>
        fc.tuple(
          fc.constant(n),
          fc.array(fc.uniqueArray(fc.integer({ min: 0, max: n - 1 }), { maxLength: 4 }), { maxLength: 120 }),
        ),
      );
    fc.assert(
      fc.property(programs, ([n, rows]) => {
        const { position, start, structure } = eliminate(matrixOf(rows.map((row) => row.map((c) => [c, 1]))), n);
        expect([...position].sort((a, b) => a - b)).toEqual(Array.from({ length: n }, (_, t) => t));
        const left = joinedIn(rows, n);
        const gone = new Set<number>();
        for (let t = 0; t < n; t++) {
          const column = position.indexOf(t);
          const own = left[column]!;
          expect(own.size).toBe(Math.min(...left.filter((_, other) => !gone.has(other)).map((others) => others.size)));
          const said = Array.from({ length: start[t + 1]! - start[t]! }, (_, k) => structure[start[t]! + k]!);
          expect(said.sort((a, b) => a - b)).toEqual([...own].sort((a, b) => a - b));
          gone.add(column);
          for (const a of own) {
            left[a]!.delete(column);
            for (const b of own) if (a !== b) left[a]!.add(b);
          }
        }
      }),
      { numRuns: 40 },
    );
  });

  it('lets nothing fill up in a tree, whatever its numbers', () => {
    // Each with an edge to the half of its number: eliminated from the leaves, no column has more than one entry.
    const n = 200;
    const edges = Array.from({ length: n - 1 }, (_, i): [number, number][] => [
      [i + 1, 1],
      [i >> 1, 1],
    ]);
    const { structure } = eliminate(matrixOf(edges), n);
    expect(structure.length).toBe(n - 1);
  });
});
