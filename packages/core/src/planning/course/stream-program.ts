import { LinearForms, RowBuilder } from './linear-forms';
import type { Inequalities } from '../solver/linear-program';
import { allowedBefore, stepWindows, type StepDelay } from './step-windows';
import { TimeBuckets } from './time-buckets';

/** One stream of capacity and the classes that share it. */
export interface Stream {
  /** Number of working days up to and including each open day; increasing. */
  workday: ArrayLike<number>;
  /** Units on each open day, 0 or more; fractions allowed. */
  capacity: Float64Array;
  /** Cumulative units available by the end of each open day, or null if that is no bound. */
  available: ArrayLike<number> | null;
  /**
   * For each class: its steps, its part of the starts of each open day (the parts add up to 1), and its size in
   * units.
   */
  classes: { steps: readonly StepDelay[]; part: ArrayLike<number>; most?: number }[];
  /**
   * Whether each class may temporarily be ahead of its part or behind it ({@link MOST_DEVIATION}), if several start and all have
   * a `most`. This gives slightly better courses and takes about twice the time.
   */
  deviates?: boolean;
}

/** How far the starts of a class may differ from its part: in mean days of capacity, and as a part of its people. */
const MOST_DEVIATION = { days: 0.1, people: 0.01 };

/** The variables of the program, and each cumulative sum as a combination of them, by buckets of days. */
export class StreamProgram {
  count = 0;
  readonly forms = new LinearForms();
  readonly buckets: TimeBuckets;
  /** For each class and step, the cumulative sum by the end of each bucket. */
  readonly sums: Int32Array[][];
  private readonly n: number;
  /** The variable for the starts of all classes by the end of each bucket; -1 while there are none. */
  private readonly starts: Int32Array;
  /** The variable for how far each class is ahead of its part; -1 if it keeps to it, or is the one that balances. */
  private readonly deviation: Int32Array[];
  /** In each bucket, the class that balances the others by being behind; -1 if none does. */
  private readonly balance: Int32Array;
  /** Classes that end before the others: in which bucket, and the variable for how many are missing then. */
  private readonly ends: { k: number; last: number; missing: number }[] = [];
  /** Follow-ups with a choice of day, by bucket: the lower and upper bound of their sum, and its variable. */
  private readonly free: { k: number; s: number; e: number; id: number; most: number; least: number }[] = [];
  /** For each kind, step and day, the last open day whose people have the step released, and due, by then. */
  private readonly released: Int32Array[][];
  private readonly due: Int32Array[][];
  /** The days on which a step may be sent so that all later steps are in time. */
  private readonly allowed: Uint8Array[][];

  constructor(
    private readonly stream: Stream,
    private readonly lastStart: number,
    private readonly bucketDays: number,
  ) {
    const { classes } = stream;
    this.allowed = classes.map(() => []);
    this.released = classes.map(() => []);
    this.due = classes.map(() => []);
    const mayStart = this.findWindows();
    this.buckets = this.findBuckets(mayStart);
    const n = (this.n = this.buckets.count);
    this.sums = classes.map(({ steps }) => steps.map(() => new Int32Array(n)));
    this.starts = new Int32Array(n).fill(-1);
    this.deviation = classes.map(() => new Int32Array(n).fill(-1));
    this.balance = new Int32Array(n).fill(-1);
    this.addVariables(mayStart);
  }

  /** Determines the days on which each step can be sent. @returns the days on which people can start */
  private findWindows(): Uint8Array {
    const { classes, capacity, workday } = this.stream;
    const days = capacity.length;
    const mayStart = new Uint8Array(days);
    for (let j = 0; j < days; j++) mayStart[j] = workday[j]! <= this.lastStart ? 1 : 0;
    classes.forEach(({ steps, part }, k) => {
      let allowed = new Uint8Array(days).fill(1);
      for (let s = steps.length - 1; s > 0; s--) {
        const { released, due } = stepWindows(steps[s]!, workday, allowed);
        this.released[k]![s] = released;
        this.due[k]![s] = due;
        this.allowed[k]![s] = allowed;
        allowed = allowedBefore(steps[s]!, workday, allowed);
      }
      for (let j = 0; j < days; j++) if (part[j]! > 0) mayStart[j]! &= allowed[j]!;
    });
    return mayStart;
  }

  /** A new bucket begins where days differ in which steps they allow. */
  private findBuckets(mayStart: Uint8Array): TimeBuckets {
    const { classes, capacity } = this.stream;
    const mayJoin = (j: number) =>
      mayStart[j] === mayStart[j - 1] &&
      classes.every(({ part }, k) => part[j] === part[j - 1] && this.allowed[k]!.every((a) => a[j] === a[j - 1]));
    return new TimeBuckets(capacity, mayJoin, this.bucketDays);
  }

