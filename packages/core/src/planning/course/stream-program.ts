import { LinearForms, RowBuilder } from './linear-forms';
import type { Inequalities } from '../solver/linear-program';
import { allowedBefore, reachesOf, type StepDelay } from './reaches';
import { Stretches } from './stretches';

/** One stream of capacity and the kinds of people that share it. */
export interface Stream {
  /** Number of working days up to and including each open day; increasing. */
  workday: ArrayLike<number>;
  /** Units on each open day, 0 or more; fractions allowed. */
  capacity: Float64Array;
  /** Cumulative units available by the end of each open day, or null if that is no bound. */
  available: ArrayLike<number> | null;
  /**
   * For each kind of people: its steps, its part of the starts of each open day (the parts add up to 1), and its size in
   * units.
   */
  kinds: { steps: readonly StepDelay[]; part: ArrayLike<number>; most?: number }[];
  /**
   * Whether each kind may temporarily be ahead of its part or behind it ({@link LEANING}), if several start and all have
   * a `most`. This gives slightly better courses and takes about twice the time.
   */
  leans?: boolean;
}

/** How far the starts of a kind may differ from its part: in mean days of capacity, and as a part of its people. */
const LEANING = { days: 0.1, people: 0.01 };

/** The variables of the program, and each cumulative sum as a combination of them, by stretches of days. */
export class StreamProgram {
  count = 0;
  readonly forms = new LinearForms();
  readonly stretches: Stretches;
  /** For each kind and step, the cumulative sum by the end of each stretch. */
  readonly sums: Int32Array[][];
  private readonly n: number;
  /** The variable for the starts of all kinds by the end of each stretch; -1 while there are none. */
  private readonly starts: Int32Array;
  /** The variable for how far each kind is ahead of its part; -1 if it keeps to it, or is the one that balances. */
  private readonly lean: Int32Array[];
  /** In each stretch, the kind that balances the others by being behind; -1 if none does. */
  private readonly balance: Int32Array;
  /** Kinds that end before the others: in which stretch, and the variable for how many are missing then. */
  private readonly ends: { k: number; last: number; missing: number }[] = [];
  /** Follow-ups with a choice of day, by stretch: the lower and upper bound of their sum, and its variable. */
  private readonly free: { k: number; s: number; e: number; id: number; most: number; least: number }[] = [];
  /** For each kind, step and day, the last open day whose people may, and must, have the step by then. */
  private readonly may: Int32Array[][];
  private readonly must: Int32Array[][];
  /** The days on which a step may be sent so that all later steps are in time. */
  private readonly allowed: Uint8Array[][];

  constructor(
    private readonly stream: Stream,
    private readonly lastStart: number,
    private readonly together: number,
  ) {
    const { kinds } = stream;
    this.allowed = kinds.map(() => []);
    this.may = kinds.map(() => []);
    this.must = kinds.map(() => []);
    const mayStart = this.findReaches();
    this.stretches = this.findStretches(mayStart);
    const n = (this.n = this.stretches.count);
    this.sums = kinds.map(({ steps }) => steps.map(() => new Int32Array(n)));
    this.starts = new Int32Array(n).fill(-1);
    this.lean = kinds.map(() => new Int32Array(n).fill(-1));
    this.balance = new Int32Array(n).fill(-1);
    this.addVariables(mayStart);
  }

  /** Determines the days on which each step can be sent. @returns the days on which people can start */
  private findReaches(): Uint8Array {
    const { kinds, capacity, workday } = this.stream;
    const days = capacity.length;
    const mayStart = new Uint8Array(days);
    for (let j = 0; j < days; j++) mayStart[j] = workday[j]! <= this.lastStart ? 1 : 0;
    kinds.forEach(({ steps, part }, k) => {
      let allowed = new Uint8Array(days).fill(1);
      for (let s = steps.length - 1; s > 0; s--) {
        const { may, must } = reachesOf(steps[s]!, workday, allowed);
        this.may[k]![s] = may;
        this.must[k]![s] = must;
        this.allowed[k]![s] = allowed;
        allowed = allowedBefore(steps[s]!, workday, allowed);
      }
      for (let j = 0; j < days; j++) if (part[j]! > 0) mayStart[j]! &= allowed[j]!;
    });
    return mayStart;
  }

