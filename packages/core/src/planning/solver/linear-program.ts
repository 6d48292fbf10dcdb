import { eliminate } from './elimination';
import { SparseFactor } from './sparse-factor';
import { TwoWayMatrix, type SparseMatrix } from './sparse-matrix';
import { COMMON, sharedWorkspace } from './shared-workspace';

/** The inequalities A z <= b of a linear program. */
export interface Inequalities {
  /** A, which has n columns: one for each variable. */
  matrix: SparseMatrix;
  n: number;
  /** b, one for each row. */
  bound: ArrayLike<number>;
}

/** What comes of a linear program; README.md says what each status means. */
export interface Solution {
  z: Float64Array;
  status: 'solved' | 'step_limit' | 'numerical_failure';
}

const MAX_STEPS = 40;

/** Slacks start at this part of the largest bound at least: well inside, where steps can be long. */
const MIN_SLACK = 0.5;

/**
 * Maximises c z subject to A z <= b: Mehrotra's predictor-corrector method from an infeasible start
 * (S. Mehrotra, SIAM J. Optim. 2, 1992).
 *
 * @param rows every variable must be bounded by them
 * @param objective c, one for each variable
 * @param tolerance relative gap at which to stop
 * @returns z, feasible to about the tolerance where it is `solved`; else the last iterate
 */
export function maximise(rows: Inequalities, objective: Float64Array, tolerance: number): Solution {
  const state = new State(rows, objective);
  let status: Solution['status'] = 'step_limit';
  for (let step = 0; step <= MAX_STEPS; step++) {
    if (hasConverged(state, tolerance)) status = 'solved';
    else if (step < MAX_STEPS) {
      if (iterate(state)) continue;
      status = 'numerical_failure';
    }
    break;
  }
  return { z: state.solution(), status };
}

const Arrays = sharedWorkspace(
  ({ variables: n, rows: m }: { variables: number; rows: number }) => ({
    objective: new Float64Array(n),
    z: new Float64Array(n),
    /** Slacks and multipliers of the rows, both above 0; 1 / s. */
    s: new Float64Array(m),
    y: new Float64Array(m),
    inverse: new Float64Array(m),
    /** b - A z - s and c - A'y. */
    primalResidual: new Float64Array(m),
    dualResidual: new Float64Array(n),
    /** What s y is to become, less s y; the step of s and y. */
    target: new Float64Array(m),
    ds: new Float64Array(m),
    dy: new Float64Array(m),
  }),
  COMMON,
);

/** The iterate, its variables in the elimination ordering. One at a time: see {@link sharedWorkspace}. */
class State extends Arrays {
  readonly n: number;
  readonly m: number;
  readonly matrix: TwoWayMatrix;
  /** Its weights are y / s; its right-hand side becomes the step of z. */
  readonly factor: SparseFactor;
  readonly scale: number;
  complementarity = 0;
  /** Of each variable, its position in the elimination ordering. */
  private readonly position: Int32Array;

  constructor({ n, matrix, bound }: Inequalities, objective: Float64Array) {
    const m = bound.length;
    super({ variables: n, rows: m });
    const elimination = eliminate(matrix, n);
    this.position = elimination.position;
    this.matrix = new TwoWayMatrix(matrix, this.position);
    this.factor = new SparseFactor(elimination, this.matrix);
    this.n = n;
    this.m = m;
    this.scale = Math.max(1, maxNorm(bound, m));
    this.initialise(bound, objective);
  }

  private initialise(bound: ArrayLike<number>, objective: Float64Array): void {
    const { n, m, s, y, z, primalResidual, position, scale } = this;
    y.fill(Math.max(1e-6, maxNorm(objective, n)), 0, m);
    z.fill(0, 0, n);
    for (let i = 0; i < n; i++) this.objective[position[i]!] = objective[i]!;
    for (let r = 0; r < m; r++) {
      s[r] = Math.max(bound[r]!, scale * MIN_SLACK);
      primalResidual[r] = bound[r]! - s[r]!;
      this.complementarity += s[r]! * y[r]!;
    }
    updateDualResidual(this);
  }

  /** z, its variables numbered as they were given. */
  solution(): Float64Array {
    const out = new Float64Array(this.n);
    for (let i = 0; i < out.length; i++) out[i] = this.z[this.position[i]!]!;
    return out;
  }
}

/** The maximum norm of the first `length` values. */
function maxNorm(values: ArrayLike<number>, length: number): number {
  let most = 0;
  for (let i = 0; i < length; i++) most = Math.max(most, Math.abs(values[i]!));
  return most;
}

