import { meanOffset } from './entries';
import type { Group } from './groups';
import type { SequenceClass } from './class-mix';
import type { PlanDays } from '../workspace/plan-days';
import { startCurves, type Precision, type Curves } from './start-curves';
import type { Stream } from './stream-program';
import { sumOf } from '../sum';

/** How much effort to spend. */
export interface Effort extends Precision {
  /** How often the class mix is computed again from the course. */
  iterations: number;
  /** Sequences told apart in a group of mailboxes. */
  classes: number;
  /** Shapes of mailboxes told apart. */
  shapes: number;
  /** Units a day from which a program of two classes lets one be ahead of its part for a while. */
  deviatesFrom: number;
}

/** For each class and step, the cumulative units to be sent by the end of each day index. */
export type Aims = Curves;

/** The course of a group of mailboxes. */
export interface GroupCourse {
  /** Workday of the last start. */
  lastStart: number;
  /** One entry per mailbox of the group, in the group's order. */
  aims: Aims[];
}

/** Mailboxes of one shape, whose course is computed once. */
interface Pool {
  /** Their positions in the group. */
  members: number[];
  /** Day indices on which any of them is open, and their total capacity on each. */
  open: number[];
  capacity: Float64Array;
  /** By the end of each day, the pool's part of the group's cumulative capacity, or of each class if known. */
  portion: Float64Array;
  portions: number[] | null;
}

/**
 * The best course through each mailbox of some groups. People of one class are interchangeable, so the mailboxes of a
 * group are coupled by one number only: how many start in all of them. Mailboxes of one shape form one stream, and the
 * streams of a group form one linear program.
 *
 * @param classes of each group
 * @param capacity units left in each mailbox on each day
 * @param before the courses found for a similar class mix, which tell what part of each class a mailbox gets
 */
export function aimStarts(
  days: PlanDays,
  groups: readonly Group[],
  classes: readonly SequenceClass[][],
  capacity: readonly Float64Array[],
  effort: Effort,
  before: readonly GroupCourse[] | null = null,
): GroupCourse[] {
  const pools = findPools(days, groups, capacity, effort.shapes);
  return groups.map((group, g) => {
    const aims = group.mailboxes.map((): Aims =>
      classes[g]!.map(({ steps }) => steps.map(() => new Float64Array(days.count))),
    );
    if (classes[g]!.every(({ units }) => units === 0)) return { lastStart: 0, aims };
    for (const pool of pools[g]!) pool.portions = before && portionsOf(pool, before[g]!);
    const { curves, lastStart } = solvePools(days, classes[g]!, pools[g]!, effort, before?.[g]?.lastStart ?? null);
    pools[g]!.forEach((pool, at) => spread(days, pool, group, capacity, curves[at]!, aims));
    return { lastStart, aims };
  });
}

/** The pools of each group: few enough over all groups, but at least one for each set of open days. */
function findPools(
  days: PlanDays,
  groups: readonly Group[],
  capacity: readonly Float64Array[],
  shapes: number,
): Pool[][] {
  const alike = groups.map(({ mailboxes }) =>
    byShape(
      days,
      mailboxes.map((m) => capacity[m]!),
    ),
  );
  const each = Math.max(1, Math.floor(shapes / alike.reduce((sum, own) => sum + own.length, 0)));
  return groups.map((group, g) =>
    alike[g]!.flatMap((shaped) => merge(shaped, each)).map((members) => poolOf(group, capacity, members)),
  );
}

/** Mailboxes grouped by their open days and sorted by the shape of their capacity, early ones first. */
function byShape(days: PlanDays, capacities: readonly Float64Array[]): number[][][] {
  const calendars = new Map<string, Map<string, { members: number[]; centre: number }>>();
  capacities.forEach((capacity, at) => {
    let [sum, moment, n] = [0, 0, 0];
    for (let i = 0; i < days.count; i++) {
      sum += capacity[i]!;
      moment += capacity[i]! * i;
      if (capacity[i]! > 0) n++;
    }
    // Capacity of a day as a share of the mean, rounded coarsely, so that similar mailboxes have the same key.
    const scale = (n * 40) / sum;
    let [shape, calendar] = ['', ''];
    for (let i = 0; i < days.count; i++) {
      shape += String.fromCharCode(Math.min(60_000, 1 + Math.round(capacity[i]! * scale)));
      calendar += capacity[i]! > 0 ? '1' : '0';
    }
    const shaped = calendars.get(calendar) ?? new Map<string, { members: number[]; centre: number }>();
    const same = shaped.get(shape) ?? { members: [], centre: moment / sum };
    same.members.push(at);
    shaped.set(shape, same);
    calendars.set(calendar, shaped);
  });
  const sorted = [...calendars].sort(([a], [b]) => (a < b ? -1 : 1));
  return sorted.map(([, shaped]) =>
    [...shaped.values()].sort((a, b) => a.centre - b.centre).map(({ members }) => members),
  );
}