  /** Creates the variables of each bucket and its sums. */
  private addVariables(mayStart: Uint8Array): void {
    const { n, starts, balance, deviation, buckets } = this;
    const { classes } = this.stream;
    const begins = (e: number) => e < n && mayStart[buckets.last[e]!] === 1;
    // The offset of a class's sums from its part of the starts; it changes where the part does.
    const shift = classes.map(() => 0);
    let next = 0;
    for (let e = 0; e < n; e++) {
      const isBegin = begins(e);
      starts[e] = isBegin ? this.count++ : e === 0 ? -1 : starts[e - 1]!;
      next = Math.max(next, e + 1);
      while (next < n && !begins(next)) next++;
      if (isBegin) this.addDeviations(e, next);
      else if (e > 0) {
        balance[e] = balance[e - 1]!;
        for (const own of deviation) own[e] = own[e - 1]!;
      }
      for (let k = 0; k < classes.length; k++) {
        if (isBegin && next < n && this.isLast(k, e)) this.ends.push({ k, last: e, missing: this.count++ });
        shift[k] = this.shiftOf(k, e, shift[k]!);
        this.sums[k]![0]![e] = this.startsOf(k, e, shift[k]!);
        for (let s = 1; s < classes[k]!.steps.length; s++) this.sums[k]![s]![e] = this.followUpsOf(k, s, e, shift[k]!);
      }
    }
  }

  /** A class's part of the starts in a bucket. */
  private partOf(k: number, e: number): number {
    return this.stream.classes[k]!.part[this.buckets.last[e]!]!;
  }

  private isLast(k: number, e: number): boolean {
    if (this.stream.classes[k]!.most === undefined || this.partOf(k, e) === 0) return false;
    for (let later = e + 1; later < this.n; later++) if (this.partOf(k, later) > 0) return false;
    return true;
  }

  /** Lets the classes that start both in a bucket and in the next deviate from their parts; the one with the largest part balances them. */
  private addDeviations(e: number, next: number): void {
    const { classes } = this.stream;
    if (!this.stream.deviates || next >= this.n || classes.length < 2) return;
    const both = [...classes.keys()].filter((k) => this.partOf(k, e) > 0 && this.partOf(k, next) > 0);
    if (both.length < 2 || classes.some((k) => k.most === undefined)) return;
    this.balance[e] = both.reduce((most, k) => (this.partOf(k, e) > this.partOf(most, e) ? k : most));
    for (const k of both) if (k !== this.balance[e]) this.deviation[k]![e] = this.count++;
  }

  private shiftOf(k: number, e: number, before: number): number {
    if (e === 0) return 0;
    const change = this.partOf(k, e - 1) - this.partOf(k, e);
    const id = this.starts[e - 1]!;
    return change === 0 || id < 0 ? before : this.forms.putAll(before).put(id, change).end();
  }

  /** The starts of a class by the end of a bucket. */
  private startsOf(k: number, e: number, shift: number): number {
    const { forms } = this;
    const part = this.partOf(k, e);
    const id = this.starts[e]!;
    if (id >= 0 && part !== 0) forms.put(id, part);
    forms.putAll(shift);
    const own = this.deviation[k]![e]!;
    if (own >= 0) forms.put(own, 1);
    else if (this.balance[e] === k)
      for (const deviation of this.deviation) if (deviation[e]! >= 0) forms.put(deviation[e]!, -1);
    return forms.end(this.sumBefore(k, 0, e));
  }

  /** A follow-up of a class by the end of a bucket. */
  private followUpsOf(k: number, s: number, e: number, shift: number): number {
    const { forms } = this;
    const day = this.buckets.last[e]!;
    // No step is sent on a day from which a later step would be late.
    if (!this.allowed[k]![s]![day]) return this.sumBefore(k, s, e);
    const most = this.sumBy(k, s - 1, this.released[k]![s]![day]!);
    const least = this.sumBy(k, s - 1, this.due[k]![s]![day]!);
    // Whether there is a choice: people who may have the step by now but need not.
    if (most === 0 || forms.isSame(most, least)) return most;
    const id = this.count++;
    this.free.push({ k, s, e, id, most, least });
    return forms.put(id, 1).putAll(shift).end();
  }

  private sumBefore(k: number, s: number, e: number): number {
    return e === 0 ? 0 : this.sums[k]![s]![e - 1]!;
  }

  /** The sum by the end of a day; the empty one for day -1. */
  private sumBy(k: number, s: number, day: number): number {
    if (day < 0) return 0;
    const e = this.buckets.of[day]!;
    const [before, here] = [this.sumBefore(k, s, e), this.sums[k]![s]![e]!];
    const filled = this.buckets.filled[day]!;
    if (filled === 1 || before === here) return here;
    return this.forms
      .putAll(before, 1 - filled)
      .putAll(here, filled)
      .end();
  }

