import { eliminate } from './elimination';
import { SparseFactor } from './sparse-factor';
import { TwoWayMatrix, type SparseMatrix } from './sparse-matrix';
import { COMMON, steadyArrays } from './steady-arrays';

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
  const state = new State(rows, objective);
  for (let step = 0; step < MAX_STEPS && !isDone(state, tolerance) && advance(state); step++);
  return state.found();
}

const Arrays = steadyArrays(
  ({ variables: n, rows: m }: { variables: number; rows: number }) => ({
    objective: new Float64Array(n),
    z: new Float64Array(n),
    /** Slacks and multipliers of the rows, both above 0; 1 / s. */
    s: new Float64Array(m),
    y: new Float64Array(m),
    inverse: new Float64Array(m),
    /** b - A z - s and c - A'y: what is missing to feasibility. */
    primal: new Float64Array(m),
    dual: new Float64Array(n),
    /** What is aimed at, and the step towards it. */
    target: new Float64Array(m),
    ds: new Float64Array(m),
    dy: new Float64Array(m),
  }),
  COMMON,
);

/** Variables stand in the order in which they are eliminated. One at a time: it lies in {@link steadyArrays}. */
class State extends Arrays {
  readonly n: number;
  readonly m: number;
  readonly matrix: TwoWayMatrix;
  /** Its weights are y / s, its side is the step of z. */
  readonly factor: SparseFactor;
  readonly scale: number;
  gap = 0;
  /** For each variable as it was numbered, where it stands. */
  private readonly turn: Int32Array;

  constructor({ n, matrix, bound }: Inequalities, objective: Float64Array) {
    const m = bound.length;
    super({ variables: n, rows: m });
    const elimination = eliminate(matrix, n);
    this.turn = elimination.turn;
    this.matrix = new TwoWayMatrix(matrix, this.turn);
    this.factor = new SparseFactor(elimination, this.matrix);
    this.n = n;
    this.m = m;
    this.scale = Math.max(1, largest(bound, m));
    this.begin(bound, objective);
  }

  private begin(bound: ArrayLike<number>, objective: Float64Array): void {
    const { n, m, s, y, z, primal, turn, scale } = this;
    y.fill(Math.max(1e-6, largest(objective, n)), 0, m);
    z.fill(0, 0, n);
    for (let i = 0; i < n; i++) this.objective[turn[i]!] = objective[i]!;
    for (let r = 0; r < m; r++) {
      s[r] = Math.max(bound[r]!, scale * LEAST_SLACK);
      primal[r] = bound[r]! - s[r]!;
      this.gap += s[r]! * y[r]!;
    }
    measureDual(this);
  }

  /** The variables as they were numbered. */
  found(): Float64Array {
    const out = new Float64Array(this.n);
    for (let i = 0; i < out.length; i++) out[i] = this.z[this.turn[i]!]!;
    return out;
  }
}

/** The largest of the first. */
function largest(values: ArrayLike<number>, length: number): number {
  let most = 0;
  for (let i = 0; i < length; i++) most = Math.max(most, Math.abs(values[i]!));
  return most;
}

function measureDual({ n, objective, dual, y, matrix: { columnStart, row, columnValue } }: State): void {
  for (let i = 0; i < n; i++) {
    const end = columnStart[i + 1]!;
    let rest = objective[i]!;
    for (let k = columnStart[i]!; k < end; k++) rest -= columnValue[k]! * y[row[k]!]!;
    dual[i] = rest;
  }
}

function isDone({ n, m, z, objective, gap, primal, scale }: State, tolerance: number): boolean {
  let value = 0;
  for (let i = 0; i < n; i++) value += objective[i]! * z[i]!;
  return gap <= tolerance * (1 + Math.abs(value)) && largest(primal, m) <= Math.max(2e-6, tolerance * scale);
}

/** @returns whether there was a step to take: none when numbers fail, which they do beyond what they can tell apart */
function advance(st: State): boolean {
  const { n, m, s, y, z, inverse, target, ds, dy, primal, factor } = st;
  const { weight, side: dz } = factor;
  for (let r = 0; r < m; r++) {
    inverse[r] = 1 / s[r]!;
    weight[r] = y[r]! * inverse[r]!;
    target[r] = -s[r]! * y[r]!;
  }
  factor.factor();
  direction(st);
  const [p, d] = [reach(s, ds, m), reach(y, dy, m)];
  let after = 0;
  for (let r = 0; r < m; r++) after += (s[r]! + p * ds[r]!) * (y[r]! + d * dy[r]!);
  // How near the middle to keep, the nearer the less a step straight ahead brings.
  const centre = (after / st.gap) ** 3 * (st.gap / m);
  for (let r = 0; r < m; r++) target[r]! += centre - ds[r]! * dy[r]!;
  direction(st);
  if (!isTellable(st)) return false;
  const primalStep = Math.min(1, 0.995 * reach(s, ds, m));
  const dualStep = Math.min(1, 0.995 * reach(y, dy, m));
  for (let i = 0; i < n; i++) z[i]! += primalStep * dz[i]!;
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
function isTellable({ n, m, ds, dy, factor: { side: dz } }: State): boolean {
  let sum = 0;
  for (let i = 0; i < n; i++) sum += dz[i]!;
  for (let r = 0; r < m; r++) sum += ds[r]! + dy[r]!;
  return Number.isFinite(sum);
}

/** The Newton direction towards s y = target + s y. */
function direction({ n, m, inverse, dual, primal, target, ds, dy, factor, matrix }: State): void {
  const { start, index, value, columnStart, row, columnValue } = matrix;
  const { weight, side: dz } = factor;
  for (let r = 0; r < m; r++) dy[r] = target[r]! * inverse[r]! - weight[r]! * primal[r]!;
  for (let i = 0; i < n; i++) {
    const end = columnStart[i + 1]!;
    let sum = dual[i]!;
    for (let k = columnStart[i]!; k < end; k++) sum -= columnValue[k]! * dy[row[k]!]!;
    dz[i] = sum;
  }
  factor.solve();
  for (let r = 0; r < m; r++) {
    const end = start[r + 1]!;
    let az = 0;
    for (let k = start[r]!; k < end; k++) az += value[k]! * dz[index[k]!]!;
    ds[r] = primal[r]! - az;
    dy[r]! += weight[r]! * az;
  }
}

/** How far one can go along a direction before one of the first m values would fall to 0; at most 1. */
function reach(values: Float64Array, change: Float64Array, m: number): number {
  let step = 1;
  for (let r = 0; r < m; r++) {
    const by = change[r]!;
    // Few are the nearest: most need no division.
    if (by < 0 && values[r]! + step * by < 0) step = -values[r]! / by;
  }
  return step;
}
