import type { Mixture } from './mixtures';
import { meanOffset, type Pattern } from './patterns';
import type { PlanDays } from './plan-days';
import { startCurves, type Curves } from './start-curves';

/** How much trouble to take. */
export interface Effort {
  /** How often the mixture of campaigns is found again from the course. */
  turns: number;
  /** Shapes of mailboxes told apart, tries to find the last start, gap to the optimum. */
  shapes: number;
  rounds: number;
  gap: number;
}

/** For each pattern of a mailbox and step, the units that should have left by the end of each day index. */
export type Aims = Curves;

/** Mailboxes of one shape, whose course is computed once. */
interface Pool {
  members: number[];
  /** Day indices on which any of them is open, and what they have together on each. */
  open: number[];
  capacity: Float64Array;
  available: Float64Array;
  part: Float64Array[];
  patterns: number[];
  /** Units of each pattern that the pool can be expected to get, where that is known. */
  most: number[] | null;
}

/**
 * The best course through each mailbox. People are interchangeable, so the mailboxes' programs are joined by
 * one number only: the day T up to which it pays to start, the same for all of them. Each shape's program is
 * solved for a T, and T moved until all together start just enough people.
 *
 * @param mixtures of each mailbox
 * @param before the aims found for mixtures little different, which tell what part of each pattern a mailbox gets
 * @returns the aims of each mailbox, for the patterns of its mixture
 */
export function aimStarts(
  days: PlanDays,
  patterns: readonly Pattern[],
  mixtures: Mixture[],
  effort: Effort,
  before: Aims[] | null = null,
): Aims[] {
  const pools = findPools(days, mixtures, effort.shapes);
  if (before) for (const pool of pools) pool.most = mostOf(patterns, mixtures, pool, before);
  const solved = solvePools(days, patterns, pools, effort);
  const aims = mixtures.map((mixture): Aims =>
    mixture.patterns.map((k) => patterns[k]!.steps.map(() => new Float64Array(days.count))),
  );
  pools.forEach((pool, at) => spread(days, pool, mixtures, solved[at]!, aims));
  return aims;
}

function findPools(days: PlanDays, mixtures: Mixture[], shapes: number): Pool[] {
  const groups = new Map<string, { members: number[]; centre: number; kind: string }>();
  mixtures.forEach(({ capacity, part, patterns }, m) => {
    let [sum, moment, n] = [0, 0, 0];
    for (let i = 0; i < days.count; i++) {
      sum += capacity[i]!;
      moment += capacity[i]! * i;
      if (capacity[i]! > 0) n++;
    }
    if (sum === 0) return;
    // How much on a day, as a share of the mean: written out coarsely, alike mailboxes read alike.
    const scale = (n * 40) / sum;
    let shape = '';
    let kind = `${patterns.join()}:`;
    for (let i = 0; i < days.count; i++) {
      shape += String.fromCharCode(Math.min(60_000, 1 + Math.round(capacity[i]! * scale)));
      kind += capacity[i]! > 0 ? '1' : '0';
      for (const p of part) if (patterns.length > 1) shape += String.fromCharCode(1 + Math.round(p[i]! * 50));
    }
    const group = groups.get(kind + shape) ?? { members: [], centre: moment / sum, kind };
    group.members.push(m);
    groups.set(kind + shape, group);
  });
  const sorted = [...groups.values()].sort((a, b) =>
    a.kind < b.kind ? -1 : a.kind > b.kind ? 1 : a.centre - b.centre,
  );
  return merge(sorted, shapes).map((members) => poolOf(days, mixtures, members));
}

/** Joins neighbours of one kind until there are few enough; kinds are never joined. */
function merge(sorted: { members: number[]; kind: string }[], shapes: number): number[][] {
  const kinds = new Map<string, number[][]>();
  for (const g of sorted) kinds.set(g.kind, [...(kinds.get(g.kind) ?? []), g.members]);
  const each = Math.max(1, Math.floor(shapes / kinds.size));
  return [...kinds.values()].flatMap((groups) => {
    const pools: number[][] = [];
    groups.forEach((members, at) => {
      const pool = Math.floor((at * Math.min(each, groups.length)) / groups.length);
      (pools[pool] ??= []).push(...members);
    });
    return pools;
  });
}