/** Merges neighbours until there are few enough. */
function merge(shaped: readonly number[][], most: number): number[][] {
  const pools: number[][] = [];
  shaped.forEach((members, at) => {
    const pool = Math.floor((at * Math.min(most, shaped.length)) / shaped.length);
    (pools[pool] ??= []).push(...members);
  });
  return pools;
}

function poolOf(group: Group, capacity: readonly Float64Array[], members: number[]): Pool {
  const sum = new Float64Array(group.capacity.length);
  for (const at of members) capacity[group.mailboxes[at]!]!.forEach((units, i) => (sum[i]! += units));
  const open = [...sum.keys()].filter((i) => sum[i]! > 0);
  let [own, all] = [0, 0];
  const portion = sum.map((units, i) => (own += units) / Math.max(1e-9, (all += group.capacity[i]!)));
  return { members, open, capacity: pick(sum, open), portion: pick(portion, open), portions: null };
}

function portionsOf({ members, portion }: Pool, { aims }: GroupCourse): number[] {
  return aims[0]!.map((_, k) => {
    const starts = aims.map((own) => own[k]![0]!.at(-1)!);
    const all = sumOf(starts);
    return all === 0 ? portion.at(-1)! : members.reduce((sum, at) => sum + starts[at]!, 0) / all;
  });
}

/**
 * How sharply a course is sought from which only others are found: some days at a time; and where there are several
 * groups, which then share people anew: what is not drawn to its extremes yet tells better who starts where.
 */
export const COARSE: Precision = { gap: 1e-2, bucketDays: 5 };
export const COARSER: Precision = { gap: 4e-2, bucketDays: 4 };

/** An interior-point method needs a strict interior: no variable may be bounded to exactly 0. */
const LEAST_UNITS = 0.01;

/** Slightly more than everybody: rounding to whole messages loses some. */
export const withSlack = (units: number, mailboxes: number): number => units * 1.005 + mailboxes;

/** Missing starts, as a part of all, for which no later last day is tried; within the slack. */
const MISSING = 5e-3;
/** How far after `near` the last day may be: in workdays, and as a part of the days up to it. */
const LATER = { days: 1, part: 0.07 };

/** @param near the last day of similar courses, where any are known */
function solvePools(
  days: PlanDays,
  classes: readonly SequenceClass[],
  pools: readonly Pool[],
  { gap, bucketDays, deviatesFrom }: Effort,
  near: number | null,
): { lastStart: number; curves: Curves[] } {
  const mailboxes = pools.reduce((sum, p) => sum + p.members.length, 0);
  const units = withSlack(
    classes.reduce((sum, k) => sum + k.units, 0),
    mailboxes,
  );
  const deviates = mayDeviate(classes, pools, deviatesFrom);
  const waiting = availableOf(days.count, classes, mailboxes);
  const streams = pools.map((pool) => ({ ...streamOf(classes, pool, mailboxes, waiting), deviates }));
  const { day, perDay } = meanRate(days, classes, pools, units);
  const [first, end] = [days.workday[0]!, days.workday[days.count - 1]!];
  const guess = near === null ? day + LATER.days : near + Math.max(LATER.days, LATER.part * (near - first));
  let before = Infinity;
  for (let last = Math.min(end, Math.ceil(guess)); ;) {
    const until = last;
    const own = streams.map((stream) => within(days, stream, until));
    const curves = startCurves(own, last, units, { gap, bucketDays: Math.max(bucketDays, leastBucketDays(own)) });
    const missing = 1 - curves.reduce((sum, c) => sum + startsOf(c), 0) / units;
    // If one later last day added no starts, none will: everybody of a class may have started by then.
    const isBest = !(missing > MISSING) || missing > before - MISSING / 4;
    if (isBest || last >= end) return { lastStart: lastStartOf(days, pools, curves), curves };
    before = missing;
    const later = Math.min(end, last + missing / perDay);
    // A rough course only serves to compute the next class mix.
    if (gap >= COARSE.gap) return { lastStart: later, curves };
    last = Math.min(end, Math.ceil(later + LATER.days));
  }
}

/** About the most variables of a program; longer plans take several days together, which costs 1 to 2 %. */
const MOST_VARIABLES = 2 ** 14;

function leastBucketDays(streams: readonly Stream[]): number {
  const variables = streams.reduce(
    (sum, { capacity, classes }) => sum + capacity.length * sumOf(classes.map(({ steps }) => steps.length)),
    0,
  );
  return Math.ceil(variables / MOST_VARIABLES);
}

/** Whether days have enough messages to be worth the time that deviations take, which grows with days, pools and classes. */
function mayDeviate(classes: readonly SequenceClass[], pools: readonly Pool[], from: number): boolean {
  const [units, days] = [pools.reduce((sum, p) => sum + sumOf(p.capacity), 0), sumOf(pools.map((p) => p.open.length))];
  return units >= from * (classes.length - 1) ** 2 * days;
}

/** The workday by which nearly all have started. */
function lastStartOf(days: PlanDays, pools: readonly Pool[], curves: readonly Curves[]): number {
  const begun = new Float64Array(days.count);
  pools.forEach(({ open }, at) => {
    for (const [starts] of curves[at]!)
      starts!.forEach((sum, j) => (begun[open[j]!]! += sum - (j === 0 ? 0 : starts![j - 1]!)));
  });
  const all = sumOf(begun);
  let [sum, i] = [0, 0];
  while (i < days.count - 1 && (sum += begun[i]!) < (1 - MISSING) * all) i++;
  return days.workday[i]!;
}

