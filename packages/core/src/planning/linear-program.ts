import { eliminate } from './elimination';
import { SparseFactor } from './sparse-factor';
import { transposed, type SparseMatrix } from './sparse-matrix';

/** The inequalities A z <= b of a linear program. */
export interface Inequalities {
  /** A, which has n columns: one for each variable. */
  matrix: SparseMatrix;
  n: number;
  /** b, one for each row. */
  bound: ArrayLike<number>;
}

const MAX_STEPS = 40;

/** Slacks begin at this part of the largest bound at least: far inside, where steps can be long. */
const LEAST_SLACK = 0.5;

/**
 * Maximises c z subject to A z <= b: Mehrotra's predictor-corrector method from an infeasible start
 * (S. Mehrotra, SIAM J. Optim. 2, 1992).
 *
 * @param rows every variable must be bounded by them
 * @param objective c, one for each variable
 * @param tolerance relative gap at which to stop
 * @returns z, feasible to about the tolerance
 */
export function maximise(rows: Inequalities, objective: Float64Array, tolerance: number): Float64Array {
  const state = begin(rows, objective);
  for (let step = 0; step < MAX_STEPS && !isDone(state, tolerance) && advance(state); step++);
  const z = new Float64Array(rows.n);
  for (let i = 0; i < z.length; i++) z[i] = state.z[state.turn[i]!]!;
  return z;
}

/** Variables stand in the order in which they are eliminated. */
interface State {
  /** For each variable as it was numbered, where it stands. */
  turn: Int32Array;
  /** A, and the same by columns. */
  byRow: SparseMatrix;
  byColumn: SparseMatrix;
  m: number;
  objective: Float64Array;
  scale: number;
  z: Float64Array;
  /** Slacks and multipliers of the rows, both above 0; 1 / s and y / s. */
  s: Float64Array;
  y: Float64Array;
  inverse: Float64Array;
  weight: Float64Array;
  /** b - A z - s and c - A'y: what is missing to feasibility. */
  primal: Float64Array;
  dual: Float64Array;
  gap: number;
  factor: SparseFactor;
  /** What is aimed at, and the step towards it. */
  target: Float64Array;
  dz: Float64Array;
  ds: Float64Array;
  dy: Float64Array;
}

function begin(rows: Inequalities, objective: Float64Array): State {
  const { n, matrix, bound } = rows;
  const m = bound.length;
  const elimination = eliminate(matrix, n);
  const { turn } = elimination;
  const byRow = {
    start: new Int32Array(matrix.start),
    index: new Int32Array(matrix.index.length),
    value: new Float64Array(matrix.value),
  };
  for (let k = 0; k < byRow.index.length; k++) byRow.index[k] = turn[matrix.index[k]!]!;
  const byColumn = transposed(byRow, n);
  const factor = new SparseFactor(elimination, byRow, byColumn);
  const scale = Math.max(1, largest(bound));
  const state: State = {
    ...{ turn, byRow, byColumn, m, scale, factor },
    objective: new Float64Array(n),
    z: new Float64Array(n),
    s: new Float64Array(m),
    y: new Float64Array(m).fill(Math.max(1e-6, largest(objective))),
    inverse: new Float64Array(m),
    weight: new Float64Array(m),
    primal: new Float64Array(m),
    dual: new Float64Array(n),
    gap: 0,
    target: new Float64Array(m),
    dz: new Float64Array(n),
    ds: new Float64Array(m),
    dy: new Float64Array(m),
  };
  for (let i = 0; i < n; i++) state.objective[turn[i]!] = objective[i]!;
  for (let r = 0; r < m; r++) {
    state.s[r] = Math.max(bound[r]!, scale * LEAST_SLACK);
    state.primal[r] = bound[r]! - state.s[r]!;
    state.gap += state.s[r]! * state.y[r]!;
  }
  measureDual(state);
  return state;
}

