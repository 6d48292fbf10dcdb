import { meanOffset, type Entry } from './entries';
import type { Group } from './groups';
import type { PlanDays } from '../workspace/plan-days';
import { sumOf } from '../sum';

/** People of one sequence, or of several similar ones, in one group of mailboxes. */
export interface SequenceClass {
  /** The steps of the sequence; of several, of the one with the most people. */
  steps: Entry['steps'];
  /** Numbers of the entries. */
  entries: number[];
  /** Part of the group's starts on each day, 0 to 1. */
  part: Float64Array;
  /** Cumulative units available by the end of each day. */
  available: Float64Array;
  /** Units that start in the group. */
  units: number;
}

/**
 * Forecasts who starts when: on every day the starts of a group of mailboxes go to the entries that have people waiting
 * for it and have started least for their weight, counted over all groups.
 *
 * @param units for each group, what each of its entries starts there
 * @param starts units that start on each day in each group, once a course has been computed; before, they are estimated
 *   from the capacity one mean delay later
 * @param most how many classes are told apart in a group; sequences of different length are always told apart
 * @returns for each group its classes; their parts of a day add up to 1
 */
export function forecastClassMix(
  days: PlanDays,
  entries: readonly Entry[],
  groups: readonly Group[],
  units: readonly number[][],
  starts: readonly Float64Array[] | null,
  most: number,
): SequenceClass[][] {
  const forecast = new Forecast(days, entries, groups, units, starts, most);
  for (let i = 0; i < days.count; i++) forecast.day(i);
  forecast.even();
  return forecast.classes;
}

/** A group, its classes, and the units of each of its entries that have not started in it yet. */
interface GroupState {
  group: Group;
  left: number[];
  /** The class of each entry, as a position in `classes`. */
  classOf: number[];
  classes: SequenceClass[];
  /** For each class, the cumulative starts forecast by the end of each day. */
  courses: Float64Array[];
  offset: number;
  /** Nobody is left who might start in it. */
  isOver: boolean;
}

/** Fewer units than this count as none. */
const END = 1e-6;

class Forecast {
  private readonly states: GroupState[];
  /** For each entry, the units not started, and the units started divided by weight, which decides whose turn it is. */
  private readonly left: number[];
  private readonly score: number[];
  /** Days on which an entry begins or has its last starts in a group, and the days after those. */
  private readonly events = new Set<number>();

  constructor(
    private readonly days: PlanDays,
    private readonly entries: readonly Entry[],
    groups: readonly Group[],
    units: readonly number[][],
    private readonly starts: readonly Float64Array[] | null,
    private readonly most: number,
  ) {
    this.left = entries.map((e) => e.units);
    this.score = entries.map(() => 0);
    this.states = groups.map((group, g) => this.stateOf(group, units[g]!));
  }

  /** Replaces the parts of each day by their mean between two days on which an entry begins or ends. */
  even(): void {
    const { count } = this.days;
    const ends = [...new Set([...this.events, count])].filter((i) => i > 0).sort((a, b) => a - b);
    for (const { classes, courses } of this.states) {
      if (classes.length === 1) continue;
      let from = 0;
      for (const to of ends) {
        const begun = courses.map((course) => course[to - 1]! - (from === 0 ? 0 : course[from - 1]!));
        const all = sumOf(begun);
        classes.forEach(({ part }, k) => {
          const even = all > END ? begun[k]! / all : sumOf(part.subarray(from, to)) / (to - from);
          part.fill(even, from, to);
        });
        from = to;
      }
    }
  }

  get classes(): SequenceClass[][] {
    return this.states.map(({ classes }) => classes);
  }

