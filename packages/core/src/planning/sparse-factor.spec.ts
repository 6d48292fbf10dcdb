import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { matrixOf } from '../testing/matrices';
import { eliminate } from './elimination';
import { SparseFactor } from './sparse-factor';
import { transposed, type SparseMatrix } from './sparse-matrix';

type Row = [column: number, value: number][];

/** The factor of a matrix given as it is, and where each of its columns stands then. */
function factorOf(matrix: SparseMatrix, n: number): { factor: SparseFactor; turn: Int32Array } {
  const elimination = eliminate(matrix, n);
  const byRow = { ...matrix, index: Int32Array.from(matrix.index, (c) => elimination.turn[c]!) };
  return { factor: new SparseFactor(elimination, byRow, transposed(byRow, n)), turn: elimination.turn };
}

/** A'DA x. */
function times(rows: readonly Row[], weight: Float64Array, x: Float64Array): Float64Array {
  const out = new Float64Array(x.length);
  rows.forEach((row, r) => {
    const sum = row.reduce((all, [c, value]) => all + value * x[c]!, 0) * weight[r]!;
    for (const [c, value] of row) out[c]! += value * sum;
  });
  return out;
}

describe('SparseFactor', () => {
  const value = fc.double({ min: -3, max: 3, noNaN: true });
  const systems = fc.integer({ min: 1, max: 40 }).chain((n) =>
    fc.record({
      n: fc.constant(n),
      more: fc.array(
        fc.uniqueArray(fc.tuple(fc.integer({ min: 0, max: n - 1 }), value), { selector: ([c]) => c, maxLength: 6 }),
        {
          maxLength: 60,
        },
      ),
      x: fc.array(value, { minLength: n, maxLength: n }),
      weights: fc.array(fc.double({ min: 0.1, max: 10, noNaN: true }), { minLength: n + 60, maxLength: n + 60 }),
    }),
  );

  it('solves what its matrix makes of any numbers, for one diagonal after the other', () => {
    fc.assert(
      fc.property(systems, ({ n, more, x, weights }) => {
        // One row for each column alone: nothing is left undetermined.
        const rows: Row[] = [...Array.from({ length: n }, (_, c): Row => [[c, 1]]), ...more];
        const { factor, turn } = factorOf(matrixOf(rows), n);
        for (const scale of [1, 0.25]) {
          const weight = Float64Array.from(rows, (_, r) => weights[r]! * (r % 3 === 0 ? scale : 1));
          const right = times(rows, weight, Float64Array.from(x));
          const solved = new Float64Array(n);
          for (let c = 0; c < n; c++) solved[turn[c]!] = right[c]!;
          factor.factor(weight);
          factor.solve(solved);
          for (let c = 0; c < n; c++) expect(solved[turn[c]!]!).toBeCloseTo(x[c]!, 5);
        }
      }),
      { numRuns: 60 },
    );
  });

  it('is finite where a column stands in no row at all', () => {
    const { factor } = factorOf(matrixOf([[[0, 1]], [[2, 1]]]), 3);
    factor.factor(Float64Array.of(1, 1));
    const x = Float64Array.of(1, 0, 1);
    factor.solve(x);
    expect([...x].every(Number.isFinite)).toBe(true);
  });
});

describe('transposed', () => {
  it('holds the same by columns, and turned twice the same again', () => {
    const matrix = matrixOf([
      [
        [0, 1],
        [2, 2],
      ],
      [],
      [[2, 3]],
    ]);
    const turned = transposed(matrix, 3);
    expect([...(turned.start as Int32Array)]).toEqual([0, 1, 1, 3]);
    expect([...(turned.index as Int32Array)]).toEqual([0, 0, 2]);
    expect([...(turned.value as Float64Array)]).toEqual([1, 2, 3]);
    const again = transposed(turned, 3);
    expect(Array.from(again.index)).toEqual(matrix.index);
    expect(Array.from(again.value)).toEqual(matrix.value);
  });
});
