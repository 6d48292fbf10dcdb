import { LinearForms, RowBuilder } from './linear-forms';
import { maximise, type Inequalities } from './linear-program';

/** Delay and tolerance of one step, in working days. */
export interface StepDelay {
  delay: number;
  tolerance: number;
}

/** One stream of capacity and who shares it. */
export interface Stream {
  /** Number of working days up to and with each open day; rising. */
  workday: ArrayLike<number>;
  /** Units on each open day, 0 or more; fractions allowed. */
  capacity: Float64Array;
  /** Units of people who may have started by the end of each open day, or null where that is no bound. */
  available: ArrayLike<number> | null;
  /**
   * For each kind of people its steps, its part of the starts of each open day (parts add up to 1), and how many of them
   * there are, in units.
   */
  kinds: { steps: readonly StepDelay[]; part: ArrayLike<number>; most?: number }[];
  /**
   * Whether each kind may be ahead of its part or behind it for a while ({@link LEANING}), where several start and
   * `most` is said of all. It finds slightly better courses and costs about twice the time.
   */
  leans?: boolean;
}

/** How far the starts of a kind may be from its part of them all: in mean days of capacity, and as a part of its people. */
const LEANING = { days: 0.1, people: 0.01 };

/** For each kind and step, the units sent by the end of each open day. */
export type Curves = Float64Array[][];

/**
 * The best course of several kinds of people through some streams: as many starts as early as can be, so that all
 * follow-ups fit in time, until `units` have started in all streams together. It is a linear program in cumulative sums:
 * with people served in order, a follow-up is neither early nor late when
 * F(s - 1, latest day that is over tolerance) <= F(s, d) <= F(s - 1, latest day whose delay has passed),
 * and a day is not overfull when the sums of all steps grow by its capacity at most. The starts of all kinds of a stream
 * are one curve, of which each kind has its part, or nearly ({@link LEANING}). The streams have nothing in common but
 * the one row of how many start.
 *
 * @param lastStart workday number after which nobody starts
 * @param units units that start; `Infinity` for as many as can
 * @param tolerance relative gap at which to stop
 * @returns for each stream its curves
 */
export function startCurves(streams: readonly Stream[], lastStart: number, units: number, tolerance: number): Curves[] {
  const models = streams.map((stream) => new Model(stream, lastStart));
  const scales = streams.map(({ capacity }) => Math.max(1e-9, mean(capacity)));
  const first = models.map(() => 0);
  models.forEach(({ count }, i) => (first[i + 1] = first[i]! + count));
  const n = first[models.length]!;
  const z =
    n === 0
      ? new Float64Array(0)
      : maximise(joined(models, scales, units, n), objectiveOf(models, scales, n), tolerance);
  return models.map((model, i) => {
    const own = z.subarray(first[i]!, first[i + 1]!);
    return model.sums.map((steps) =>
      steps.map((sums) => {
        let reached = 0;
        return Float64Array.from(
          sums,
          (sum) => (reached = Math.max(reached, model.forms.valueOf(sum, own) * scales[i]!)),
        );
      }),
    );
  });
}

const mean = (values: Float64Array): number => values.reduce((a, b) => a + b, 0) / Math.max(1, values.length);

