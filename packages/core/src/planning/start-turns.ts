import type { Entry } from './entries';
import type { Placements } from './placements';
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
   * @param place tries one person; nobody of their kind is tried again on that day when it fails
   * @returns the units started; 0 when nobody can
   */
  next(claims: readonly Claim[], m: number, i: number, place: (p: number) => boolean): number {
    const cell = m * this.placements.days.count + i;
    for (;;) {
      let best: Claim | null = null;
      let group: Waiting | null = null;
      for (const claim of claims) {
        if (best && claim.turn.score >= best.turn.score) continue;
        const first = claim.turn.queue.first(m, i, cell, claim.free > 0);
        if (first) [best, group] = [claim, first];
      }
      if (!best || !group) return 0;
      const { queue, entry } = best.turn;
      const p = group.people[group.next]!;
      if (!place(p)) {
        group.shut = cell;
        continue;
      }
      queue.advance(group);
      this.left--;
      const units = this.placements.book.people.units[p]!;
      best.turn.score += units / entry.weight;
      if (group.bound < 0) best.free -= units;
      return units;
    }
  }
}
