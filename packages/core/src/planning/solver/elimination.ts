import type { SparseMatrix } from './sparse-matrix';
import { COMMON, steadyArrays } from './steady-arrays';

/** In which order the columns of a matrix A are eliminated from A'A, and what each is joined to then. */
export interface Elimination {
  /** When each column is eliminated: its turn, from 0. */
  turn: Int32Array;
  /** The columns that the one of turn t is joined to, of later turns all, are at start[t] to start[t + 1] - 1. */
  start: Int32Array;
  joined: ArrayLike<number>;
}

const WORD_BITS = 32;
/** More than any column is joined to. */
const GONE = 0x7fffffff;

const wordsFor = (columns: number): number => Math.ceil(columns / WORD_BITS);

/**
 * Finds an order in which little fills up: always the column next that is joined to the fewest others (minimum degree;
 * A. George and J. W. H. Liu, Computer Solution of Large Sparse Positive Definite Systems, 1981, chapter 5).
 *
 * @param n number of columns
 */
export function eliminate(matrix: SparseMatrix, n: number): Elimination {
  const left = new Joined(matrix, n);
  const turn = new Int32Array(n);
  const start = new Int32Array(n + 1);
  const joined: number[] = [];
  let least = 0;
  for (let t = 0; t < n; t++) {
    const { column, others } = left.fewest(least - 1);
    least = others;
    turn[column] = t;
    left.remove(column, joined);
    start[t + 1] = joined.length;
  }
  return { turn, start, joined };
}

const Arrays = steadyArrays(
  ({ variables: n }: { variables: number }) => ({
    /** For each column those that it is joined to, a bit each. */
    bits: new Int32Array(n * wordsFor(n)),
    /** To how many. */
    degree: new Int32Array(n),
  }),
  COMMON,
);

/** Which columns are still there, and to which others each is joined. One at a time: it lies in {@link steadyArrays}. */
class Joined extends Arrays {
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

  /** The first of those joined to the fewest others; none is to fewer than `bound`. */
  fewest(bound: number): { column: number; others: number } {
    const { degree, n } = this;
    let [column, others] = [0, degree[0]!];
    for (let i = 1; i < n && others > bound; i++) {
      const own = degree[i]!;
      if (own < others) [column, others] = [i, own];
    }
    return { column, others };
  }

  /** Joins all to one another that one is joined to, which goes. @param joined gets these */
  remove(going: number, joined: number[]): void {
    const { bits, degree, words } = this;
    degree[going] = GONE;
    const begin = joined.length;
    const from = going * words;
    for (let w = 0; w < words; w++)
      for (let left = bits[from + w]!; left !== 0; left &= left - 1)
        joined.push(w * WORD_BITS + 31 - Math.clz32(left & -left));
    const end = joined.length;
    if (begin === end) return;
    const [first, last] = [joined[begin]! >>> 5, joined[end - 1]! >>> 5];
    for (let k = begin; k < end; k++) degree[joined[k]!]! += this.join(joined[k]!, going, first, last);
  }

  /** Joins a column to all that one is joined to which goes, from word `first` to `last`. @returns to how many more it then is */
  private join(column: number, going: number, first: number, last: number): number {
    const { bits, words } = this;
    const own = column * words;
    const from = going * words;
    bits[own + (going >>> 5)]! &= ~(1 << (going & 31));
    // Not to the one that goes, and not to itself, which that one is joined to.
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
