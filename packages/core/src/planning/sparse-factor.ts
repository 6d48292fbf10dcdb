import type { Elimination } from './elimination';
import type { SparseMatrix } from './sparse-matrix';

/** Added to the diagonal, and the least that is left of it: the matrix need not be quite definite. */
const ADDED = 1e-10;
const LEAST = 1e-14;

/**
 * The Cholesky factor of A'DA for one A and many D; what fills up is known. It is computed column by column from those
 * to its left (T. A. Davis, Direct Methods for Sparse Linear Systems, 2006, chapter 4).
 */
export class SparseFactor {
  private readonly n: number;
  /** Column c of the factor: its diagonal (inverted, for it is only ever divided by) at start[c], the others behind. */
  private readonly start: Int32Array;
  private readonly row: Int32Array;
  private readonly at: Float64Array;
  /** Row r of the factor: its entries left of the diagonal, where in `at`, and where their columns end. */
  private readonly left: Int32Array;
  private readonly leftAt: Int32Array;
  private readonly leftEnd: Int32Array;
  /** The products of the entries of each row of A: where each belongs, and which row's. */
  private readonly place: Int32Array;
  private readonly from: Int32Array;
  private readonly product: Float64Array;
  /** The column at hand, by rows. */
  private readonly column: Float64Array;

  /**
   * @param byRow A with its columns numbered by their turns
   * @param byColumn the same by columns
   */
  constructor(elimination: Elimination, byRow: SparseMatrix, byColumn: SparseMatrix) {
    const { turn, start: begin, joined } = elimination;
    const n = (this.n = turn.length);
    const size = joined.length;
    this.start = new Int32Array(n + 1);
    this.left = new Int32Array(n + 1);
    for (let c = 0; c < n; c++) this.start[c + 1] = begin[c + 1]! + c + 1;
    for (let k = 0; k < size; k++) this.left[turn[joined[k]!]! + 1]!++;
    for (let r = 0; r < n; r++) this.left[r + 1]! += this.left[r]!;
    this.at = new Float64Array(size + n);
    this.row = new Int32Array(size + n);
    this.leftAt = new Int32Array(size);
    this.leftEnd = new Int32Array(size);
    this.column = new Float64Array(n);
    // Which columns stand in each row, then row after row, so that each column's rows rise.
    const columnOf = new Int32Array(size);
    const next = this.left.slice();
    for (let c = 0; c < n; c++)
      for (let k = begin[c]!; k < begin[c + 1]!; k++) columnOf[next[turn[joined[k]!]!]!++] = c;
    for (let c = 0; c < n; c++) {
      this.row[this.start[c]!] = c;
      next[c] = this.start[c]! + 1;
    }
    for (let r = 0; r < n; r++) {
      for (let e = this.left[r]!; e < this.left[r + 1]!; e++) {
        const c = columnOf[e]!;
        const k = next[c]!++;
        this.row[k] = r;
        this.leftAt[e] = k;
        this.leftEnd[e] = this.start[c + 1]!;
      }
    }
    const count = productsIn(byRow.start);
    this.place = new Int32Array(count);
    this.from = new Int32Array(count);
    this.product = new Float64Array(count);
    this.findProducts(byRow, byColumn, next);
  }

  private findProducts(byRow: SparseMatrix, byColumn: SparseMatrix, where: Int32Array): void {
    let p = 0;
    for (let c = 0; c < this.n; c++) {
      for (let k = this.start[c]!; k < this.start[c + 1]!; k++) where[this.row[k]!] = k;
      for (let e = byColumn.start[c]!; e < byColumn.start[c + 1]!; e++) {
        const r = byColumn.index[e]!;
        const own = byColumn.value[e]!;
        for (let k = byRow.start[r]!; k < byRow.start[r + 1]!; k++) {
          const other = byRow.index[k]!;
          if (other < c) continue;
          this.place[p] = where[other]!;
          this.from[p] = r;
          this.product[p++] = own * byRow.value[k]!;
        }
      }
    }
  }

  /** Computes the factor for a diagonal D, all of it above 0. */
  factor(weight: Float64Array): void {
    this.fill(weight);
    const { at, n, start, row, left, leftAt, leftEnd, column } = this;
    for (let c = 0; c < n; c++) {
      const first = start[c]!;
      const end = start[c + 1]!;
      for (let k = first; k < end; k++) column[row[k]!] = at[k]!;
      const last = left[c + 1]!;
      for (let e = left[c]!; e < last; e++) {
        const to = leftEnd[e]!;
        let k = leftAt[e]!;
        const factor = at[k]!;
        // Four rows in a turn: arrays are looked at anew in every turn of a loop.
        for (const most = to - 3; k < most; k += 4) {
          column[row[k]!]! -= factor * at[k]!;
          column[row[k + 1]!]! -= factor * at[k + 1]!;
          column[row[k + 2]!]! -= factor * at[k + 2]!;
          column[row[k + 3]!]! -= factor * at[k + 3]!;
        }
        for (; k < to; k++) column[row[k]!]! -= factor * at[k]!;
      }
      const inverse = 1 / Math.sqrt(Math.max(column[c]!, LEAST));
      at[first] = inverse;
      for (let k = first + 1; k < end; k++) at[k] = column[row[k]!]! * inverse;
    }
  }

  /** Puts A'DA where its factor will stand. */
  private fill(weight: Float64Array): void {
    const { at, n, start, place, from, product } = this;
    at.fill(0);
    for (let c = 0; c < n; c++) at[start[c]!] = ADDED;
    for (let k = 0; k < place.length; k++) at[place[k]!]! += weight[from[k]!]! * product[k]!;
  }

  /** Solves for one right side, in place. */
  solve(x: Float64Array): void {
    const { at, n, start, row } = this;
    for (let c = 0; c < n; c++) {
      const first = start[c]!;
      const end = start[c + 1]!;
      const value = x[c]! * at[first]!;
      x[c] = value;
      for (let k = first + 1; k < end; k++) x[row[k]!]! -= at[k]! * value;
    }
    for (let c = n - 1; c >= 0; c--) {
      const first = start[c]!;
      const end = start[c + 1]!;
      let value = x[c]!;
      for (let k = first + 1; k < end; k++) value -= at[k]! * x[row[k]!]!;
      x[c] = value * at[first]!;
    }
  }
}

/** How many products the entries of all rows have, each pair counted once. */
function productsIn(start: ArrayLike<number>): number {
  let count = 0;
  for (let r = 0; r + 1 < start.length; r++) {
    const entries = start[r + 1]! - start[r]!;
    count += (entries * (entries + 1)) / 2;
  }
  return count;
}
