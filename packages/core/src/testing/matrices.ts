import type { SparseMatrix } from '../planning/solver/sparse-matrix';

/** A matrix of rows written out, for tests. */
export function matrixOf(rows: readonly (readonly (readonly [column: number, value: number])[])[]): SparseMatrix {
  const start = [0];
  for (const row of rows) start.push(start.at(-1)! + row.length);
  const entries = rows.flat();
  return { start, index: entries.map(([column]) => column), value: entries.map(([, value]) => value) };
}
