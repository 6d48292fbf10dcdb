import { COMMON, sharedWorkspace } from './shared-workspace';

/** A matrix row after row (compressed sparse rows). */
export interface SparseMatrix {
  /** Row r has its entries at start[r] to start[r + 1] - 1 of `index` and `value`. */
  start: ArrayLike<number>;
  /** The column of each entry, numbered from 0. */
  index: ArrayLike<number>;
  value: ArrayLike<number>;
}

const Arrays = sharedWorkspace(
  ({ rows, variables, entries }: { rows: number; variables: number; entries: number }) => ({
    start: new Int32Array(rows + 1),
    index: new Int32Array(entries),
    value: new Float64Array(entries),
    /** The same by columns: column c has its entries at columnStart[c] to columnStart[c + 1] - 1 of `row` and `columnValue`. */
    columnStart: new Int32Array(variables + 1),
    row: new Int32Array(entries),
    columnValue: new Float64Array(entries),
    next: new Int32Array(variables + 1),
  }),
  COMMON,
);

/** A matrix by rows and by columns. One at a time: see {@link sharedWorkspace}. */
export class TwoWayMatrix extends Arrays {
  readonly rows: number;

  /**
   * @param matrix by rows
   * @param position of each of its columns here
   */
  constructor(matrix: SparseMatrix, position: Int32Array) {
    super({ rows: matrix.start.length - 1, variables: position.length, entries: matrix.index.length });
    this.rows = matrix.start.length - 1;
    this.copy(matrix, position);
    this.sortByColumn(position.length);
  }

  private copy(matrix: SparseMatrix, position: Int32Array): void {
    const { start, index, value } = this;
    const { length } = matrix.index;
    for (let r = 0; r <= this.rows; r++) start[r] = matrix.start[r]!;
    for (let k = 0; k < length; k++) index[k] = position[matrix.index[k]!]!;
    for (let k = 0; k < length; k++) value[k] = matrix.value[k]!;
  }

  private sortByColumn(n: number): void {
    const { rows, start, index, value, columnStart, row, columnValue, next } = this;
    const entries = start[rows]!;
    columnStart.fill(0, 0, n + 1);
    for (let k = 0; k < entries; k++) columnStart[index[k]! + 1]!++;
    for (let c = 0; c < n; c++) columnStart[c + 1]! += columnStart[c]!;
    for (let c = 0; c < n; c++) next[c] = columnStart[c]!;
    for (let r = 0; r < rows; r++) {
      const end = start[r + 1]!;
      for (let k = start[r]!; k < end; k++) {
        const e = next[index[k]!]!++;
        row[e] = r;
        columnValue[e] = value[k]!;
      }
    }
  }
}
