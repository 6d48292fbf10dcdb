import { maximise, type Inequalities } from '../solver/linear-program';
import { StreamProgram, type Stream } from './stream-program';
import { sumOf } from '../sum';

/** How precisely a course is computed. */
export interface Precision {
  /** Relative gap to the optimum at which to stop. */
  gap: number;
  /** Most open days in a bucket; the course is linear in capacity on them. */
  bucketDays: number;
}

/** For each class and step, the cumulative units sent by the end of each open day. */
export type Curves = Float64Array[][];

/**
 * The best course of several classes through some streams: as many starts as early as possible, with room for
 * every follow-up in time, until `units` have started in all streams together. It is a linear program in cumulative
 * sums: with people served in order, a follow-up is neither early nor late when
 * F(s - 1, latest day whose follow-up would be late) <= F(s, d) <= F(s - 1, latest day whose delay has passed),
 * and a day is within capacity when the sums of all steps grow by at most that. The starts of all classes of a stream form
 * one curve, of which each class has its part, or nearly so ({@link Stream.deviates}). The streams share one row only: how
 * many start. The days of a bucket form one step of the curve.
 *
 * @param lastStart workday number after which nobody starts
 * @param units units that start; `Infinity` for as many as possible
 * @param care how precisely it is computed
 * @returns for each stream its curves, day by day
 */
export function startCurves(
  streams: readonly Stream[],
  lastStart: number,
  units: number,
  { gap, bucketDays }: Precision,
): Curves[] {
  const models = streams.map((stream) => new StreamProgram(stream, lastStart, bucketDays));
  const scales = streams.map(({ capacity }) => Math.max(1e-9, mean(capacity)));
  const first = models.map(() => 0);
  models.forEach(({ count }, i) => (first[i + 1] = first[i]! + count));
  const n = first[models.length]!;
  const z =
    n === 0
      ? new Float64Array(0)
      : maximise(combinedRows(models, scales, units, n), objectiveOf(models, scales, n), gap).z;
  return models.map((model, i) => {
    const own = z.subarray(first[i]!, first[i + 1]!);
    return model.sums.map((steps) =>
      steps.map((sums) => {
        const ends = new Float64Array(sums.length);
        let reached = 0;
        for (let e = 0; e < ends.length; e++)
          ends[e] = reached = Math.max(reached, model.forms.valueOf(sums[e]!, own) * scales[i]!);
        return model.buckets.byDay(ends);
      }),
    );
  });
}

const mean = (values: Float64Array): number => sumOf(values) / Math.max(1, values.length);

/** The objective: the value of all starts, scaled so that the largest coefficient is 1. */
function objectiveOf(models: readonly StreamProgram[], scales: readonly number[], n: number): Float64Array {
  const c = new Float64Array(n);
  let [at, most] = [0, 1e-9];
  models.forEach((model, i) => {
    for (const value of model.objective()) {
      c[at] = value * scales[i]!;
      most = Math.max(most, c[at++]!);
    }
  });
  return c.map((value) => value / most);
}

/** The rows of all streams, each in its own scale, and the row of total starts, as a part of those wanted. */
function combinedRows(
  models: readonly StreamProgram[],
  scales: readonly number[],
  units: number,
  n: number,
): Inequalities {
  const parts = models.map((model, i) => model.rows(scales[i]!));
  const totals = models.map((model) => model.totals());
  const inAll =
    units < Infinity ? totals.reduce((sum, own) => sum + own.filter((factor) => factor !== 0).length, 0) : 0;
  const [rows, size] = [sumOf(parts.map((p) => p.bound.length)), sumOf(parts.map((p) => p.matrix.index.length))];
  const bound = new Float64Array(rows + (inAll > 0 ? 1 : 0));
  const start = new Int32Array(bound.length + 1);
  const index = new Int32Array(size + inAll);
  const value = new Float64Array(size + inAll);
  let [row, at, first] = [0, 0, 0];
  parts.forEach(({ matrix, bound: own }, i) => {
    value.set(matrix.value, at);
    bound.set(own, row);
    for (let r = 1; r < matrix.start.length; r++) start[++row] = at + matrix.start[r]!;
    const end = matrix.index.length;
    for (let k = 0; k < end; k++) index[at + k] = first + matrix.index[k]!;
    at += end;
    first += models[i]!.count;
  });
  if (inAll === 0) return { n, matrix: { start, index, value }, bound };
  first = 0;
  totals.forEach((own, i) => {
    own.forEach((factor, id) => {
      if (factor === 0) return;
      index[at] = first + id;
      value[at++] = (factor * scales[i]!) / units;
    });
    first += own.length;
  });
  start[row + 1] = at;
  bound[row] = 1;
  return { n, matrix: { start, index, value }, bound };
}