  /** A new stretch begins where days differ in which steps they allow. */
  private findStretches(mayStart: Uint8Array): Stretches {
    const { kinds, capacity } = this.stream;
    const mayJoin = (j: number) =>
      mayStart[j] === mayStart[j - 1] &&
      kinds.every(({ part }, k) => part[j] === part[j - 1] && this.allowed[k]!.every((a) => a[j] === a[j - 1]));
    return new Stretches(capacity, mayJoin, this.together);
  }

  /** Creates the variables of each stretch and its sums. */
  private addVariables(mayStart: Uint8Array): void {
    const { n, starts, balance, lean, stretches } = this;
    const { kinds } = this.stream;
    const begins = (e: number) => e < n && mayStart[stretches.last[e]!] === 1;
    // The offset of a kind's sums from its part of the starts; it changes where the part does.
    const shift = kinds.map(() => 0);
    let next = 0;
    for (let e = 0; e < n; e++) {
      const isBegin = begins(e);
      starts[e] = isBegin ? this.count++ : e === 0 ? -1 : starts[e - 1]!;
      next = Math.max(next, e + 1);
      while (next < n && !begins(next)) next++;
      if (isBegin) this.mayLean(e, next);
      else if (e > 0) {
        balance[e] = balance[e - 1]!;
        for (const own of lean) own[e] = own[e - 1]!;
      }
      for (let k = 0; k < kinds.length; k++) {
        if (isBegin && next < n && this.isLast(k, e)) this.ends.push({ k, last: e, missing: this.count++ });
        shift[k] = this.shiftOf(k, e, shift[k]!);
        this.sums[k]![0]![e] = this.startsOf(k, e, shift[k]!);
        for (let s = 1; s < kinds[k]!.steps.length; s++) this.sums[k]![s]![e] = this.followUpsOf(k, s, e, shift[k]!);
      }
    }
  }

  /** A kind's part of the starts in a stretch. */
  private partOf(k: number, e: number): number {
    return this.stream.kinds[k]!.part[this.stretches.last[e]!]!;
  }

  private isLast(k: number, e: number): boolean {
    if (this.stream.kinds[k]!.most === undefined || this.partOf(k, e) === 0) return false;
    for (let later = e + 1; later < this.n; later++) if (this.partOf(k, later) > 0) return false;
    return true;
  }

  /** Lets the kinds that start both in a stretch and in the next lean; the one with the largest part balances them. */
  private mayLean(e: number, next: number): void {
    const { kinds } = this.stream;
    if (!this.stream.leans || next >= this.n || kinds.length < 2) return;
    const both = [...kinds.keys()].filter((k) => this.partOf(k, e) > 0 && this.partOf(k, next) > 0);
    if (both.length < 2 || kinds.some((k) => k.most === undefined)) return;
    this.balance[e] = both.reduce((most, k) => (this.partOf(k, e) > this.partOf(most, e) ? k : most));
    for (const k of both) if (k !== this.balance[e]) this.lean[k]![e] = this.count++;
  }

  private shiftOf(k: number, e: number, before: number): number {
    if (e === 0) return 0;
    const change = this.partOf(k, e - 1) - this.partOf(k, e);
    const id = this.starts[e - 1]!;
    return change === 0 || id < 0 ? before : this.forms.putAll(before).put(id, change).end();
  }

  /** The starts of a kind by the end of a stretch. */
  private startsOf(k: number, e: number, shift: number): number {
    const { forms } = this;
    const part = this.partOf(k, e);
    const id = this.starts[e]!;
    if (id >= 0 && part !== 0) forms.put(id, part);
    forms.putAll(shift);
    const own = this.lean[k]![e]!;
    if (own >= 0) forms.put(own, 1);
    else if (this.balance[e] === k) for (const lean of this.lean) if (lean[e]! >= 0) forms.put(lean[e]!, -1);
    return forms.end(this.sumBefore(k, 0, e));
  }

