/** The inequalities A z <= b of a linear program, row after row (compressed sparse rows). */
export interface Inequalities {
  /** Number of variables; column numbers run from 0 to n - 1. */
  n: number;
  /** Row r has its entries at start[r] to start[r + 1] - 1 of `column` and `value`. */
  start: number[];
  column: number[];
  value: number[];
  /** b, one for each row. */
  bound: number[];
}

const MAX_STEPS = 40;

/**
 * Maximises c z subject to A z <= b, for programs whose rows join only variables of near numbers, such as
 * plans that look a few days ahead. Mehrotra's predictor-corrector method from an infeasible start
 * (S. Mehrotra, SIAM J. Optim. 2, 1992) with a Cholesky factor of A'DA within its envelope; a step
 * costs about n times the square of the envelope's width.
 *
 * @param rows every variable must be bounded by them
 * @param objective c, one for each variable
 * @param tolerance relative gap at which to stop
 * @returns z, feasible to about the tolerance
 */
export function maximise(rows: Inequalities, objective: Float64Array, tolerance: number): Float64Array {
  const state = begin(rows, objective);
  for (let step = 0; step < MAX_STEPS && !isDone(state, tolerance); step++) advance(state);
  return state.z;
}

interface State {
  /** The rows, packed. */
  start: Int32Array;
  column: Int32Array;
  value: Float64Array;
  bound: Float64Array;
  m: number;
  objective: Float64Array;
  scale: number;
  z: Float64Array;
  /** Slacks and multipliers of the rows, both above 0. */
  s: Float64Array;
  y: Float64Array;
  /** b - A z - s and c - A'y: what is missing to feasibility. */
  primal: Float64Array;
  dual: Float64Array;
  gap: number;
  normal: EnvelopeMatrix;
  /** What is aimed at, and the step towards it. */
  target: Float64Array;
  dz: Float64Array;
  ds: Float64Array;
  dy: Float64Array;
}

function begin(rows: Inequalities, objective: Float64Array): State {
  const m = rows.bound.length;
  const scale = Math.max(
    1,
    rows.bound.reduce((most, b) => Math.max(most, Math.abs(b)), 0),
  );
  const state: State = {
    ...{ m, objective, scale },
    start: Int32Array.from(rows.start),
    column: Int32Array.from(rows.column),
    value: Float64Array.from(rows.value),
    bound: Float64Array.from(rows.bound),
    z: new Float64Array(rows.n),
    s: Float64Array.from(rows.bound, (b) => Math.max(b, scale * 0.1)),
    y: new Float64Array(m).fill(largest(objective)),
    primal: new Float64Array(m),
    dual: new Float64Array(rows.n),
    gap: Infinity,
    normal: new EnvelopeMatrix(rows),
    target: new Float64Array(m),
    dz: new Float64Array(rows.n),
    ds: new Float64Array(m),
    dy: new Float64Array(m),
  };
  measure(state);
  return state;
}

const largest = (values: Float64Array): number => values.reduce((most, v) => Math.max(most, Math.abs(v)), 1e-6);

function measure(st: State): void {
  const { start, column, value, bound, m, z, s, y, dual, primal } = st;
  dual.set(st.objective);
  let gap = 0;
  for (let r = 0; r < m; r++) {
    const yr = y[r]!;
    const end = start[r + 1]!;
    let az = 0;
    for (let k = start[r]!; k < end; k++) {
      az += value[k]! * z[column[k]!]!;
      dual[column[k]!]! -= value[k]! * yr;
    }
    primal[r] = bound[r]! - az - s[r]!;
    gap += s[r]! * yr;
  }
  st.gap = gap;
}

function isDone(st: State, tolerance: number): boolean {
  let value = 0;
  for (let i = 0; i < st.z.length; i++) value += st.objective[i]! * st.z[i]!;
  const missing = largest(st.primal);
  return st.gap <= tolerance * (1 + Math.abs(value)) && missing <= Math.max(2e-6, tolerance * st.scale);
}

function advance(st: State): void {
  const { m, s, y, normal, target, dz, ds, dy } = st;
  normal.clear();
  normal.addOuter(y, s);
  normal.factor();
  const mu = st.gap / m;
  for (let r = 0; r < m; r++) target[r] = -s[r]! * y[r]!;
  direction(st);
  const p = reach(s, ds);
  const d = reach(y, dy);
  let after = 0;
  for (let r = 0; r < m; r++) after += (s[r]! + p * ds[r]!) * (y[r]! + d * dy[r]!);
  const sigma = (after / m / mu) ** 3;
  for (let r = 0; r < m; r++) target[r] = sigma * mu - s[r]! * y[r]! - ds[r]! * dy[r]!;
  direction(st);
  const primalStep = Math.min(1, 0.995 * reach(s, ds));
  const dualStep = Math.min(1, 0.995 * reach(y, dy));
  for (let i = 0; i < dz.length; i++) st.z[i]! += primalStep * dz[i]!;
  for (let r = 0; r < m; r++) {
    s[r]! += primalStep * ds[r]!;
    y[r]! += dualStep * dy[r]!;
  }
  measure(st);
}