/** What all starts are worth, the most of a variable being 1. */
function objectiveOf(models: readonly Model[], scales: readonly number[], n: number): Float64Array {
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

/** The rows of all streams, each in its own scale, and that of how many start, as a part of those wanted. */
function joined(models: readonly Model[], scales: readonly number[], units: number, n: number): Inequalities {
  const [start, index, value, bound]: [number[], number[], number[], number[]] = [[0], [], [], []];
  const total: { index: number[]; value: number[] } = { index: [], value: [] };
  let first = 0;
  models.forEach((model, i) => {
    const { matrix, bound: own } = model.rows(scales[i]!);
    const before = index.length;
    for (let r = 1; r < matrix.start.length; r++) start.push(before + matrix.start[r]!);
    for (let k = 0; k < matrix.index.length; k++) {
      index.push(first + matrix.index[k]!);
      value.push(matrix.value[k]!);
    }
    for (const most of Array.from(own)) bound.push(most);
    model.totals().forEach((factor, id) => {
      if (factor === 0) return;
      total.index.push(first + id);
      total.value.push((factor * scales[i]!) / units);
    });
    first += model.count;
  });
  if (units < Infinity && total.index.length > 0) {
    index.push(...total.index);
    value.push(...total.value);
    start.push(index.length);
    bound.push(1);
  }
  return { n, matrix: { start, index, value }, bound };
}

/** The variables of the program, and each cumulative sum in terms of them. */
class Model {
  count = 0;
  readonly forms = new LinearForms();
  /** For each kind and step, what is sent by the end of each day. */
  readonly sums: Int32Array[][];
  private readonly days: number;
  /** Starts of all kinds by the end of each day: one variable; -1 where there are none yet. */
  private readonly starts: Int32Array;
  /** By how much each kind is ahead of its part by the end of each day; -1 where it keeps to it, or takes what others leave. */
  private readonly lean: Int32Array[];
  /** On each day the kind that is behind by what the others are ahead; -1 where none is. */
  private readonly balance: Int32Array;
  /** Kinds of which the last start before the others' do: on which day, and how many are missing then. */
  private readonly ends: { k: number; last: number; missing: number }[] = [];
  /** Own variables of follow-ups by kind, step and day; -1 where the sum is another's. */
  private readonly own: Int32Array[][];
  /** For each kind and step, the last open day whose people may be, and must have been, written to by each day. */
  private readonly may: Int32Array[][];
  private readonly must: Int32Array[][];
  /** The days on which a step may be sent so that all that follows is in time. */
  private readonly allowed: Uint8Array[][];

  constructor(
    private readonly stream: Stream,
    private readonly lastStart: number,
  ) {
    const days = (this.days = stream.capacity.length);
    const { kinds } = stream;
    this.allowed = kinds.map(() => []);
    this.may = kinds.map(() => []);
    this.must = kinds.map(() => []);
    const mayStart = this.findReaches();
    this.own = kinds.map(({ steps }) => steps.map(() => new Int32Array(days).fill(-1)));
    this.sums = kinds.map(({ steps }) => steps.map(() => new Int32Array(days)));
    this.starts = new Int32Array(days).fill(-1);
    this.lean = kinds.map(() => new Int32Array(days).fill(-1));
    this.balance = new Int32Array(days).fill(-1);
    this.addVariables(mayStart);
  }

  /** When each step can be sent. @returns the days on which people can start */
  private findReaches(): Uint8Array {
    const { days, stream } = this;
    const mayStart = new Uint8Array(days).fill(1);
    stream.kinds.forEach(({ steps, part }, k) => {
      let allowed = new Uint8Array(days).fill(1);
      for (let s = steps.length - 1; s > 0; s--) {
        const { may, must } = this.reaches(steps[s]!, allowed);
        this.may[k]![s] = may;
        this.must[k]![s] = must;
        this.allowed[k]![s] = allowed;
        allowed = this.allowedBefore(steps[s]!, allowed);
      }
      for (let j = 0; j < days; j++) if (part[j]! > 0) mayStart[j]! &= allowed[j]!;
    });
    return mayStart;
  }

  /** Gives each day its variables, and finds its sums. */
  private addVariables(mayStart: Uint8Array): void {
    const { days, starts, balance, lean } = this;
    const { kinds, workday } = this.stream;
    const begins = (j: number) => j < days && mayStart[j] === 1 && workday[j]! <= this.lastStart;
    // What a kind's sums have beside its part: it changes where the part does.
    const shift = kinds.map(() => 0);
    let next = 0;
    for (let j = 0; j < days; j++) {
      const isBegin = begins(j);
      starts[j] = isBegin ? this.count++ : j === 0 ? -1 : starts[j - 1]!;
      next = Math.max(next, j + 1);
      while (next < days && !begins(next)) next++;
      if (isBegin) this.mayLean(j, next);
      else if (j > 0) {
        balance[j] = balance[j - 1]!;
        for (const own of lean) own[j] = own[j - 1]!;
      }
      for (let k = 0; k < kinds.length; k++) {
        if (isBegin && next < days && this.isLast(k, j)) this.ends.push({ k, last: j, missing: this.count++ });
        shift[k] = this.shiftOf(k, j, shift[k]!);
        this.sums[k]![0]![j] = this.startsOf(k, j, shift[k]!);
        for (let s = 1; s < kinds[k]!.steps.length; s++) this.sums[k]![s]![j] = this.followUpsOf(k, s, j, shift[k]!);
      }
    }
  }

  private isLast(k: number, j: number): boolean {
    const { part, most } = this.stream.kinds[k]!;
    if (most === undefined || part[j] === 0) return false;
    for (let later = j + 1; later < this.days; later++) if (part[later]! > 0) return false;
    return true;
  }

  /** Lets kinds lean on a day, those that start both on it and on the next; whoever has the largest part evens it out. */
  private mayLean(j: number, next: number): void {
    const { kinds } = this.stream;
    if (!this.stream.leans || next >= this.days || kinds.length < 2) return;
    const both = [...kinds.keys()].filter((k) => kinds[k]!.part[j]! > 0 && kinds[k]!.part[next]! > 0);
    if (both.length < 2 || kinds.some((k) => k.most === undefined)) return;
    this.balance[j] = both.reduce((most, k) => (kinds[k]!.part[j]! > kinds[most]!.part[j]! ? k : most));
    for (const k of both) if (k !== this.balance[j]) this.lean[k]![j] = this.count++;
  }

  private shiftOf(k: number, j: number, before: number): number {
    if (j === 0) return 0;
    const { part } = this.stream.kinds[k]!;
    const change = part[j - 1]! - part[j]!;
    const id = this.starts[j - 1]!;
    return change === 0 || id < 0 ? before : this.forms.putAll(before).put(id, change).end();
  }

  /** The starts of a kind by the end of a day. */
  private startsOf(k: number, j: number, shift: number): number {
    const { forms } = this;
    const part = this.stream.kinds[k]!.part[j]!;
    const id = this.starts[j]!;
    if (id >= 0 && part !== 0) forms.put(id, part);
    forms.putAll(shift);
    const own = this.lean[k]![j]!;
    if (own >= 0) forms.put(own, 1);
    else if (this.balance[j] === k) for (const lean of this.lean) if (lean[j]! >= 0) forms.put(lean[j]!, -1);
    return forms.end(j === 0 ? 0 : this.sums[k]![0]![j - 1]!);
  }

  /** A follow-up of a kind by the end of a day. */
  private followUpsOf(k: number, s: number, j: number, shift: number): number {
    const { forms } = this;
    const own = this.sums[k]!;
    // Nothing of a step is sent on a day from which what follows would be late.
    if (!this.allowed[k]![s]![j]) return j === 0 ? 0 : own[s]![j - 1]!;
    const before = (day: number) => (day < 0 ? 0 : own[s - 1]![day]!);
    const most = before(this.may[k]![s]![j]!);
    // Whether there is a choice at all: who may be written to but need not be.
    if (most === 0 || forms.isSame(most, before(this.must[k]![s]![j]!))) return most;
    this.own[k]![s]![j] = this.count;
    return forms.put(this.count++, 1).putAll(shift).end();
  }

  /** For each day, the last day whose people may be, and must have been, written to when `allowed` days send the step. */
  private reaches({ delay, tolerance }: StepDelay, allowed: Uint8Array): { may: Int32Array; must: Int32Array } {
    const { workday } = this.stream;
    const out = { may: new Int32Array(this.days), must: new Int32Array(this.days) };
    const after = new Float64Array(this.days);
    let next = Infinity;
    for (let j = this.days - 1; j >= 0; j--) {
      after[j] = next;
      if (allowed[j]) next = workday[j]!;
    }
    let [may, must] = [-1, -1];
    for (let j = 0; j < this.days; j++) {
      // At least one day lies between two messages, whatever the delay.
      while (may + 1 < j && workday[j]! - workday[may + 1]! >= delay) may++;
      while (must + 1 <= may && after[j]! - workday[must + 1]! > delay + tolerance) must++;
      out.may[j] = may;
      out.must[j] = Math.min(must, may);
    }
    return out;
  }

  /** The days from which a step can be followed in time by the next, which is sent on `allowed` days only. */
  private allowedBefore({ delay, tolerance }: StepDelay, allowed: Uint8Array): Uint8Array<ArrayBuffer> {
    const { workday } = this.stream;
    const out = new Uint8Array(this.days);
    let next = 0;
    for (let j = 0; j < this.days; j++) {
      next = Math.max(next, j + 1);
      while (next < this.days && (!allowed[next] || workday[next]! - workday[j]! < delay)) next++;
      if (next < this.days && workday[next]! - workday[j]! <= delay + tolerance) out[j] = 1;
    }
    return out;
  }

  /** What starts are worth: days before the last, for all of a person's messages. */
  objective(): Float64Array {
    const { days, forms, lastStart } = this;
    const { workday, kinds } = this.stream;
    const c = new Float64Array(this.count);
    for (let j = 0; j < days; j++) {
      const next = Math.min(lastStart + 1, j + 1 < days ? workday[j + 1]! : Infinity);
      const length = Math.max(0, next - workday[j]!);
      kinds.forEach(({ steps }, k) => {
        if (length > 0) forms.addTo(c, this.sums[k]![0]![j]!, length * steps.length);
        // Among equals, follow-ups rather early than late.
        for (let s = 1; s < steps.length; s++) if (this.own[k]![s]![j]! >= 0) c[this.own[k]![s]![j]!]! += 1e-3;
      });
    }
    const most = c.reduce((a, b) => Math.max(a, b), 1e-9);
    for (const { missing } of this.ends) c[missing] = -most * days;
    return c;
  }

  /** By variable, how much of it is among all who have started in the end. */
  totals(): Float64Array {
    const factors = new Float64Array(this.count);
    for (const [starts] of this.sums) if (this.days > 0) this.forms.addTo(factors, starts!.at(-1)!, 1);
    return factors.map((factor) => (Math.abs(factor) < 1e-12 ? 0 : factor));
  }

  /** Nobody who has started is taken back, and nobody leans too far. */
  private addStarts(out: RowBuilder, j: number, scale: number): void {
    const leans = [j - 1, j].some((d) => d >= 0 && this.balance[d]! >= 0);
    if (!leans) {
      out.variable(this.starts[j]!, -1);
      if (j > 0 && this.starts[j - 1]! >= 0) out.variable(this.starts[j - 1]!, 1);
      out.end(0);
      return;
    }
    for (let k = 0; k < this.lean.length; k++) {
      out
        .add(this.sumBefore(k, 0, j), 1)
        .add(this.sums[k]![0]![j]!, -1)
        .end(0);
      const own = this.lean[k]![j]!;
      if (own < 0) continue;
      const { most } = this.stream.kinds[k]!;
      const least = Math.min(most!, this.stream.kinds[this.balance[j]!]!.most!);
      const bound = Math.min(LEANING.days, (LEANING.people * least) / scale);
      out.variable(own, 1).end(bound);
      out.variable(own, -1).end(bound);
    }
  }

  private sumBefore(k: number, s: number, j: number): number {
    return j === 0 ? 0 : this.sums[k]![s]![j - 1]!;
  }

  /** By the last day on which any of a kind start, as many do as there are of it. */
  private addEnds(out: RowBuilder, scale: number): void {
    for (const { k, last, missing } of this.ends) {
      const most = this.stream.kinds[k]!.most! / scale;
      const sum = this.sums[k]![0]![last]!;
      out.add(sum, 1).end(most);
      out.add(sum, -1).variable(missing, -1).end(-most);
      out.variable(missing, -1).end(0);
    }
  }

  rows(scale: number): Inequalities {
    const { days, stream } = this;
    const out = new RowBuilder(this.forms, this.count);
    for (let j = 0; j < days; j++) {
      const id = this.starts[j]!;
      const before = j === 0 ? -1 : this.starts[j - 1]!;
      if (id >= 0 && id !== before) {
        this.addStarts(out, j, scale);
        if (stream.available) out.variable(id, 1).end(stream.available[j]! / scale);
      }
      for (let k = 0; k < stream.kinds.length; k++) this.addFollowUps(out, k, j);
      for (let k = 0; k < stream.kinds.length; k++)
        for (let s = 0; s < this.sums[k]!.length; s++) {
          const [sum, last] = [this.sums[k]![s]![j]!, this.sumBefore(k, s, j)];
          if (sum !== last) out.add(sum, 1).add(last, -1);
        }
      out.end(stream.capacity[j]! / scale);
    }
    this.addEnds(out, scale);
    return out.rows();
  }

  /** Follow-ups are never taken back, and neither too early nor too late. */
  private addFollowUps(out: RowBuilder, k: number, j: number): void {
    const sums = this.sums[k]!;
    for (let s = 1; s < sums.length; s++) {
      if (this.own[k]![s]![j]! < 0) continue;
      const own = sums[s]![j]!;
      const [may, must] = [this.may[k]![s]![j]!, this.must[k]![s]![j]!];
      out
        .add(this.sumBefore(k, s, j), 1)
        .add(own, -1)
        .end(0);
      out
        .add(own, 1)
        .add(sums[s - 1]![may]!, -1)
        .end(0);
      out
        .add(must < 0 ? 0 : sums[s - 1]![must]!, 1)
        .add(own, -1)
        .end(0);
    }
  }
}
