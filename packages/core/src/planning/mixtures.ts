import { meanOffset, type Pattern } from './patterns';
import type { PlanDays } from './plan-days';

/** Which patterns start in one mailbox, and in what proportion, day by day. */
export interface Mixture {
  /** Indices of the patterns that may use the mailbox. */
  patterns: number[];
  /** Part of the starts that each of them has on each day; adding up to 1. */
  part: Float64Array[];
  /** Units left on each day. */
  capacity: Float64Array;
  /** Units of people available for this mailbox by the end of each day. */
  available: Float64Array;
}

/**
 * Foresees who will be starting when: on every day the starts of a mailbox go to the patterns that have somebody to
 * start and have started least over weight, counted over all mailboxes. A pattern with a limit of its own gets no more capacity than that.
 *
 * @param capacity units left in each mailbox on each day
 * @param starts units that start on each day of each mailbox, where a course has been found; else they are
 *   guessed from the capacity one mean delay ahead
 */
export function foreseeMixtures(
  days: PlanDays,
  patterns: readonly Pattern[],
  capacity: readonly Float64Array[],
  starts: readonly Float64Array[] | null,
): Mixture[] {
  const guess = new Guess(days, patterns, capacity, starts);
  if (patterns.length === 1) guess.alone();
  else for (let i = 0; i < days.count; i++) guess.day(i);
  return guess.mixtures;
}

class Guess {
  readonly mixtures: Mixture[];
  private readonly offset: number;
  private readonly left: number[];
  /** By pattern: units started over weight, as those who start take turns by. */
  private readonly score: number[];
  /** By pattern: the part of its people that each mailbox can be expected to get. */
  private readonly portion: Float64Array[];

  constructor(
    private readonly days: PlanDays,
    private readonly patterns: readonly Pattern[],
    capacity: readonly Float64Array[],
    private readonly starts: readonly Float64Array[] | null,
  ) {
    const { count } = days;
    this.left = patterns.map((p) => p.units);
    this.score = patterns.map(() => 0);
    this.offset = Math.round(meanOffset(patterns));
    this.mixtures = capacity.map((left, m): Mixture => {
      const own = [...patterns.keys()].filter((k) => patterns[k]!.mailboxes.includes(m));
      const units = own.length === 0 ? new Float64Array(count) : left.slice();
      return {
        patterns: own,
        part: own.map(() => new Float64Array(count)),
        capacity: units,
        available: new Float64Array(count),
      };
    });
    if (patterns.length === 1 && patterns[0]!.own) this.limit(patterns[0]!);
    this.portion = patterns.map((p) => {
      const sums = p.mailboxes.map((m) => this.mixtures[m]!.capacity.reduce((a, b) => a + b, 0));
      const all = Math.max(
        1e-9,
        sums.reduce((a, b) => a + b, 0),
      );
      return Float64Array.from(sums, (s) => s / all);
    });
  }

  /** With nobody to share with, all who start are of the one pattern. */
  alone(): void {
    const [pattern] = this.patterns;
    this.mixtures.forEach((mixture, m) => {
      const portion = this.portionOf(0, m);
      for (const part of mixture.part) part.fill(1);
      if (mixture.patterns.length > 0)
        for (let i = 0; i < this.days.count; i++) mixture.available[i] = pattern!.available[i]! * portion;
    });
  }

  day(i: number): void {
    const { patterns, mixtures, left, score } = this;
    this.join(i);
    const waiting = patterns.map((p, k) => Math.max(0, p.available[i]! - (p.units - left[k]!)));
    const starts = mixtures.map((mixture, m) => this.startsOf(mixture, m, i, waiting));
    // What waits for several mailboxes is theirs by what each of them starts.
    const all = patterns.map((_, k) =>
      mixtures.reduce((sum, { patterns: own }, m) => sum + (own.includes(k) ? starts[m]! : 0), 0),
    );
    mixtures.forEach((mixture, m) => {
      const most = mixture.patterns.map((k) => (all[k]! > 0 ? (waiting[k]! * starts[m]!) / all[k]! : 0));
      const given = shareOut(
        starts[m]!,
        mixture.patterns.map((k) => ({ weight: patterns[k]!.weight, score: score[k]! })),
        most,
      );
      this.divide(mixture, m, i, given, waiting);
      mixture.patterns.forEach((k, at) => {
        left[k]! -= given[at]!;
        score[k]! += given[at]! / patterns[k]!.weight;
      });
    });
  }

