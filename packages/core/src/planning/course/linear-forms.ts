import type { Inequalities } from '../solver/linear-program';

/** Numbered linear combinations of variables; number 0 is the empty one. */
export class LinearForms {
  /** The terms of combination i are at start[i] to start[i + 1] - 1. */
  private readonly start = [0, 0];
  private readonly variable: number[] = [];
  private readonly factor: number[] = [];

  /** Adds a term to the combination being built. */
  put(variable: number, factor: number): this {
    this.variable.push(variable);
    this.factor.push(factor);
    return this;
  }

  /** Adds all terms of another combination, multiplied by `times`. */
  putAll(form: number, times = 1): this {
    const end = this.start[form + 1]!;
    for (let t = this.start[form]!; t < end; t++) this.put(this.variable[t]!, times * this.factor[t]!);
    return this;
  }

  /** Completes the combination being built. @returns its number; `like` if the two are equal */
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

  /** Adds a combination, multiplied by `times`, to dense coefficients; those that were 0 go into `touched`. */
  addTo(factors: Float64Array, form: number, times: number, touched: number[] = []): void {
    const end = this.start[form + 1]!;
    for (let t = this.start[form]!; t < end; t++) {
      const variable = this.variable[t]!;
      if (factors[variable] === 0) touched.push(variable);
      factors[variable]! += times * this.factor[t]!;
    }
  }
}

/** Coefficients below this are rounding errors and count as 0. */
const NOTHING = 1e-12;

/** Builds inequalities from linear combinations, leaving out terms that cancel. */
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

  /** Completes the row: the sum of what was added is at most `bound`. Rows are scaled so that no bound is above 1. */
  end(bound: number): void {
    const before = this.column.length;
    const scale = 1 / Math.max(1, Math.abs(bound));
    for (const id of this.touched) {
      const factor = this.factors[id]!;
      // A coefficient that became 0 in between has been touched twice.
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
