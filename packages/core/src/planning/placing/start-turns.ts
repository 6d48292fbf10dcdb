import type { Entry } from '../course/entries';
import type { Placements } from '../placements/placements';
import { StartQueue, type Waiting } from './start-queue';

/** One entry's people and how it stands against the others. */
export interface Turn {
  entry: Entry;
  queue: StartQueue;
  /** Units started over weight; an entry that begins later joins where the others are. */
  score: number;
}

/** What an entry may start in a mailbox. */
export interface Claim {
  turn: Turn;
  /** Units of those who may be in other mailboxes too. */
  free: number;
}

/**
 * Tries to start people of one kind: the first, people[from], and of those after it as many as may have the same days.
 *
 * @param most of them
 * @returns how many have started
 */
export type Starting = (people: readonly number[], from: number, most: number) => number;

/** Who starts next: entries by units started over weight, people by the list's order. */
export class StartTurns {
  readonly turns: Turn[];
  private left: number;

  /** @param entries whose turns stand in the same order */
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

  /** A new day: entries that begin on it join the others. */
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
   * Lets the next of some entries start on a day of a mailbox.
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

  /** Of how many of a kind it is the turn, one after the other, where no other entry has one. */
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