  private stateOf(group: Group, units: readonly number[]): GroupState {
    const { count } = this.days;
    const sequences = mergeSequences(
      group.entries.map((e, at) => ({ steps: this.entries[e]!.steps, units: units[at]! })),
      this.most,
    );
    const classes = sequences.map(({ steps, members }): SequenceClass => {
      const available = new Float64Array(count);
      for (const at of members) {
        const { available: own, units: all } = this.entries[group.entries[at]!]!;
        for (let i = 0; i < count; i++) available[i]! += (own[i]! * units[at]!) / all;
      }
      const all = sumOf(members.map((at) => units[at]!));
      const entries = members.map((at) => group.entries[at]!);
      return { steps, entries, part: new Float64Array(count), available, units: all };
    });
    const classOf = group.entries.map((_, at) => sequences.findIndex(({ members }) => members.includes(at)));
    const own = group.entries.map((e, at) => ({ steps: this.entries[e]!.steps, units: units[at]! }));
    const offset = Math.round(meanOffset(own));
    const courses = classes.map(() => new Float64Array(count));
    return { group, left: [...units], classOf, classes, courses, offset, isOver: false };
  }

  day(i: number): void {
    if (this.entries.some(({ begins }) => begins === i)) this.events.add(i);
    this.admit(i);
    const { entries, left, states } = this;
    const waiting = entries.map((e, k) => Math.max(0, e.available[i]! - (e.units - left[k]!)));
    const starts = states.map((state, g) => (state.isOver ? 0 : this.startsOf(state, g, i, waiting)));
    // Units that wait for several groups are divided by what each of these starts.
    const all = entries.map(() => 0);
    states.forEach(({ group, left: own, isOver }, g) => {
      if (isOver) return;
      group.entries.forEach((e, at) => {
        if (own[at]! > END) all[e]! += starts[g]!;
      });
    });
    states.forEach((state, g) => {
      if (state.isOver) return;
      const { group, left: own } = state;
      const most = group.entries.map((e, at) =>
        all[e]! > 0 && own[at]! > END ? Math.min(own[at]!, (waiting[e]! * starts[g]!) / all[e]!) : 0,
      );
      const rivals = group.entries.map((e) => ({ weight: entries[e]!.weight, score: this.score[e]! }));
      const given = shareOut(starts[g]!, rivals, most);
      this.divide(state, i, given, waiting);
      group.entries.forEach((e, at) => {
        if (own[at]! > END && own[at]! - given[at]! <= END) this.events.add(i).add(i + 1);
        own[at]! -= given[at]!;
        left[e]! -= given[at]!;
        this.score[e]! += given[at]! / entries[e]!.weight;
      });
      if (own.every((units) => units <= END)) this.end(state, i);
    });
  }

  /** Everybody has started: the remaining days repeat this one. */
  private end(state: GroupState, i: number): void {
    state.isOver = true;
    for (const { part } of state.classes) part.fill(part[i]!, i + 1);
    for (const course of state.courses) course.fill(course[i]!, i + 1);
  }

  /** Entries that begin on a day start level with the others. */
  private admit(i: number): void {
    const { entries, left, score } = this;
    const others = score.filter((_, e) => entries[e]!.begins < i && left[e]! > END);
    if (others.length === 0) return;
    const least = Math.min(...others);
    entries.forEach(({ begins }, e) => {
      if (begins === i) score[e] = least;
    });
  }

  /** Units that a group starts on a day, from the computed course or estimated. */
  private startsOf({ group, left, offset }: GroupState, g: number, i: number, waiting: readonly number[]): number {
    if (this.starts) return this.starts[g]![i]!;
    const active = group.entries.filter((e, at) => waiting[e]! > 0 && left[at]! > END).map((e) => this.entries[e]!);
    const weight = active.reduce((sum, e) => sum + e.weight, 0);
    const steps = active.reduce((sum, e) => sum + e.weight * e.steps.length, 0);
    return active.length === 0 ? 0 : (this.ahead(group, offset, i) * weight) / steps;
  }

  /** The proportions in which entries start: as assigned, else by weight of those waiting, else as the day before. */
  private divide(
    { group, classes, classOf, left, courses }: GroupState,
    i: number,
    given: readonly number[],
    waiting: readonly number[],
  ) {
    const weights = group.entries.map((e, at) => (waiting[e]! > 0 && left[at]! > END ? this.entries[e]!.weight : 0));
    const [shared, weighed] = [sumOf(given), sumOf(weights)];
    for (const course of courses) course[i] = i === 0 ? 0 : course[i - 1]!;
    group.entries.forEach((_, at) => {
      const { part } = classes[classOf[at]!]!;
      courses[classOf[at]!]![i]! += given[at]!;
      if (shared > 1e-9) part[i]! += given[at]! / shared;
      else if (weighed > 0) part[i]! += weights[at]! / weighed;
    });
    if (shared <= 1e-9 && weighed === 0)
      for (const { part } of classes) part[i] = i === 0 ? 1 / classes.length : part[i - 1]!;
  }