const startsOf = (curves: Curves): number => curves.reduce((sum, steps) => sum + (steps[0]!.at(-1) ?? 0), 0);

/** The last day if every day were full (all messages sent, less the mean offset), and the starts of each day. */
function meanRate(
  days: PlanDays,
  classes: readonly SequenceClass[],
  pools: readonly Pool[],
  units: number,
): { day: number; perDay: number } {
  const messages = classes.reduce((sum, k) => sum + k.units * k.steps.length, 0);
  const byWorkday = new Float64Array(days.workday[days.count - 1]! + 1);
  for (const pool of pools) pool.open.forEach((i, j) => (byWorkday[days.workday[i]!]! += pool.capacity[j]!));
  let w = 0;
  for (let sum = byWorkday[0]!; w + 1 < byWorkday.length && sum < messages;) sum += byWorkday[++w]!;
  const near = byWorkday.subarray(Math.max(0, w - 9), w + 1);
  const capacity = sumOf(near) / Math.max(1, near.length);
  const starts = capacity * (classes.reduce((sum, k) => sum + k.units, 0) / Math.max(1, messages));
  const day = Math.max(Math.ceil(w - meanOffset(classes)), lastAvailable(days, classes));
  return { day, perDay: Math.max(1e-6, starts) / units };
}

/** Workday on which the last people become available, within the days of the plan. */
function lastAvailable(days: PlanDays, classes: readonly SequenceClass[]): number {
  let last = 0;
  for (const { available } of classes) {
    let i = days.count - 1;
    while (i > 0 && available[i - 1] === available[i]) i--;
    last = Math.max(last, i);
  }
  return days.workday[last]!;
}

/** Cumulative units of all classes available by the end of each day, with slack; null if all are from the first day. */
function availableOf(days: number, classes: readonly SequenceClass[], mailboxes: number): Float64Array | null {
  const all = classes.reduce((sum, { units }) => sum + units, 0);
  const slack = withSlack(all, mailboxes) / all;
  const out = new Float64Array(days);
  for (const { available } of classes) for (let i = 0; i < days; i++) out[i]! += available[i]! * slack;
  return out.some((units) => units > out[0]!) ? out : null;
}

/** The values of some days. */
function pick(values: Float64Array, days: readonly number[]): Float64Array {
  const out = new Float64Array(days.length);
  for (let j = 0; j < out.length; j++) out[j] = values[days[j]!]!;
  return out;
}

/** The stream of a pool: the input of its program, over all its open days. */
function streamOf(
  classes: readonly SequenceClass[],
  pool: Pool,
  mailboxes: number,
  waiting: Float64Array | null,
): Stream {
  // Split newly available people by cumulative capacity.
  let most = 0;
  const available =
    waiting && Float64Array.from(pool.open, (i, j) => (most = Math.max(most, waiting[i]! * pool.portion[j]!)));
  return {
    workday: pool.open,
    capacity: pool.capacity,
    available,
    classes: classes.map(({ steps, part, units }, k) => ({
      ...{ steps, part: pick(part, pool.open) },
      ...(pool.portions && { most: Math.max(LEAST_UNITS, pool.portions[k]! * withSlack(units, mailboxes)) }),
    })),
  };
}

/** The part of a stream that people who start up to a last day need. */
function within(days: PlanDays, stream: Stream, lastStart: number): Stream {
  const longest = stream.classes.reduce(
    (most, { steps }) =>
      Math.max(
        most,
        steps.reduce((sum, s) => sum + s.delay + s.tolerance + 1, 2),
      ),
    0,
  );
  let n = 0;
  while (n < stream.workday.length && days.workday[stream.workday[n]!]! <= lastStart + longest) n++;
  return {
    workday: Array.from({ length: n }, (_, j) => days.workday[stream.workday[j]!]!),
    capacity: stream.capacity.subarray(0, n),
    available: stream.available,
    classes: stream.classes,
    deviates: stream.deviates,
  };
}

/** Divides each day's messages among the mailboxes of a pool in proportion to their capacity on that day. */
function spread(
  days: PlanDays,
  pool: Pool,
  group: Group,
  capacities: readonly Float64Array[],
  curves: Curves,
  aims: Aims[],
): void {
  for (const member of pool.members) {
    const capacity = capacities[group.mailboxes[member]!]!;
    curves.forEach((steps, at) =>
      steps.forEach((curve, s) => {
        const aim = aims[member]![at]![s]!;
        let [sum, before, j] = [0, 0, 0];
        for (let i = 0; i < days.count; i++) {
          if (pool.open[j] === i) {
            if (j < curve.length) {
              sum += ((curve[j]! - before) * capacity[i]!) / pool.capacity[j]!;
              before = curve[j]!;
            }
            j++;
          }
          aim[i] = sum;
        }
      }),
    );
  }
}
