import type { Elimination } from './elimination';
import type { TwoWayMatrix } from './sparse-matrix';
import { COMMON, sharedWorkspace } from './shared-workspace';

/** Added to the diagonal, and the least pivot: the matrix may be semidefinite. */
const REGULARISATION = 1e-10;
const MIN_PIVOT = 1e-14;

interface Size {
  rows: number;
  variables: number;
  structure: number;
  products: number;
}

const Arrays = sharedWorkspace(
  ({ rows, variables: n, structure, products }: Size) => ({
    /** D: the weight of each row of A. */
    weight: new Float64Array(rows),
    /** A right-hand side, and its solution. */
    rhs: new Float64Array(n),
    /** Column c of the factor: its diagonal (inverted, since it is only divided by) at start[c], then the others. */
    start: new Int32Array(n + 1),
    row: new Int32Array(structure + n),
    at: new Float64Array(structure + n),
    /** Row r of the factor: its entries left of the diagonal, where in `at`, and where their columns end. */
    left: new Int32Array(n + 1),
    leftAt: new Int32Array(structure),
    leftEnd: new Int32Array(structure),
    /** The products of the entries of each row of A: where each belongs, and which row's. */
    place: new Int32Array(products),
    from: new Int32Array(products),
    product: new Float64Array(products),
    /** The column at hand, by rows. */
    column: new Float64Array(n),
    /** While it is made: where the next of each row goes, and which columns stand in each row. */
    next: new Int32Array(n + 1),
    columnOf: new Int32Array(structure),
  }),
  COMMON,
);

/**
 * The Cholesky factor of A'DA for one A and many D; its structure is known. It is left-looking: column by column,
 * from those to its left (T. A. Davis, Direct Methods for Sparse Linear Systems, 2006, chapter 4). One at a time: see
 * {@link sharedWorkspace}.
 */
export class SparseFactor extends Arrays {
  private readonly n: number;
  private readonly products: number;

  /** @param matrix A, with its columns numbered by their positions */
  constructor(elimination: Elimination, matrix: TwoWayMatrix) {
    const n = elimination.position.length;
    const products = productsIn(matrix);
    super({ rows: matrix.rows, variables: n, structure: elimination.structure.length, products });
    this.n = n;
    this.products = products;
    this.findEntries(elimination);
    this.findProducts(matrix);
  }

  private findEntries({ position, start: begin, structure }: Elimination): void {
    const { n, start, row, left, leftAt, leftEnd, next, columnOf } = this;
    const { length } = structure;
    left.fill(0, 0, n + 1);
    for (let c = 0; c <= n; c++) start[c] = begin[c]! + c;
    for (let k = 0; k < length; k++) left[position[structure[k]!]! + 1]!++;
    for (let r = 0; r < n; r++) left[r + 1]! += left[r]!;
    // Which columns stand in each row, then row after row, so that each column's rows rise.
    for (let r = 0; r < n; r++) next[r] = left[r]!;
    for (let c = 0; c < n; c++)
      for (let k = begin[c]!; k < begin[c + 1]!; k++) columnOf[next[position[structure[k]!]!]!++] = c;
    for (let c = 0; c < n; c++) {
      row[start[c]!] = c;
      next[c] = start[c]! + 1;
    }
    for (let r = 0; r < n; r++) {
      const end = left[r + 1]!;
      for (let e = left[r]!; e < end; e++) {
        const c = columnOf[e]!;
        const k = next[c]!++;
        row[k] = r;
        leftAt[e] = k;
        leftEnd[e] = start[c + 1]!;
      }
    }
  }

  private findProducts(matrix: TwoWayMatrix): void {
    const { n, start, row, next: where, place, from, product } = this;
    const { start: rowStart, index, value, columnStart, row: rowOf, columnValue } = matrix;
    let p = 0;
    for (let c = 0; c < n; c++) {
      const end = start[c + 1]!;
      for (let k = start[c]!; k < end; k++) where[row[k]!] = k;
      const last = columnStart[c + 1]!;
      for (let e = columnStart[c]!; e < last; e++) {
        const r = rowOf[e]!;
        const own = columnValue[e]!;
        const to = rowStart[r + 1]!;
        for (let k = rowStart[r]!; k < to; k++) {
          const other = index[k]!;
          if (other < c) continue;
          place[p] = where[other]!;
          from[p] = r;
          product[p++] = own * value[k]!;
        }
      }
    }
  }

  /** Computes the factor for the diagonal D that is in `weight`, all of it above 0. */
  factor(): void {
    this.fill();
    const { n, start, row, at, left, leftAt, leftEnd, column } = this;
    for (let c = 0; c < n; c++) {
      const first = start[c]!;
      const end = start[c + 1]!;
      for (let k = first; k < end; k++) column[row[k]!] = at[k]!;
      const last = left[c + 1]!;
      for (let e = left[c]!; e < last; e++) {
        const to = leftEnd[e]!;
        const own = at[leftAt[e]!]!;
        for (let k = leftAt[e]!; k < to; k++) column[row[k]!]! -= own * at[k]!;
      }
      const inverse = 1 / Math.sqrt(Math.max(column[c]!, MIN_PIVOT));
      at[first] = inverse;
      for (let k = first + 1; k < end; k++) at[k] = column[row[k]!]! * inverse;
    }
  }

  /** Puts A'DA where its factor will stand. */
  private fill(): void {
    const { n, at, start, place, from, product, products, weight } = this;
    at.fill(0, 0, start[n]!);
    for (let c = 0; c < n; c++) at[start[c]!] = REGULARISATION;
    for (let k = 0; k < products; k++) at[place[k]!]! += weight[from[k]!]! * product[k]!;
  }

  /** Solves A'DA x = rhs in place. */
  solve(): void {
    const { n, at, start, row, rhs } = this;
    for (let c = 0; c < n; c++) {
      const first = start[c]!;
      const end = start[c + 1]!;
      const value = rhs[c]! * at[first]!;
      rhs[c] = value;
      for (let k = first + 1; k < end; k++) rhs[row[k]!]! -= at[k]! * value;
    }
    for (let c = n - 1; c >= 0; c--) {
      const first = start[c]!;
      const end = start[c + 1]!;
      let value = rhs[c]!;
      for (let k = first + 1; k < end; k++) value -= at[k]! * rhs[row[k]!]!;
      rhs[c] = value * at[first]!;
    }
  }
}

/** How many products the entries of all rows have, each pair counted once. */
function productsIn({ rows, start }: TwoWayMatrix): number {
  let count = 0;
  for (let r = 0; r < rows; r++) {
    const entries = start[r + 1]! - start[r]!;
    count += (entries * (entries + 1)) / 2;
  }
  return count;
}