function poolOf(days: PlanDays, mixtures: Mixture[], members: number[]): Pool {
  const capacity = new Float64Array(days.count);
  const available = new Float64Array(days.count);
  for (const m of members) {
    for (let i = 0; i < days.count; i++) {
      capacity[i]! += mixtures[m]!.capacity[i]!;
      available[i]! += mixtures[m]!.available[i]!;
    }
  }
  const open: number[] = [];
  for (let i = 0; i < days.count; i++) if (capacity[i]! > 0) open.push(i);
  const { part, patterns } = mixtures[members[0]!]!;
  const pick = (values: Float64Array) => Float64Array.from(open, (i) => values[i]!);
  return {
    members,
    open,
    capacity: pick(capacity),
    available: pick(available),
    part: part.map(pick),
    patterns,
    most: null,
  };
}

function mostOf(patterns: readonly Pattern[], mixtures: Mixture[], pool: Pool, before: Aims[]): number[] {
  const own = new Set(pool.members);
  return pool.patterns.map((k) => {
    let [all, here] = [0, 0];
    mixtures.forEach((mixture, m) => {
      const at = mixture.patterns.indexOf(k);
      const units = at < 0 ? 0 : (before[m]![at]![0]!.at(-1) ?? 0);
      all += units;
      if (own.has(m)) here += units;
    });
    const most = all === 0 ? 0 : (here / all) * withSlack(patterns[k]!.units, patterns[k]!.mailboxes.length);
    return Math.max(LEAST_UNITS, most);
  });
}

/** The programs are solved from within: nothing may be held to exactly nothing. */
const LEAST_UNITS = 0.01;

/** A little more than all: rounding to whole messages loses some. */
export const withSlack = (units: number, mailboxes: number): number => units * 1.01 + 0.6 * mailboxes;

/** Starts that are missing or too many, as a part of all, by which the last day need not be moved: within the slack. */
const NEAR = 5e-3;

function solvePools(days: PlanDays, patterns: readonly Pattern[], pools: Pool[], effort: Effort): Curves[] {
  const last = days.workday[days.count - 1]!;
  const all = patterns.reduce((sum, p) => sum + p.units, 0);
  const units = withSlack(
    all,
    pools.reduce((sum, p) => sum + p.members.length, 0),
  );
  const solve = (lastStart: number): Solved => {
    const curves = pools.map((pool) => solvePool(days, patterns, pool, lastStart, effort.gap));
    return { lastStart, curves, started: curves.reduce((sum, c) => sum + startsOf(c), 0) };
  };
  const rate = meanRate(days, patterns, pools);
  const first = days.workday[0]!;
  let low: Solved | null = null;
  let high: Solved | null = null;
  let before: Solved | null = null;
  let next = Math.min(last, rate.lastStart);
  for (let round = 0; round < effort.rounds; round++) {
    const tried = solve(next);
    const over = tried.started - units;
    if (over >= 0) high = tried;
    else low = tried;
    if (Math.abs(over) <= NEAR * units || (low && high && high.lastStart - low.lastStart <= 1)) break;
    // As many more or fewer a day as the last step changed, within reason, to the other side of what is wanted.
    const found: number = before
      ? (tried.started - before.started) / (tried.lastStart - before.lastStart)
      : rate.perDay;
    const wanted = tried.lastStart - over / Math.min(2 * rate.perDay, Math.max(0.5 * rate.perDay, found));
    next =
      over < 0 ? Math.max(tried.lastStart + 1, Math.ceil(wanted)) : Math.min(tried.lastStart - 1, Math.floor(wanted));
    next = Math.min(high ? high.lastStart - 1 : last, Math.max(low ? low.lastStart + 1 : first, next));
    if (next === tried.lastStart) break;
    before = tried;
  }
  if (low && high) return blend(low, high, units);
  return (high ?? low ?? solve(next)).curves;
}

