import type { SparseMatrix } from './sparse-matrix';
import { COMMON, sharedWorkspace } from './shared-workspace';

/** An elimination ordering of the columns of A for A'DA = LL', and the structure of L. */
export interface Elimination {
  /** Of each column of A, its position in the ordering, from 0. */
  position: Int32Array;
  /** Rows below the diagonal of L's column t, as columns of A, are at start[t] to start[t + 1] - 1. */
  start: Int32Array;
  structure: ArrayLike<number>;
}

const WORD_BITS = 32;
/** The degree of a column that has been eliminated: more than any other has. */
const ELIMINATED = 0x7fffffff;

const wordsFor = (columns: number): number => Math.ceil(columns / WORD_BITS);

/**
 * Finds an ordering with little fill: the column of least degree is eliminated next (minimum degree;
 * A. George and J. W. H. Liu, Computer Solution of Large Sparse Positive Definite Systems, 1981, chapter 5).
 *
 * @param n number of columns
 */
export function eliminate(matrix: SparseMatrix, n: number): Elimination {
  const left = new EliminationGraph(matrix, n);
  const position = new Int32Array(n);
  const start = new Int32Array(n + 1);
  const structure: number[] = [];
  let least = 0;
  for (let t = 0; t < n; t++) {
    const { column, leastDegree } = left.minimumDegree(least - 1);
    least = leastDegree;
    position[column] = t;
    left.remove(column, structure);
    start[t + 1] = structure.length;
  }
  return { position, start, structure };
}

const Arrays = sharedWorkspace(
  ({ variables: n }: { variables: number }) => ({
    /** Of each column, its neighbours in the elimination graph, a bit each. */
    bits: new Int32Array(n * wordsFor(n)),
    /** How many neighbours. */
    degree: new Int32Array(n),
  }),
  COMMON,
);

/** The elimination graph: columns not yet eliminated, and their neighbours. One at a time: see {@link sharedWorkspace}. */
class EliminationGraph extends Arrays {
  private readonly words: number;

  constructor(
    { start, index }: SparseMatrix,
    private readonly n: number,
  ) {
    super({ variables: n });
    const words = (this.words = wordsFor(n));
    const { bits, degree } = this;
    bits.fill(0, 0, n * words);
    degree.fill(0, 0, n);
    for (let r = 0; r + 1 < start.length; r++) {
      const end = start[r + 1]!;
      for (let a = start[r]!; a < end; a++) for (let b = start[r]!; b < a; b++) this.add(index[a]!, index[b]!);
    }
  }

  private add(a: number, b: number): void {
    const { bits, degree, words } = this;
    const at = a * words + (b >>> 5);
    const bit = 1 << (b & 31);
    if ((bits[at]! & bit) !== 0) return;
    bits[at]! |= bit;
    bits[b * words + (a >>> 5)]! |= 1 << (a & 31);
    degree[a]!++;
    degree[b]!++;
  }

  /** The first column of least degree. @param bound no column has a smaller degree */
  minimumDegree(bound: number): { column: number; leastDegree: number } {
    const { degree, n } = this;
    let [column, leastDegree] = [0, degree[0]!];
    for (let i = 1; i < n && leastDegree > bound; i++) {
      const own = degree[i]!;
      if (own < leastDegree) [column, leastDegree] = [i, own];
    }
    return { column, leastDegree };
  }

  /** Eliminates a column: its neighbours become a clique. @param structure its neighbours are added to it */
  remove(going: number, structure: number[]): void {
    const { bits, degree, words } = this;
    degree[going] = ELIMINATED;
    const begin = structure.length;
    const from = going * words;
    for (let w = 0; w < words; w++)
      for (let left = bits[from + w]!; left !== 0; left &= left - 1)
        structure.push(w * WORD_BITS + 31 - Math.clz32(left & -left));
    const end = structure.length;
    if (begin === end) return;
    const [first, last] = [structure[begin]! >>> 5, structure[end - 1]! >>> 5];
    for (let k = begin; k < end; k++) degree[structure[k]!]! += this.connect(structure[k]!, going, first, last);
  }

  /**
   * Connects a neighbour of an eliminated column to the others of its neighbours, which lie in words `first` to `last`.
   *
   * @returns by how much its degree grows
   */
  private connect(column: number, going: number, first: number, last: number): number {
    const { bits, words } = this;
    const own = column * words;
    const from = going * words;
    bits[own + (going >>> 5)]! &= ~(1 << (going & 31));
    // The edge to the eliminated column goes, and the column itself is among that one's neighbours.
    let more = -2;
    for (let w = first; w <= last; w++) {
      const had = bits[own + w]!;
      const has = had | bits[from + w]!;
      if (has === had) continue;
      more += countOf(has ^ had);
      bits[own + w] = has;
    }
    bits[own + (column >>> 5)]! &= ~(1 << (column & 31));
    return more;
  }
}

/** How many bits are set (H. S. Warren, Hacker's Delight, 2nd edition, 2012, section 5-1). */
function countOf(word: number): number {
  const pairs = word - ((word >>> 1) & 0x55555555);
  const fours = (pairs & 0x33333333) + ((pairs >>> 2) & 0x33333333);
  return Math.imul((fours + (fours >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24;
}