function updateDualResidual({ n, objective, dualResidual, y, matrix: { columnStart, row, columnValue } }: State): void {
  for (let i = 0; i < n; i++) {
    const end = columnStart[i + 1]!;
    let rest = objective[i]!;
    for (let k = columnStart[i]!; k < end; k++) rest -= columnValue[k]! * y[row[k]!]!;
    dualResidual[i] = rest;
  }
}

function hasConverged(
  { n, m, z, objective, complementarity, primalResidual, scale }: State,
  tolerance: number,
): boolean {
  let value = 0;
  for (let i = 0; i < n; i++) value += objective[i]! * z[i]!;
  return (
    complementarity <= tolerance * (1 + Math.abs(value)) &&
    maxNorm(primalResidual, m) <= Math.max(2e-6, tolerance * scale)
  );
}

/** One predictor-corrector step. @returns false where rounding errors leave no finite direction */
function iterate(st: State): boolean {
  const { n, m, s, y, z, inverse, target, ds, dy, primalResidual, factor } = st;
  const { weight, rhs: dz } = factor;
  for (let r = 0; r < m; r++) {
    inverse[r] = 1 / s[r]!;
    weight[r] = y[r]! * inverse[r]!;
    target[r] = -s[r]! * y[r]!;
  }
  factor.factor();
  newtonDirection(st);
  const [p, d] = [stepToBoundary(s, ds, m), stepToBoundary(y, dy, m)];
  let after = 0;
  for (let r = 0; r < m; r++) after += (s[r]! + p * ds[r]!) * (y[r]! + d * dy[r]!);
  // The centring parameter: the less the predictor step brings, the nearer to the central path.
  const centre = (after / st.complementarity) ** 3 * (st.complementarity / m);
  for (let r = 0; r < m; r++) target[r]! += centre - ds[r]! * dy[r]!;
  newtonDirection(st);
  if (!isFiniteStep(st)) return false;
  const primalStep = Math.min(1, 0.995 * stepToBoundary(s, ds, m));
  const dualStep = Math.min(1, 0.995 * stepToBoundary(y, dy, m));
  for (let i = 0; i < n; i++) z[i]! += primalStep * dz[i]!;
  let complementarity = 0;
  for (let r = 0; r < m; r++) {
    s[r]! += primalStep * ds[r]!;
    y[r]! += dualStep * dy[r]!;
    primalResidual[r]! *= 1 - primalStep;
    complementarity += s[r]! * y[r]!;
  }
  st.complementarity = complementarity;
  updateDualResidual(st);
  return true;
}

/** Whether all of a direction is finite. */
function isFiniteStep({ n, m, ds, dy, factor: { rhs: dz } }: State): boolean {
  let sum = 0;
  for (let i = 0; i < n; i++) sum += dz[i]!;
  for (let r = 0; r < m; r++) sum += ds[r]! + dy[r]!;
  return Number.isFinite(sum);
}

/** The Newton direction towards s y = target + s y, by the normal equations. */
function newtonDirection({ n, m, inverse, dualResidual, primalResidual, target, ds, dy, factor, matrix }: State): void {
  const { start, index, value, columnStart, row, columnValue } = matrix;
  const { weight, rhs: dz } = factor;
  for (let r = 0; r < m; r++) dy[r] = target[r]! * inverse[r]! - weight[r]! * primalResidual[r]!;
  for (let i = 0; i < n; i++) {
    const end = columnStart[i + 1]!;
    let sum = dualResidual[i]!;
    for (let k = columnStart[i]!; k < end; k++) sum -= columnValue[k]! * dy[row[k]!]!;
    dz[i] = sum;
  }
  factor.solve();
  for (let r = 0; r < m; r++) {
    const end = start[r + 1]!;
    let az = 0;
    for (let k = start[r]!; k < end; k++) az += value[k]! * dz[index[k]!]!;
    ds[r] = primalResidual[r]! - az;
    dy[r]! += weight[r]! * az;
  }
}

/** The longest step along a direction, at most 1, at which none of the first m values falls below 0. */
function stepToBoundary(values: Float64Array, change: Float64Array, m: number): number {
  let step = 1;
  for (let r = 0; r < m; r++) {
    const by = change[r]!;
    // Most values are not the nearest to 0, and need no division.
    if (by < 0 && values[r]! + step * by < 0) step = -values[r]! / by;
  }
  return step;
}
