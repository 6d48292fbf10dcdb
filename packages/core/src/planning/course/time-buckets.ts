/** Open days treated as one: a sum is known at the end of each bucket, and grows within it in proportion to capacity. */
export class TimeBuckets {
  /** The last day of each bucket, and the total capacity of its days. */
  readonly last: Int32Array;
  readonly capacity: Float64Array;
  /** The bucket of each day. */
  readonly of: Int32Array;
  /** The part of its bucket's capacity that is used by the end of each day; 1 on the last. */
  readonly filled: Float64Array;

  /**
   * @param capacity of each day
   * @param mayJoin whether a day may be in the same bucket as the day before
   * @param most the greatest length of a bucket, in days
   */
  constructor(capacity: Float64Array, mayJoin: (day: number) => boolean, most: number) {
    const days = capacity.length;
    this.of = new Int32Array(days);
    this.filled = new Float64Array(days);
    const [last, sums]: [number[], number[]] = [[], []];
    for (let from = 0; from < days;) {
      let to = from + 1;
      for (const end = Math.min(days, from + most); to < end && mayJoin(to);) to++;
      let all = 0;
      for (let j = from; j < to; j++) all += capacity[j]!;
      let sum = 0;
      for (let j = from; j < to; j++) {
        this.of[j] = last.length;
        sum += capacity[j]!;
        this.filled[j] = j === to - 1 || all <= 0 ? 1 : sum / all;
      }
      last.push(to - 1);
      sums.push(all);
      from = to;
    }
    this.last = new Int32Array(last);
    this.capacity = new Float64Array(sums);
  }

  get count(): number {
    return this.last.length;
  }

  /** Interpolates the sums by the end of each day from those by the end of each bucket. */
  byDay(sums: ArrayLike<number>): Float64Array {
    const out = new Float64Array(this.of.length);
    for (let j = 0; j < out.length; j++) {
      const at = this.of[j]!;
      const before = at === 0 ? 0 : sums[at - 1]!;
      out[j] = before + this.filled[j]! * (sums[at]! - before);
    }
    return out;
  }
}