  /** A follow-up of a kind by the end of a stretch. */
  private followUpsOf(k: number, s: number, e: number, shift: number): number {
    const { forms } = this;
    const day = this.stretches.last[e]!;
    // No step is sent on a day from which a later step would be late.
    if (!this.allowed[k]![s]![day]) return this.sumBefore(k, s, e);
    const most = this.sumBy(k, s - 1, this.may[k]![s]![day]!);
    const least = this.sumBy(k, s - 1, this.must[k]![s]![day]!);
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
    const e = this.stretches.of[day]!;
    const [before, here] = [this.sumBefore(k, s, e), this.sums[k]![s]![e]!];
    const share = this.stretches.share[day]!;
    if (share === 1 || before === here) return here;
    return this.forms
      .putAll(before, 1 - share)
      .putAll(here, share)
      .end();
  }

  /** The value of starts: days before the last, times a person's messages. */
  objective(): Float64Array {
    const { n, forms, stretches } = this;
    const { kinds } = this.stream;
    const c = new Float64Array(this.count);
    const worth = this.worth();
    for (let e = 0; e < n; e++) {
      kinds.forEach(({ steps }, k) => {
        if (worth[e]! > 0) forms.addTo(c, this.sums[k]![0]![e]!, worth[e]! * steps.length);
      });
    }
    // Between equal courses, the one with earlier follow-ups.
    for (const { id } of this.free) c[id]! += 1e-3;
    const most = c.reduce((a, b) => Math.max(a, b), 1e-9);
    for (const { missing } of this.ends) c[missing] = -most * stretches.of.length;
    return c;
  }

  /** For each stretch, the number of days for which its sum counts. */
  private worth(): Float64Array {
    const { workday } = this.stream;
    const { of, share } = this.stretches;
    const worth = new Float64Array(this.n);
    for (let j = 0; j < of.length; j++) {
      const next = Math.min(this.lastStart + 1, j + 1 < of.length ? workday[j + 1]! : Infinity);
      const length = Math.max(0, next - workday[j]!);
      worth[of[j]!]! += share[j]! * length;
      if (of[j]! > 0) worth[of[j]! - 1]! += (1 - share[j]!) * length;
    }
    return worth;
  }

  /** For each variable, its coefficient in the total starts. */
  totals(): Float64Array {
    const factors = new Float64Array(this.count);
    for (const [starts] of this.sums) if (this.n > 0) this.forms.addTo(factors, starts!.at(-1)!, 1);
    return factors.map((factor) => (Math.abs(factor) < 1e-12 ? 0 : factor));
  }

  /** Cumulative starts never fall, and no kind leans too far. */
  private addStarts(out: RowBuilder, e: number, scale: number): void {
    const leans = [e - 1, e].some((d) => d >= 0 && this.balance[d]! >= 0);
    if (!leans) {
      out.variable(this.starts[e]!, -1);
      if (e > 0 && this.starts[e - 1]! >= 0) out.variable(this.starts[e - 1]!, 1);
      out.end(0);
      return;
    }
    for (let k = 0; k < this.lean.length; k++) {
      out
        .add(this.sumBefore(k, 0, e), 1)
        .add(this.sums[k]![0]![e]!, -1)
        .end(0);
      const own = this.lean[k]![e]!;
      if (own < 0) continue;
      const { most } = this.stream.kinds[k]!;
      const least = Math.min(most!, this.stream.kinds[this.balance[e]!]!.most!);
      const bound = Math.min(LEANING.days, (LEANING.people * least) / scale);
      out.variable(own, 1).end(bound);
      out.variable(own, -1).end(bound);
    }
  }

  /** By its last day, everybody of a kind has started. */
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
    const { n, stream, stretches } = this;
    const out = new RowBuilder(this.forms, this.count);
    let next = 0;
    for (let e = 0; e < n; e++) {
      const id = this.starts[e]!;
      const before = e === 0 ? -1 : this.starts[e - 1]!;
      if (id >= 0 && id !== before) {
        this.addStarts(out, e, scale);
        if (stream.available) out.variable(id, 1).end(stream.available[stretches.last[e]!]! / scale);
      }
      while (this.free[next]?.e === e) this.addFree(out, this.free[next++]!);
      for (let k = 0; k < stream.kinds.length; k++)
        for (let s = 0; s < this.sums[k]!.length; s++) {
          const [sum, last] = [this.sums[k]![s]![e]!, this.sumBefore(k, s, e)];
          if (sum !== last) out.add(sum, 1).add(last, -1);
        }
      out.end(stretches.capacity[e]! / scale);
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