function largest(values: ArrayLike<number>): number {
  let most = 0;
  const { length } = values;
  for (let i = 0; i < length; i++) most = Math.max(most, Math.abs(values[i]!));
  return most;
}

function measureDual({ byColumn: { start, index, value }, objective, dual, y }: State): void {
  for (let i = 0; i < dual.length; i++) {
    const end = start[i + 1]!;
    let rest = objective[i]!;
    for (let k = start[i]!; k < end; k++) rest -= value[k]! * y[index[k]!]!;
    dual[i] = rest;
  }
}

function isDone({ z, objective, gap, primal, scale }: State, tolerance: number): boolean {
  let value = 0;
  for (let i = 0; i < z.length; i++) value += objective[i]! * z[i]!;
  return gap <= tolerance * (1 + Math.abs(value)) && largest(primal) <= Math.max(2e-6, tolerance * scale);
}

/** @returns whether there was a step to take: none when numbers fail, which they do beyond what they can tell apart */
function advance(st: State): boolean {
  const { m, s, y, inverse, weight, target, dz, ds, dy, primal } = st;
  for (let r = 0; r < m; r++) {
    inverse[r] = 1 / s[r]!;
    weight[r] = y[r]! * inverse[r]!;
    target[r] = -s[r]! * y[r]!;
  }
  st.factor.factor(weight);
  direction(st);
  const p = reach(s, ds);
  const d = reach(y, dy);
  let after = 0;
  for (let r = 0; r < m; r++) after += (s[r]! + p * ds[r]!) * (y[r]! + d * dy[r]!);
  // How near the middle to keep, the nearer the less a step straight ahead brings.
  const centre = (after / st.gap) ** 3 * (st.gap / m);
  for (let r = 0; r < m; r++) target[r]! += centre - ds[r]! * dy[r]!;
  direction(st);
  if (!isTellable(st)) return false;
  const primalStep = Math.min(1, 0.995 * reach(s, ds));
  const dualStep = Math.min(1, 0.995 * reach(y, dy));
  for (let i = 0; i < dz.length; i++) st.z[i]! += primalStep * dz[i]!;
  let gap = 0;
  for (let r = 0; r < m; r++) {
    s[r]! += primalStep * ds[r]!;
    y[r]! += dualStep * dy[r]!;
    primal[r]! *= 1 - primalStep;
    gap += s[r]! * y[r]!;
  }
  st.gap = gap;
  measureDual(st);
  return true;
}

/** Whether a direction is made of numbers. */
function isTellable({ dz, ds, dy }: State): boolean {
  let sum = 0;
  for (const step of [dz, ds, dy]) for (const by of step) sum += by;
  return Number.isFinite(sum);
}

/** The Newton direction towards s y = target + s y. */
function direction(st: State): void {
  const { byRow, byColumn, m, inverse, weight, dual, primal, factor, target, dz, ds, dy } = st;
  for (let r = 0; r < m; r++) dy[r] = target[r]! * inverse[r]! - weight[r]! * primal[r]!;
  for (let i = 0; i < dz.length; i++) {
    const end = byColumn.start[i + 1]!;
    let sum = dual[i]!;
    for (let k = byColumn.start[i]!; k < end; k++) sum -= byColumn.value[k]! * dy[byColumn.index[k]!]!;
    dz[i] = sum;
  }
  factor.solve(dz);
  for (let r = 0; r < m; r++) {
    const end = byRow.start[r + 1]!;
    let az = 0;
    for (let k = byRow.start[r]!; k < end; k++) az += byRow.value[k]! * dz[byRow.index[k]!]!;
    ds[r] = primal[r]! - az;
    dy[r]! += weight[r]! * az;
  }
}

/** How far one can go along a direction before a value would fall to 0; at most 1. */
function reach(values: Float64Array, change: Float64Array): number {
  let step = 1;
  for (let r = 0; r < values.length; r++) {
    const by = change[r]!;
    // Few are the nearest: most need no division.
    if (by < 0 && values[r]! + step * by < 0) step = -values[r]! / by;
  }
  return step;
}