  /** The value of starts: days before the last, times a person's messages. */
  objective(): Float64Array {
    const { n, forms, buckets } = this;
    const { classes } = this.stream;
    const c = new Float64Array(this.count);
    const worth = this.worth();
    for (let e = 0; e < n; e++) {
      classes.forEach(({ steps }, k) => {
        if (worth[e]! > 0) forms.addTo(c, this.sums[k]![0]![e]!, worth[e]! * steps.length);
      });
    }
    // Between equal courses, the one with earlier follow-ups.
    for (const { id } of this.free) c[id]! += 1e-3;
    const most = c.reduce((a, b) => Math.max(a, b), 1e-9);
    for (const { missing } of this.ends) c[missing] = -most * buckets.of.length;
    return c;
  }

  /** For each bucket, the number of days for which its sum counts. */
  private worth(): Float64Array {
    const { workday } = this.stream;
    const { of, filled } = this.buckets;
    const worth = new Float64Array(this.n);
    for (let j = 0; j < of.length; j++) {
      const next = Math.min(this.lastStart + 1, j + 1 < of.length ? workday[j + 1]! : Infinity);
      const length = Math.max(0, next - workday[j]!);
      worth[of[j]!]! += filled[j]! * length;
      if (of[j]! > 0) worth[of[j]! - 1]! += (1 - filled[j]!) * length;
    }
    return worth;
  }

  /** For each variable, its coefficient in the total starts. */
  totals(): Float64Array {
    const factors = new Float64Array(this.count);
    for (const [starts] of this.sums) if (this.n > 0) this.forms.addTo(factors, starts!.at(-1)!, 1);
    return factors.map((factor) => (Math.abs(factor) < 1e-12 ? 0 : factor));
  }

  /** Cumulative starts never fall, and no class deviates too far. */
  private addStarts(out: RowBuilder, e: number, scale: number): void {
    const deviates = [e - 1, e].some((d) => d >= 0 && this.balance[d]! >= 0);
    if (!deviates) {
      out.variable(this.starts[e]!, -1);
      if (e > 0 && this.starts[e - 1]! >= 0) out.variable(this.starts[e - 1]!, 1);
      out.end(0);
      return;
    }
    for (let k = 0; k < this.deviation.length; k++) {
      out
        .add(this.sumBefore(k, 0, e), 1)
        .add(this.sums[k]![0]![e]!, -1)
        .end(0);
      const own = this.deviation[k]![e]!;
      if (own < 0) continue;
      const { most } = this.stream.classes[k]!;
      const least = Math.min(most!, this.stream.classes[this.balance[e]!]!.most!);
      const bound = Math.min(MOST_DEVIATION.days, (MOST_DEVIATION.people * least) / scale);
      out.variable(own, 1).end(bound);
      out.variable(own, -1).end(bound);
    }
  }

  /** By its last day, everybody of a class has started. */
  private addEnds(out: RowBuilder, scale: number): void {
    for (const { k, last, missing } of this.ends) {
      const most = this.stream.classes[k]!.most! / scale;
      const sum = this.sums[k]![0]![last]!;
      out.add(sum, 1).end(most);
      out.add(sum, -1).variable(missing, -1).end(-most);
      out.variable(missing, -1).end(0);
    }
  }

  rows(scale: number): Inequalities {
    const { n, stream, buckets } = this;
    const out = new RowBuilder(this.forms, this.count);
    let next = 0;
    for (let e = 0; e < n; e++) {
      const id = this.starts[e]!;
      const before = e === 0 ? -1 : this.starts[e - 1]!;
      if (id >= 0 && id !== before) {
        this.addStarts(out, e, scale);
        if (stream.available) out.variable(id, 1).end(stream.available[buckets.last[e]!]! / scale);
      }
      while (this.free[next]?.e === e) this.addFree(out, this.free[next++]!);
      for (let k = 0; k < stream.classes.length; k++)
        for (let s = 0; s < this.sums[k]!.length; s++) {
          const [sum, last] = [this.sums[k]![s]![e]!, this.sumBefore(k, s, e)];
          if (sum !== last) out.add(sum, 1).add(last, -1);
        }
      out.end(buckets.capacity[e]! / scale);
    }
    this.addEnds(out, scale);
    return out.rows();
  }

  /** Cumulative follow-ups never fall, and are neither too early nor too late. */
  private addFree(out: RowBuilder, { k, s, e, most, least }: StreamProgram['free'][number]): void {
    const own = this.sums[k]![s]![e]!;
    out
      .add(this.sumBefore(k, s, e), 1)
      .add(own, -1)
      .end(0);
    out.add(own, 1).add(most, -1).end(0);
    out.add(least, 1).add(own, -1).end(0);
  }
}