  /** Capacity for the starts of a day: that of the day one mean offset later; on the first day, all up to then. */
  private ahead({ capacity }: Group, offset: number, i: number): number {
    const { days } = this;
    const to = Math.min(days.count - 1, days.after(i, offset));
    const from = i === 0 ? 0 : Math.min(days.count, days.after(i - 1, offset) + 1);
    let sum = 0;
    for (let d = from; d <= to; d++) sum += capacity[d]!;
    return sum;
  }
}

/** Entries with the same sequence or similar ones. */
interface Sequence {
  steps: Entry['steps'];
  units: number;
  /** Working days from the first message to the last. */
  length: number;
  /** Their positions in the input. */
  members: number[];
}

/** Groups entries by sequence; if there are too many, the most similar sequences are merged. */
function mergeSequences(given: readonly { steps: Entry['steps']; units: number }[], most: number): Sequence[] {
  const same = new Map<string, Sequence>();
  given.forEach(({ steps, units }, at) => {
    const key = JSON.stringify(steps);
    const length = steps.reduce((sum, { delay }) => sum + delay, 0);
    const sequence = same.get(key) ?? { steps, units: 0, length, members: [] };
    sequence.units += units;
    sequence.members.push(at);
    same.set(key, sequence);
  });
  const found = [...same.values()];
  while (found.length > most) {
    const nearest = nearestOf(found);
    if (!nearest) break;
    const [a, b] = nearest;
    const { steps, length } = a.units >= b.units ? a : b;
    found.splice(found.indexOf(b), 1);
    Object.assign(a, { steps, length, units: a.units + b.units, members: [...a.members, ...b.members] });
  }
  return found;
}

/** The first pair with equally many messages and the closest lengths. */
function nearestOf(found: readonly Sequence[]): [Sequence, Sequence] | null {
  let nearest: [Sequence, Sequence] | null = null;
  let least = Infinity;
  found.forEach((a, i) => {
    for (let k = i + 1; k < found.length; k++) {
      const b = found[k]!;
      const by = Math.abs(a.length - b.length);
      if (a.steps.length === b.steps.length && by < least) [nearest, least] = [[a, b], by];
    }
  });
  return nearest;
}

/**
 * Distributes units so that the lowest scores (units divided by weight) are raised to a common level; nobody gets more
 * than they can take.
 */
function shareOut(
  units: number,
  rivals: readonly { weight: number; score: number }[],
  most: readonly number[],
): number[] {
  if (units <= 0) return rivals.map(() => 0);
  if (rivals.length === 1) return [Math.min(units, most[0]!)];
  if (sumOf(most) <= units) return [...most];
  const given = (k: number, level: number) =>
    Math.min(most[k]!, Math.max(0, (level - rivals[k]!.score) * rivals[k]!.weight));
  const givenBy = (level: number) => {
    let sum = 0;
    for (let k = 0; k < rivals.length; k++) sum += given(k, level);
    return sum;
  };
  // The level is between two of the levels at which somebody starts or stops taking units.
  const levels = new Float64Array(2 * rivals.length);
  rivals.forEach(({ weight, score }, k) => {
    levels[2 * k] = score;
    levels[2 * k + 1] = score + most[k]! / weight;
  });
  levels.sort();
  let [low, high] = [0, levels.length - 1];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (givenBy(levels[middle]!) < units) low = middle + 1;
    else high = middle;
  }
  const [before, next] = [levels[Math.max(0, low - 1)]!, levels[low]!];
  const less = givenBy(before);
  const more = givenBy(next) - less;
  const level = more < 1e-12 ? next : before + (next - before) * Math.min(1, (units - less) / more);
  return rivals.map((_, k) => given(k, level));
}
