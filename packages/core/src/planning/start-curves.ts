import { maximise, type Inequalities } from './banded-lp';

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
   * there are, in units. Where that is said of all and several start, each may be ahead of its part or behind it for a
   * while ({@link LEANING}).
   */
  kinds: { steps: readonly StepDelay[]; part: ArrayLike<number>; most?: number }[];
}

/** How far the starts of a kind may be from its part of them all: in mean days of capacity, and as a part of its people. */
const LEANING = { days: 0.1, people: 0.01 };

/** For each kind and step, the units sent by the end of each open day. */
export type Curves = Float64Array[][];

/**
 * The best course of several kinds of people through one stream: as many starts as early as can be, so that
 * all follow-ups fit in time, up to `lastStart`. It is a linear program in cumulative sums: with people
 * served in order, a follow-up is neither early nor late when
 * F(s - 1, latest day that is over tolerance) <= F(s, d) <= F(s - 1, latest day whose delay has passed),
 * and a day is not overfull when the sums of all steps grow by its capacity at most. The starts of all kinds
 * are one curve, of which each kind has its part, or nearly ({@link LEANING}).
 *
 * @param lastStart workday number after which nobody starts
 * @param tolerance relative gap at which to stop
 */
export function startCurves(stream: Stream, lastStart: number, tolerance: number): Curves {
  const days = stream.capacity.length;
  const model = new Model(stream, lastStart);
  const scale = Math.max(1e-9, mean(stream.capacity));
  const z =
    model.count === 0 ? new Float64Array(0) : maximise(model.rows(scale), model.objective(lastStart), tolerance);
  return stream.kinds.map(({ steps }, k) =>
    steps.map((_, s) => {
      const curve = new Float64Array(days);
      let reached = 0;
      for (let j = 0; j < days; j++) {
        let value = 0;
        for (const [id, factor] of model.sum(k, s, j)) value += z[id]! * factor;
        reached = Math.max(reached, value * scale);
        curve[j] = reached;
      }
      return curve;
    }),
  );
}

const mean = (values: Float64Array): number => values.reduce((a, b) => a + b, 0) / Math.max(1, values.length);

/** A sum of variables. */
type Sum = [id: number, factor: number][];

/** The variables of the program, and each cumulative sum in terms of them. */
class Model {
  count = 0;
  private readonly days: number;
  /** Starts of all kinds by the end of each day: one variable. */
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
  /** What a kind's sums have beside its part: it changes where the part does. */
  private readonly shift: Sum[][];

