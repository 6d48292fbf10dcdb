import type { SparseMatrix } from './sparse-matrix';

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

/**
 * Finds an order in which little fills up: always the column next that is joined to the fewest others (minimum degree;
 * A. George and J. W. H. Liu, Computer Solution of Large Sparse Positive Definite Systems, 1981, chapter 5).
 *
 * @param n number of columns
 */
export function eliminate({ start, index }: SparseMatrix, n: number): Elimination {
  const words = Math.ceil(n / WORD_BITS);
  const bits = bitsOf(start, index, n, words);
  const degree = new Int32Array(n);
  for (let i = 0; i < n; i++) for (let w = 0; w < words; w++) degree[i]! += countOf(bits[i * words + w]!);
  const turn = new Int32Array(n);
  const begin = new Int32Array(n + 1);
  const joined: number[] = [];
  let least = 0;
  for (let t = 0; t < n; t++) {
    const next = leastOf(degree, least - 1);
    least = degree[next]!;
    degree[next] = GONE;
    turn[next] = t;
    const from = next * words;
    for (let w = 0; w < words; w++)
      for (let left = bits[from + w]!; left !== 0; left &= left - 1)
        joined.push(w * WORD_BITS + 31 - Math.clz32(left & -left));
    begin[t + 1] = joined.length;
    for (let k = begin[t]!; k < joined.length; k++)
      degree[joined[k]!]! += join(bits, joined[k]!, next, words, joined[begin[t]!]! >>> 5, joined.at(-1)! >>> 5);
  }
  return { turn, start: begin, joined };
}

/** For each column those that stand in a row with it, a bit each. */
function bitsOf(start: ArrayLike<number>, index: ArrayLike<number>, n: number, words: number): Int32Array {
  const bits = new Int32Array(n * words);
  for (let r = 0; r + 1 < start.length; r++) {
    for (let a = start[r]!; a < start[r + 1]!; a++) {
      const own = index[a]! * words;
      for (let b = start[r]!; b < start[r + 1]!; b++)
        if (a !== b) bits[own + (index[b]! >>> 5)]! |= 1 << (index[b]! & 31);
    }
  }
  return bits;
}

/** Joins a column to all that one is joined to which goes, from word `first` to `last`. @returns to how many more it then is */
function join(bits: Int32Array, column: number, going: number, words: number, first: number, last: number): number {
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

/** The first of the least; none is less than `bound`. */
function leastOf(degree: Int32Array, bound: number): number {
  let [at, least] = [0, degree[0]!];
  for (let i = 1; i < degree.length && least > bound; i++) {
    const own = degree[i]!;
    if (own < least) [at, least] = [i, own];
  }
  return at;
}

/** How many bits are set (H. S. Warren, Hacker's Delight, 2nd edition, 2012, section 5-1). */
function countOf(word: number): number {
  const pairs = word - ((word >>> 1) & 0x55555555);
  const fours = (pairs & 0x33333333) + ((pairs >>> 2) & 0x33333333);
  return Math.imul((fours + (fours >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24;
}