/** The Newton direction towards s y = target + s y. */
function direction({ start, column, value, m, s, y, dual, primal, normal, target, dz, ds, dy }: State): void {
  dz.set(dual);
  for (let r = 0; r < m; r++) {
    const step = (target[r]! - y[r]! * primal[r]!) / s[r]!;
    const end = start[r + 1]!;
    dy[r] = step;
    for (let k = start[r]!; k < end; k++) dz[column[k]!]! -= value[k]! * step;
  }
  normal.solve(dz);
  for (let r = 0; r < m; r++) {
    const end = start[r + 1]!;
    let az = 0;
    for (let k = start[r]!; k < end; k++) az += value[k]! * dz[column[k]!]!;
    ds[r] = primal[r]! - az;
    dy[r]! += (y[r]! / s[r]!) * az;
  }
}

/** How far one can go along a direction before a value would fall to 0; at most 1. */
function reach(values: Float64Array, change: Float64Array): number {
  let step = 1;
  for (let r = 0; r < values.length; r++) if (change[r]! < 0) step = Math.min(step, -values[r]! / change[r]!);
  return step;
}

/**
 * A symmetric positive definite matrix A'DA by its envelope: of each row what stands from its first entry to the
 * diagonal, which is all that its factor fills (A. George and J. W. H. Liu, Computer Solution of Large Sparse Positive
 * Definite Systems, 1981, chapter 4).
 */
class EnvelopeMatrix {
  private readonly n: number;
  /** The column in which each row begins. */
  private readonly low: Int32Array;
  /** Where column 0 of each row would stand in `at`. */
  private readonly base: Int32Array;
  private readonly at: Float64Array;
  /** For each row of A, where the products of its entries belong, and the products. */
  private readonly pairStart: Int32Array;
  private readonly place: Int32Array;
  private readonly product: Float64Array;

  constructor(rows: Inequalities) {
    const { n, start, column, value } = rows;
    this.n = n;
    this.low = lowsOf(rows);
    this.base = new Int32Array(n);
    let size = 0;
    for (let i = 0; i < n; i++) {
      this.base[i] = size - this.low[i]!;
      size += i - this.low[i]! + 1;
    }
    this.at = new Float64Array(size);
    this.pairStart = new Int32Array(start.length);
    const place: number[] = [];
    const product: number[] = [];
    for (let r = 0; r + 1 < start.length; r++) {
      for (let a = start[r]!; a < start[r + 1]!; a++) {
        for (let b = start[r]!; b < start[r + 1]!; b++) {
          if (column[b]! > column[a]!) continue;
          place.push(this.base[column[a]!]! + column[b]!);
          product.push(value[a]! * value[b]!);
        }
      }
      this.pairStart[r + 1] = place.length;
    }
    this.place = Int32Array.from(place);
    this.product = Float64Array.from(product);
  }

  clear(): void {
    this.at.fill(0);
    for (let i = 0; i < this.n; i++) this.at[this.base[i]! + i] = 1e-10;
  }

  /** Adds A'DA with D = y / s. */
  addOuter(y: Float64Array, s: Float64Array): void {
    const { at, pairStart, place, product } = this;
    for (let r = 0; r + 1 < pairStart.length; r++) {
      const weight = y[r]! / s[r]!;
      const end = pairStart[r + 1]!;
      for (let k = pairStart[r]!; k < end; k++) at[place[k]!]! += weight * product[k]!;
    }
  }

  /** Replaces the matrix by its Cholesky factor. The diagonal is kept inverted: it is only ever divided by. */
  factor(): void {
    const { at, n, low, base } = this;
    for (let i = 0; i < n; i++) {
      const row = base[i]!;
      const first = low[i]!;
      for (let j = first; j < i; j++) {
        const other = base[j]!;
        const end = row + j;
        const away = other - row;
        let k = row + Math.max(first, low[j]!);
        // Four sums beside each other: one would wait for itself at every step.
        let a = at[end]!;
        let b = 0;
        let c = 0;
        let d = 0;
        for (const most = end - 3; k < most; k += 4) {
          a -= at[k]! * at[k + away]!;
          b -= at[k + 1]! * at[k + 1 + away]!;
          c -= at[k + 2]! * at[k + 2 + away]!;
          d -= at[k + 3]! * at[k + 3 + away]!;
        }
        for (; k < end; k++) a -= at[k]! * at[k + away]!;
        at[end] = (a + b + (c + d)) * at[other + j]!;
      }
      const end = row + i;
      let rest = at[end]!;
      for (let k = row + first; k < end; k++) rest -= at[k]! * at[k]!;
      at[end] = 1 / Math.sqrt(Math.max(rest, 1e-14));
    }
  }

  /** Solves for one right side, in place. */
  solve(x: Float64Array): void {
    const { at, n, low, base } = this;
    for (let i = 0; i < n; i++) {
      const row = base[i]!;
      let sum = x[i]!;
      for (let k = low[i]!; k < i; k++) sum -= at[row + k]! * x[k]!;
      x[i] = sum * at[row + i]!;
    }
    for (let i = n - 1; i >= 0; i--) {
      const row = base[i]!;
      x[i]! *= at[row + i]!;
      const xi = x[i]!;
      for (let k = low[i]!; k < i; k++) x[k]! -= at[row + k]! * xi;
    }
  }
}

/** For each variable the lowest one that stands in a row with it. */
function lowsOf({ n, start, column }: Inequalities): Int32Array {
  const low = Int32Array.from({ length: n }, (_, i) => i);
  for (let r = 0; r + 1 < start.length; r++) {
    let least = Infinity;
    for (let k = start[r]!; k < start[r + 1]!; k++) least = Math.min(least, column[k]!);
    for (let k = start[r]!; k < start[r + 1]!; k++) low[column[k]!] = Math.min(low[column[k]!]!, least);
  }
  return low;
}
