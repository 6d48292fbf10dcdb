import { meanOffset, type Entry } from './entries';
import type { Group } from './groups';
import type { PlanDays } from '../workspace/plan-days';
import { sumOf } from '../sum';

/** About how many periods of capacity there are at most; in longer plans a period is several days. */
const MOST_PERIODS = 4000;

/**
 * Divides the units of each entry among the groups of mailboxes, so that no group has unused capacity while people wait
 * for another one. Messages are treated as a fluid. The capacity of a group on a day is counted for the starts of an
 * earlier day, since follow-ups trail behind starts. Day by day, capacity is given to the entry that has started least
 * for its weight and can use it: directly, or along an augmenting path, on which another entry moves to another group.
 * An augmenting path never frees a day that is in use, so by every day as much as possible has been sent
 * (transversal matroids are greedy: J. Edmonds and D. R. Fulkerson, J. Res. NBS 69B, 1965).
 *
 * @param lag for each group the working days from its last start to the day on which its capacity has taken
 *   all messages; 0 or more, fractions allowed
 * @returns for each group, the units of each of its entries
 */
export function allocate(
  days: PlanDays,
  entries: readonly Entry[],
  groups: readonly Group[],
  lag: readonly number[],
): number[][] {
  const assignment = new Assignment(entries, groups);
  for (const { g, i, capacity } of periodsOf(days, groups, lag)) {
    if (assignment.isOver) break;
    assignment.give(g, i, capacity);
  }
  const units = assignment.units();
  return groups.map(({ entries: own }, g) => own.map((e) => units[e]![g]!));
}

/** First estimate of the days by which follow-ups lag behind the starts of a group. */
export function meanLag(entries: readonly Entry[], group: Group): number {
  return meanOffset(group.entries.map((e) => entries[e]!));
}

/** The capacity of each group in each period of one or more days, counted for the starts it serves. */
function periodsOf(days: PlanDays, groups: readonly Group[], lag: readonly number[]) {
  const length = Math.ceil((days.count * groups.length) / MOST_PERIODS);
  const periods: { g: number; i: number; capacity: number; at: number }[] = [];
  groups.forEach(({ capacity }, g) => {
    for (let i = 0; i < days.count; i += length) {
      const sum = sumOf(capacity.subarray(i, i + length));
      if (sum > 0) periods.push({ g, i, capacity: sum, at: days.workday[i]! - lag[g]! });
    }
  });
  return periods.sort((a, b) => a.at - b.at || a.g - b.g);
}

/** Messages to be sent: of an entry, or of those of its people who are bound to a mailbox. */
interface Source {
  entry: number;
  /** The cells that they may use. */
  cells: number[];
  left: number;
  /** Messages given, by cell. */
  given: Float64Array;
}

/** Fewer messages than this count as none. */
const NONE = 1e-6;

/** Assigns capacity. A cell is the capacity of a group in a period; a new period begins where an entry does. */
class Assignment {
  private readonly sources: Source[] = [];
  private readonly begins: number[];
  private readonly score: number[];
  /** For each cell, the numbers of the sources that may use it. */
  private readonly users: number[][];
  private left: number;
  /** The last search: the cells and sources it reached, and the predecessor of each. */
  private readonly seenCell: Int32Array;
  private readonly seenSource: Int32Array;
  private readonly sourceBefore: Int32Array;
  private readonly cellBefore: Int32Array;
  private search = 0;

  constructor(
    private readonly entries: readonly Entry[],
    private readonly groups: readonly Group[],
  ) {
    this.begins = [...new Set(entries.map((e) => e.begins))].sort((a, b) => a - b);
    this.score = entries.map(() => 0);
    const groupOf = new Map(groups.flatMap(({ mailboxes }, g) => mailboxes.map((m) => [m, g] as const)));
    entries.forEach((entry, e) => this.addSources(entry, e, groupOf));
    this.left = sumOf(this.sources.map((s) => s.left));
    const cells = groups.length * this.periods;
    this.users = Array.from({ length: cells }, () => []);
    this.sources.forEach((source, n) => {
      for (const cell of source.cells) this.users[cell]!.push(n);
    });
    this.seenCell = new Int32Array(cells);
    this.sourceBefore = new Int32Array(cells);
    this.seenSource = new Int32Array(this.sources.length);
    this.cellBefore = new Int32Array(this.sources.length);
  }

  get isOver(): boolean {
    return this.left <= NONE;
  }