  /** Patterns that begin on a day join the others where these are. */
  private join(i: number): void {
    const { patterns, left, score } = this;
    const others = score.filter((_, k) => patterns[k]!.begins < i && left[k]! > 1e-9);
    if (others.length === 0) return;
    const least = Math.min(...others);
    patterns.forEach(({ begins }, k) => {
      if (begins === i) score[k] = least;
    });
  }

  private portionOf(k: number, m: number): number {
    return this.portion[k]![this.patterns[k]!.mailboxes.indexOf(m)] ?? 0;
  }

  /** Units that a mailbox starts on a day: of the course that was found, or a guess. */
  private startsOf(mixture: Mixture, m: number, i: number, waiting: readonly number[]): number {
    if (this.starts) return this.starts[m]![i]!;
    const active = mixture.patterns.filter((k) => waiting[k]! > 0).map((k) => this.patterns[k]!);
    const weight = active.reduce((sum, p) => sum + p.weight, 0);
    const steps = active.reduce((sum, p) => sum + p.weight * p.steps.length, 0);
    return active.length === 0 ? 0 : (this.ahead(mixture, i) * weight) / steps;
  }

  /** Holds the capacity of a pattern on its own to its limit, mailboxes in proportion. */
  private limit({ own, mailboxes }: Pattern): void {
    const { messages, of } = own!;
    for (let i = 0; i < this.days.count; i++) {
      const sum = mailboxes.reduce((all, m) => all + this.mixtures[m]!.capacity[i]!, 0);
      const factor = Math.min(1, messages / Math.max(1e-9, sum));
      for (const m of mailboxes) {
        const { capacity } = this.mixtures[m]!;
        capacity[i] = of === 'all mailboxes' ? capacity[i]! * factor : Math.min(capacity[i]!, messages);
      }
    }
  }

  /** Who starts in which proportion: as was shared out, else by weight among those who wait, else as the day before. */
  private divide(mixture: Mixture, m: number, i: number, given: readonly number[], waiting: readonly number[]): void {
    const { patterns } = this;
    const weights = mixture.patterns.map((k) => (waiting[k]! > 0 ? patterns[k]!.weight : 0));
    const [shared, weighed] = [sumOf(given), sumOf(weights)];
    mixture.patterns.forEach((k, at) => {
      const before = i === 0 ? 1 / mixture.patterns.length : mixture.part[at]![i - 1]!;
      mixture.part[at]![i] = shared > 1e-9 ? given[at]! / shared : weighed > 0 ? weights[at]! / weighed : before;
      mixture.available[i]! += patterns[k]!.available[i]! * this.portionOf(k, m);
    });
  }

  /** Capacity that becomes plannable on a day: that of the day one mean offset ahead; on the first, all up to then. */
  private ahead({ capacity }: Mixture, i: number): number {
    const { days, offset } = this;
    const to = Math.min(days.count - 1, days.after(i, offset));
    const from = i === 0 ? 0 : Math.min(days.count, days.after(i - 1, offset) + 1);
    let sum = 0;
    for (let d = from; d <= to; d++) sum += capacity[d]!;
    return sum;
  }
}

const sumOf = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0);

/**
 * Shares units out so that those who have the lowest score, units over weight, come level with the others; nobody gets
 * more than they can take.
 */
function shareOut(
  units: number,
  turns: readonly { weight: number; score: number }[],
  most: readonly number[],
): number[] {
  const at = (level: number) =>
    turns.map(({ weight, score }, k) => Math.min(most[k]!, Math.max(0, (level - score) * weight)));
  if (units <= 0) return turns.map(() => 0);
  if (sumOf(most) <= units) return [...most];
  // The level lies between two of those at which somebody begins or ends to take.
  const steps = turns.flatMap(({ weight, score }, k) => [score, score + most[k]! / weight]).sort((a, b) => a - b);
  let before = steps[0]!;
  for (const next of steps) {
    const given = sumOf(at(next));
    if (given < units) {
      before = next;
      continue;
    }
    const less = sumOf(at(before));
    const level = given - less < 1e-12 ? next : before + ((next - before) * (units - less)) / (given - less);
    return at(level);
  }
  return at(before);
}
