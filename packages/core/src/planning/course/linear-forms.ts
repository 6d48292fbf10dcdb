import type { Inequalities } from '../solver/linear-program';

/** Sums of variables, each with a factor; they are numbered, and number 0 is the sum of none. */
export class LinearForms {
  /** Sum i has its terms at start[i] to start[i + 1] - 1. */
  private readonly start = [0, 0];
  private readonly variable: number[] = [];
  private readonly factor: number[] = [];

  /** Puts a term into the sum that is being made. */
  put(variable: number, factor: number): this {
    this.variable.push(variable);
    this.factor.push(factor);
    return this;
  }

  /** Puts all terms of another sum into it, `times` over. */
  putAll(form: number, times = 1): this {
    const end = this.start[form + 1]!;
    for (let t = this.start[form]!; t < end; t++) this.put(this.variable[t]!, times * this.factor[t]!);
    return this;
  }

  /** Ends the sum that is being made. @returns its number; `like` where that is the same */
  end(like = 0): number {
    const made = this.start.length - 1;
    this.start.push(this.variable.length);
    if (!this.isSame(made, like)) return made;
    this.start.pop();
    this.variable.length = this.factor.length = this.start[made]!;
    return like;
  }

  isSame(a: number, b: number): boolean {
    if (a === b) return true;
    const [from, other] = [this.start[a]!, this.start[b]!];
    const length = this.start[a + 1]! - from;
    if (this.start[b + 1]! - other !== length) return false;
    for (let t = 0; t < length; t++) {
      if (this.variable[from + t] !== this.variable[other + t]) return false;
      if (this.factor[from + t] !== this.factor[other + t]) return false;
    }
    return true;
  }

  valueOf(form: number, z: Float64Array): number {
    const end = this.start[form + 1]!;
    let value = 0;
    for (let t = this.start[form]!; t < end; t++) value += z[this.variable[t]!]! * this.factor[t]!;
    return value;
  }

  /** Adds a sum, `times` over, to the factors of its variables; those that had none are put into `touched`. */
  addTo(factors: Float64Array, form: number, times: number, touched: number[] = []): void {
    const end = this.start[form + 1]!;
    for (let t = this.start[form]!; t < end; t++) {
      const variable = this.variable[t]!;
      if (factors[variable] === 0) touched.push(variable);
      factors[variable]! += times * this.factor[t]!;
    }
  }
}

/** Below this a factor is what rounding leaves of none. */
const NOTHING = 1e-12;

/** Puts inequalities together out of sums; what cancels out is left out. */
export class RowBuilder {
  private readonly start = [0];
  private readonly column: number[] = [];
  private readonly value: number[] = [];
  private readonly bound: number[] = [];
  private readonly factors: Float64Array;
  private readonly touched: number[] = [];

  /** @param n number of variables */
  constructor(
    private readonly forms: LinearForms,
    private readonly n: number,
  ) {
    this.factors = new Float64Array(n);
  }

  add(form: number, times: number): this {
    this.forms.addTo(this.factors, form, times, this.touched);
    return this;
  }

  variable(id: number, factor: number): this {
    if (this.factors[id] === 0) this.touched.push(id);
    this.factors[id]! += factor;
    return this;
  }

  /** Ends the row: what was added is at most `bound`. Rows are scaled so that no bound is above 1. */
  end(bound: number): void {
    const before = this.column.length;
    const scale = 1 / Math.max(1, Math.abs(bound));
    for (const id of this.touched) {
      const factor = this.factors[id]!;
      // One that fell to 0 on the way was touched twice.
      this.factors[id] = 0;
      if (Math.abs(factor) <= NOTHING) continue;
      this.column.push(id);
      this.value.push(factor * scale);
    }
    this.touched.length = 0;
    if (this.column.length === before) return;
    this.start.push(this.column.length);
    this.bound.push(bound * scale);
  }

  rows(): Inequalities {
    const { n, start, column: index, value, bound } = this;
    return { n, matrix: { start, index, value }, bound };
  }
}