  private get periods(): number {
    return this.begins.length;
  }

  private groupOf(cell: number): number {
    return Math.floor(cell / this.periods);
  }

  private addSources(
    { mailboxes, bound, units, steps, begins }: Entry,
    e: number,
    groupOf: ReadonlyMap<number, number>,
  ): void {
    const from = this.begins.indexOf(begins);
    const add = (own: number, among: readonly number[]) => {
      const eligible = new Set(among.flatMap((m) => groupOf.get(m) ?? []));
      if (own <= 0 || eligible.size === 0) return;
      const cells = [...eligible]
        .sort((a, b) => a - b)
        .flatMap((g) => Array.from({ length: this.periods - from }, (_, p) => g * this.periods + from + p));
      const given = new Float64Array(this.groups.length * this.periods);
      this.sources.push({ entry: e, cells, left: own * steps.length, given });
    };
    add(units - sumOf(bound.values()), mailboxes);
    for (const [mailbox, own] of bound) add(own, [mailbox]);
  }

  /** Assigns the capacity of a group from day i on. */
  give(g: number, i: number, capacity: number): void {
    const period = this.begins.filter((begins) => begins <= i).length - 1;
    if (period < 0) return;
    for (let rest = capacity; rest > NONE;) {
      const path = this.pathTo(g * this.periods + period);
      if (!path) return;
      rest -= this.send(path, rest);
    }
  }

  /** An augmenting path from the cell to the reachable source that has started least: cell, source, cell, source … */
  private pathTo(cell: number): { cell: number; source: Source }[] | null {
    const { sources, score, users, seenCell, seenSource, sourceBefore, cellBefore } = this;
    const search = ++this.search;
    const queue = [cell];
    seenCell[cell] = search;
    sourceBefore[cell] = -1;
    let best = -1;
    for (const at of queue) {
      for (const n of users[at]!) {
        if (seenSource[n] === search) continue;
        seenSource[n] = search;
        cellBefore[n] = at;
        const { cells, given, left, entry } = sources[n]!;
        if (left > NONE && (best < 0 || score[entry]! < score[sources[best]!.entry]!)) best = n;
        for (const other of cells) {
          if (seenCell[other] === search || given[other]! <= NONE) continue;
          seenCell[other] = search;
          sourceBefore[other] = n;
          queue.push(other);
        }
      }
    }
    const path: { cell: number; source: Source }[] = [];
    for (let n = best; n >= 0; n = sourceBefore[path.at(-1)!.cell]!)
      path.push({ cell: cellBefore[n]!, source: sources[n]! });
    return path.length === 0 ? null : path;
  }

  /** Augments along a path by its residual capacity. @returns by how much */
  private send(path: readonly { cell: number; source: Source }[], most: number): number {
    const first = path[0]!.source;
    let amount = Math.min(most, first.left);
    path.forEach(({ cell }, at) => {
      const next = path[at + 1];
      if (next) amount = Math.min(amount, next.source.given[cell]!);
    });
    path.forEach(({ cell, source }, at) => {
      source.given[cell]! += amount;
      const next = path[at + 1];
      if (next) next.source.given[cell]! -= amount;
    });
    first.left -= amount;
    this.left -= amount;
    const { weight, steps } = this.entries[first.entry]!;
    this.score[first.entry]! += amount / steps.length / weight;
    return amount;
  }

  /** Units of each entry in each group. People without room in the plan are counted where most of their entry are. */
  units(): Float64Array[] {
    const all = this.entries.map(() => new Float64Array(this.groups.length));
    const left = this.entries.map(() => 0);
    for (const { entry, given, left: own } of this.sources) {
      given.forEach((messages, cell) => (all[entry]![this.groupOf(cell)]! += messages));
      left[entry]! += own;
    }
    return all.map((messages, e) => {
      const most = messages.indexOf(Math.max(...messages));
      messages[most]! += left[e]!;
      return messages.map((n) => n / this.entries[e]!.steps.length);
    });
  }
}

/** The working day, with a fraction, by which the cumulative capacity of a group reaches so many messages. */
export function dayTaken(days: PlanDays, { capacity }: Group, messages: number): number {
  let [sum, i] = [0, 0];
  while (i < days.count && sum + capacity[i]! < messages) sum += capacity[i++]!;
  if (i === days.count) return days.workday[days.count - 1]!;
  return days.workday[i]! - 1 + (messages - sum) / capacity[i]!;
}