  constructor(
    private readonly stream: Stream,
    lastStart: number,
  ) {
    const days = (this.days = stream.capacity.length);
    const { kinds, workday } = stream;
    this.allowed = kinds.map(() => []);
    this.may = kinds.map(() => []);
    this.must = kinds.map(() => []);
    const mayStart = new Uint8Array(days).fill(1);
    kinds.forEach(({ steps, part }, k) => {
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
    this.own = kinds.map(({ steps }) => steps.map(() => new Int32Array(days).fill(-1)));
    this.starts = new Int32Array(days).fill(-1);
    this.lean = kinds.map(() => new Int32Array(days).fill(-1));
    this.balance = new Int32Array(days).fill(-1);
    this.shift = kinds.map(() => []);
    const begins = (j: number) => j < days && mayStart[j] === 1 && workday[j]! <= lastStart;
    let next = 0;
    for (let j = 0; j < days; j++) {
      this.starts[j] = begins(j) ? this.count++ : j === 0 ? -1 : this.starts[j - 1]!;
      next = Math.max(next, j + 1);
      while (next < days && !begins(next)) next++;
      if (begins(j)) this.mayLean(j, next);
      else if (j > 0) {
        this.balance[j] = this.balance[j - 1]!;
        for (const lean of this.lean) lean[j] = lean[j - 1]!;
      }
      kinds.forEach((kind, k) => {
        if (begins(j) && next < days && this.isLast(k, j)) this.ends.push({ k, last: j, missing: this.count++ });
        this.shift[k]!.push(this.shiftOf(k, j));
        for (let s = 1; s < kind.steps.length; s++) if (this.isFree(k, s, j)) this.own[k]![s]![j] = this.count++;
      });
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
    if (next >= this.days) return;
    const { kinds } = this.stream;
    const both = [...kinds.keys()].filter((k) => kinds[k]!.part[j]! > 0 && kinds[k]!.part[next]! > 0);
    if (both.length < 2 || kinds.some((k) => k.most === undefined)) return;
    this.balance[j] = both.reduce((most, k) => (kinds[k]!.part[j]! > kinds[most]!.part[j]! ? k : most));
    for (const k of both) if (k !== this.balance[j]) this.lean[k]![j] = this.count++;
  }

  /** The messages of a step sent by the end of a day. */
  sum(k: number, s: number, j: number): Sum {
    if (j < 0) return [];
    if (s === 0) {
      const part = this.stream.kinds[k]!.part[j]!;
      const id = this.starts[j]!;
      const sum: Sum = id < 0 || part === 0 ? this.shift[k]![j]! : [[id, part], ...this.shift[k]![j]!];
      const own = this.lean[k]![j]!;
      if (own >= 0) return [...sum, [own, 1]];
      if (this.balance[j] !== k) return sum;
      return [...sum, ...this.lean.flatMap((lean): Sum => (lean[j]! >= 0 ? [[lean[j]!, -1]] : []))];
    }
    // Nothing of a step is sent on a day from which what follows would be late.
    if (!this.allowed[k]![s]![j]) return this.sum(k, s, j - 1);
    const id = this.own[k]![s]![j]!;
    return id >= 0 ? [[id, 1], ...this.shift[k]![j]!] : this.sum(k, s - 1, this.may[k]![s]![j]!);
  }

  private shiftOf(k: number, j: number): Sum {
    if (j === 0) return [];
    const { part } = this.stream.kinds[k]!;
    const before = this.shift[k]![j - 1]!;
    const change = part[j - 1]! - part[j]!;
    const id = this.starts[j - 1]!;
    return change === 0 || id < 0 ? before : [...before, [id, change]];
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

  /** Whether there is a choice at all: who may be written to but need not be. */
  private isFree(k: number, s: number, j: number): boolean {
    if (!this.allowed[k]![s]![j]) return false;
    const most = this.sum(k, s - 1, this.may[k]![s]![j]!);
    const least = this.sum(k, s - 1, this.must[k]![s]![j]!);
    return most.length > 0 && !isSame(most, least);
  }

  objective(lastStart: number): Float64Array {
    const { days } = this;
    const { workday, kinds } = this.stream;
    const c = new Float64Array(this.count);
    for (let j = 0; j < this.days; j++) {
      const next = Math.min(lastStart + 1, j + 1 < this.days ? workday[j + 1]! : Infinity);
      const length = Math.max(0, next - workday[j]!);
      kinds.forEach(({ steps }, k) => {
        for (const [id, factor] of this.sum(k, 0, j)) c[id]! += length * factor * steps.length;
        // Among equals, follow-ups rather early than late.
        for (let s = 1; s < steps.length; s++) if (this.own[k]![s]![j]! >= 0) c[this.own[k]![s]![j]!]! += 1e-3;
      });
    }
    const most = c.reduce((a, b) => Math.max(a, b), 1e-9);
    for (const { missing } of this.ends) c[missing] = -most * days;
    return c.map((v) => v / most);
  }

  /** Nobody who has started is taken back, and nobody leans too far. */
  private addStarts(out: RowBuilder, j: number, scale: number): void {
    const leans = [j - 1, j].some((d) => d >= 0 && this.balance[d]! >= 0);
    if (!leans) {
      out.add([[this.starts[j]!, -1]], 1);
      if (j > 0 && this.starts[j - 1]! >= 0) out.add([[this.starts[j - 1]!, 1]], 1);
      out.end(0);
      return;
    }
    for (let k = 0; k < this.lean.length; k++) {
      out
        .add(this.sum(k, 0, j - 1), 1)
        .add(this.sum(k, 0, j), -1)
        .end(0);
      const own = this.lean[k]![j]!;
      if (own < 0) continue;
      const { most } = this.stream.kinds[k]!;
      const least = Math.min(most!, this.stream.kinds[this.balance[j]!]!.most!);
      const bound = Math.min(LEANING.days, (LEANING.people * least) / scale);
      out.add([[own, 1]], 1).end(bound);
      out.add([[own, -1]], 1).end(bound);
    }
  }

  /** By the last day on which any of a kind start, as many do as there are of it. */
  private addEnds(out: RowBuilder, scale: number): void {
    for (const { k, last, missing } of this.ends) {
      const most = this.stream.kinds[k]!.most! / scale;
      out.add(this.sum(k, 0, last), 1).end(most);
      out
        .add(this.sum(k, 0, last), -1)
        .add([[missing, -1]], 1)
        .end(-most);
      out.add([[missing, -1]], 1).end(0);
    }
  }

  rows(scale: number): Inequalities {
    const { days, stream } = this;
    const out = new RowBuilder(this.count);
    for (let j = 0; j < days; j++) {
      const id = this.starts[j]!;
      const before = j === 0 ? -1 : this.starts[j - 1]!;
      if (id >= 0 && id !== before) {
        this.addStarts(out, j, scale);
        if (stream.available) out.add([[id, 1]], 1).end(stream.available[j]! / scale);
      }
      stream.kinds.forEach(({ steps }, k) => {
        for (let s = 1; s < steps.length; s++) {
          if (this.own[k]![s]![j]! < 0) continue;
          const own = this.sum(k, s, j);
          out
            .add(this.sum(k, s, j - 1), 1)
            .add(own, -1)
            .end(0);
          out
            .add(own, 1)
            .add(this.sum(k, s - 1, this.may[k]![s]![j]!), -1)
            .end(0);
          out
            .add(this.sum(k, s - 1, this.must[k]![s]![j]!), 1)
            .add(own, -1)
            .end(0);
        }
      });
      stream.kinds.forEach(({ steps }, k) => {
        for (let s = 0; s < steps.length; s++) out.add(this.sum(k, s, j), 1).add(this.sum(k, s, j - 1), -1);
      });
      out.end(stream.capacity[j]! / scale);
    }
    this.addEnds(out, scale);
    return out.rows;
  }
}

function isSame(a: Sum, b: Sum): boolean {
  return a.length === b.length && a.every(([id, factor], i) => b[i]![0] === id && b[i]![1] === factor);
}

/** Puts rows together; what cancels out is left out. */
class RowBuilder {
  readonly rows: Inequalities;
  private readonly factor: Float64Array;
  /** The variables of the row at hand, and for each variable whether it is one of them. */
  private readonly touched: number[] = [];
  private readonly isTouched: Uint8Array;

  constructor(n: number) {
    this.rows = { n, start: [0], column: [], value: [], bound: [] };
    this.factor = new Float64Array(n);
    this.isTouched = new Uint8Array(n);
  }

  add(sum: Sum, sign: number): this {
    for (const [id, value] of sum) {
      if (!this.isTouched[id]) this.touched.push(id);
      this.isTouched[id] = 1;
      this.factor[id]! += sign * value;
    }
    return this;
  }

  end(bound: number): void {
    const before = this.rows.column.length;
    for (const id of this.touched) {
      if (Math.abs(this.factor[id]!) > 1e-12) {
        this.rows.column.push(id);
        this.rows.value.push(this.factor[id]!);
      }
      this.factor[id] = 0;
      this.isTouched[id] = 0;
    }
    this.touched.length = 0;
    if (this.rows.column.length === before) return;
    this.rows.start.push(this.rows.column.length);
    this.rows.bound.push(bound);
  }
}
