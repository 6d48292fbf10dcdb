import type { Entry } from '../course/entries';
import type { Placements } from '../placements/placements';
import { StartQueue, type Waiting } from './start-queue';

/** One entry's queue and its score against the others. */
export interface Turn {
  entry: Entry;
  queue: StartQueue;
  /** Units started divided by weight; an entry that begins later starts level with the others. */
  score: number;
}

/** The units that an entry may start in a mailbox. */
export interface Claim {
  turn: Turn;
  /** Units of people who are not bound to that mailbox. */
  free: number;
}

/**
 * Tries to start people of one kind: people[from], and as many of those after it as can have the same days.
 *
 * @param most the greatest number to start
 * @returns how many have started
 */
export type Starting = (people: readonly number[], from: number, most: number) => number;

/** Who starts next: entries by units started divided by weight, people by the list's order. */
export class StartTurns {
  readonly turns: Turn[];
  private left: number;

  /** @param entries in the same order as their turns */
  constructor(
    private readonly placements: Placements,
    entries: readonly Entry[],
  ) {
    const { people } = placements.book;
    this.turns = entries.map((entry): Turn => ({ entry, score: 0, queue: new StartQueue(people, entry.people) }));
    this.left = entries.reduce((sum, entry) => sum + entry.people.length, 0);
  }

  get areLeft(): boolean {
    return this.left > 0;
  }

  /** Begins a day: entries that begin on it start level with the others. */
  begin(i: number): void {
    let least = Infinity;
    for (const t of this.turns) if (t.entry.begins < i && !t.queue.isEmpty) least = Math.min(least, t.score);
    if (least === Infinity) return;
    for (const t of this.turns) if (t.entry.begins === i) t.score = least;
  }

  rest(): number[] {
    return this.turns.flatMap((t) => t.queue.rest());
  }

  /**
   * Starts the next person of some entries on a mailbox-day.
   *
   * @param place tries to start people; nobody of their kind is tried again on that day when none can
   * @returns whether anybody started
   */
  next(claims: readonly Claim[], m: number, i: number, place: Starting): boolean {
    const cell = m * this.placements.days.count + i;
    for (;;) {
      let best: Claim | null = null;
      let group: Waiting | null = null;
      for (const claim of claims) {
        if (best && claim.turn.score >= best.turn.score) continue;
        const first = claim.turn.queue.first(m, i, cell, claim.free > 0);
        if (first) [best, group] = [claim, first];
      }
      if (!best || !group) return false;
      const many = place(group.people, group.next, claims.length === 1 ? this.together(best, group) : 1);
      if (many > 0) {
        this.started(best, group, many);
        return true;
      }
      group.shut = cell;
    }
  }

  /** How many of a kind come next in a row, before another entry's turn. */
  private together({ turn, free }: Claim, { people, next, bound }: Waiting): number {
    const units = this.placements.book.people.units[people[next]!]!;
    const most = next + (bound < 0 ? Math.min(people.length - next, Math.ceil(free / units)) : people.length - next);
    let end = next + 1;
    if (turn.queue.before === Infinity) end = most;
    else while (end < most && people[end]! < turn.queue.before) end++;
    return end - next;
  }

  private started(claim: Claim, group: Waiting, many: number): void {
    const units = many * this.placements.book.people.units[group.people[group.next]!]!;
    const { queue, entry } = claim.turn;
    claim.turn.score += units / entry.weight;
    if (group.bound < 0) claim.free -= units;
    this.left -= many;
    queue.advance(group, many);
  }
}