interface Solved {
  lastStart: number;
  curves: Curves[];
  started: number;
}

/** Between two courses lies one that starts just enough: days are shared by both in proportion. */
function blend(low: Solved, high: Solved, units: number): Curves[] {
  const part = (units - low.started) / Math.max(1e-9, high.started - low.started);
  const longer = (a: Float64Array, b: Float64Array) => Math.max(a.length, b.length);
  const at = (curve: Float64Array, j: number) => curve[Math.min(j, curve.length - 1)] ?? 0;
  return high.curves.map((curves, pool) =>
    curves.map((steps, k) =>
      steps.map((curve, s) => {
        const other = low.curves[pool]![k]![s]!;
        return Float64Array.from(
          { length: longer(curve, other) },
          (_, j) => part * at(curve, j) + (1 - part) * at(other, j),
        );
      }),
    ),
  );
}

const startsOf = (curves: Curves): number => curves.reduce((sum, steps) => sum + (steps[0]!.at(-1) ?? 0), 0);

/** The start curve that would be kept if every day were filled: cumulative capacity ahead by the mean offset, per step. */
function meanRate(days: PlanDays, patterns: readonly Pattern[], pools: Pool[]): { lastStart: number; perDay: number } {
  let [messages, units] = [0, 0];
  let first = Infinity;
  for (const p of patterns) {
    messages += p.units * p.steps.length;
    units += p.units;
    first = Math.min(first, days.workday[Math.min(p.begins, days.count - 1)]!);
  }
  const byWorkday = new Float64Array(days.workday[days.count - 1]! + 1);
  for (const pool of pools) pool.open.forEach((i, j) => (byWorkday[days.workday[i]!]! += pool.capacity[j]!));
  let w = 0;
  for (let sum = byWorkday[0]!; w + 1 < byWorkday.length && sum < messages;) sum += byWorkday[++w]!;
  const near = byWorkday.subarray(Math.max(0, w - 9), w + 1);
  const perDay = (near.reduce((a, b) => a + b, 0) / Math.max(1, near.length)) * (units / Math.max(1, messages));
  const lastStart = Math.max(first, Math.ceil(w - meanOffset(patterns)));
  return { lastStart: Math.max(lastStart, lastAvailable(days, patterns)), perDay: Math.max(1e-6, perDay) };
}

/** Workday on which the last people become available, as far as the plan sees. */
function lastAvailable(days: PlanDays, patterns: readonly Pattern[]): number {
  let last = 0;
  for (const { available } of patterns) {
    let i = days.count - 1;
    while (i > 0 && available[i - 1] === available[i]) i--;
    last = Math.max(last, i);
  }
  return days.workday[last]!;
}

function solvePool(days: PlanDays, patterns: readonly Pattern[], pool: Pool, lastStart: number, gap: number): Curves {
  const kinds = pool.patterns.map((k, at) => ({
    ...{ steps: patterns[k]!.steps, part: pool.part[at]! },
    ...(pool.most && { most: pool.most[at]! }),
  }));
  const reach = kinds.reduce(
    (most, { steps }) =>
      Math.max(
        most,
        steps.reduce((sum, s) => sum + s.delay + s.tolerance + 1, 2),
      ),
    0,
  );
  let n = 0;
  while (n < pool.open.length && days.workday[pool.open[n]!]! <= lastStart + reach) n++;
  const first = pool.available[0]!;
  const stream = {
    workday: pool.open.slice(0, n).map((i) => days.workday[i]!),
    capacity: pool.capacity.subarray(0, n),
    available: pool.available.subarray(0, n).some((a) => a > first) ? pool.available : null,
    kinds,
  };
  return startCurves(stream, lastStart, gap);
}

/** Gives each mailbox of a pool its part of every day's messages, by its part of the day's capacity. */
function spread(days: PlanDays, pool: Pool, mixtures: Mixture[], curves: Curves, aims: Aims[]): void {
  for (const m of pool.members) {
    const { capacity } = mixtures[m]!;
    curves.forEach((steps, at) =>
      steps.forEach((curve, s) => {
        const aim = aims[m]![at]![s]!;
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
