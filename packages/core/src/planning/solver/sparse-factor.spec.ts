import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { matrixOf } from '../../testing/matrices';
import { eliminate } from './elimination';
import { SparseFactor } from './sparse-factor';
import { TwoWayMatrix, type SparseMatrix } from './sparse-matrix';

type Row = [column: number, value: number][];

/** The factor of a matrix given as it is, and where each of its columns stands then. */
function factorOf(matrix: SparseMatrix, n: number): { factor: SparseFactor; position: Int32Array } {
  const elimination = eliminate(matrix, n);
  const { position } = elimination;
  return { factor: new SparseFactor(elimination, new TwoWayMatrix(matrix, position)), position };
}

/** What solves a right-hand side, for a diagonal. */
function solved(factor: SparseFactor, weight: Float64Array, rhs: Float64Array): Float64Array {
  factor.weight.set(weight);
  factor.factor();
  factor.rhs.set(rhs);
  factor.solve();
  return factor.rhs.slice(0, rhs.length);
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
        const { factor, position } = factorOf(matrixOf(rows), n);
        for (const scale of [1, 0.25]) {
          const weight = Float64Array.from(rows, (_, r) => weights[r]! * (r % 3 === 0 ? scale : 1));
          const right = times(rows, weight, Float64Array.from(x));
          const rhs = new Float64Array(n);
          for (let c = 0; c < n; c++) rhs[position[c]!] = right[c]!;
          const found = solved(factor, weight, rhs);
          for (let c = 0; c < n; c++) expect(found[position[c]!]!).toBeCloseTo(x[c]!, 5);
        }
      }),
      { numRuns: 60 },
    );
  });

  it('is finite where a column stands in no row at all', () => {
    const { factor } = factorOf(matrixOf([[[0, 1]], [[2, 1]]]), 3);
    const x = solved(factor, Float64Array.of(1, 1), Float64Array.of(1, 0, 1));
    expect([...x].every(Number.isFinite)).toBe(true);
  });
});

describe('TwoWayMatrix', () => {
  it('holds by columns what it holds by rows, with the columns in their turns', () => {
    const entry = fc.tuple(fc.integer({ min: 0, max: 7 }), fc.integer({ min: 1, max: 9 }));
    const list = fc.array(fc.uniqueArray(entry, { selector: ([c]) => c, maxLength: 8 }), { maxLength: 12 });
    fc.assert(
      fc.property(list, (given) => {
        const position = Int32Array.of(3, 1, 0, 7, 6, 2, 5, 4);
        const { start, index, value, columnStart, row, columnValue } = new TwoWayMatrix(matrixOf(given), position);
        given.forEach((entries, r) =>
          expect(
            Array.from({ length: entries.length }, (_, k) => [index[start[r]! + k], value[start[r]! + k]]),
          ).toEqual(entries.map(([c, own]) => [position[c], own])),
        );
        for (let c = 0; c < 8; c++) {
          const own = given.flatMap((entries, r) =>
            entries.filter(([of]) => position[of] === c).map(([, v]) => [r, v]),
          );
          const from = columnStart[c]!;
          const length = columnStart[c + 1]! - from;
          expect(Array.from({ length }, (_, k) => [row[from + k], columnValue[from + k]])).toEqual(own);
        }
      }),
      { numRuns: 60 },
    );
  });
});
