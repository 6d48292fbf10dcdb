/** A matrix row after row (compressed sparse rows), or column after column. */
export interface SparseMatrix {
  /** Row r has its entries at start[r] to start[r + 1] - 1 of `index` and `value`. */
  start: ArrayLike<number>;
  /** The column of each entry, numbered from 0. */
  index: ArrayLike<number>;
  value: ArrayLike<number>;
}

/** The same matrix by columns. @param n how many there are */
export function transposed({ start, index, value }: SparseMatrix, n: number): SparseMatrix {
  const out = {
    start: new Int32Array(n + 1),
    index: new Int32Array(index.length),
    value: new Float64Array(index.length),
  };
  const { length } = index;
  for (let k = 0; k < length; k++) out.start[index[k]! + 1]!++;
  for (let i = 0; i < n; i++) out.start[i + 1]! += out.start[i]!;
  const next = out.start.slice();
  for (let r = 0; r + 1 < start.length; r++) {
    for (let k = start[r]!; k < start[r + 1]!; k++) {
      const e = next[index[k]!]!++;
      out.index[e] = r;
      out.value[e] = value[k]!;
    }
  }
  return out;
}
