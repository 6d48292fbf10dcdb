import type { Entry } from './patterns';
import type { Placements } from './placements';
import { StartQueue } from './start-queue';

/** One entry's people and how it stands against the others. */
export interface Turn {
  entry: Entry;
  queue: StartQueue;
  weight: number;
  begins: number;
  /** Units started over weight; an entry that begins later joins where the others are. */
  score: number;
  /** Number of its pattern in the course at hand. */
  pattern: number;
}

/** Who starts next: entries by units started over weight, people by the list's order. */
export class StartTurns {
  readonly turns: Turn[];
  private left: number;

  constructor(
    private readonly placements: Placements,
    entries: readonly Entry[][],
  ) {
    const { people } = placements.book;
    this.turns = entries.flatMap((list, pattern) =>
      list.map((entry): Turn => ({
        ...{ entry, pattern, score: 0, queue: new StartQueue(people, entry.people) },
        weight: Math.max(1e-9, placements.campaigns[entry.campaign]!.weight),
        begins: entry.people.reduce((first, p) => Math.min(first, people.earliest[p]!), Infinity),
      })),
    );
    this.left = this.turns.reduce((sum, { entry }) => sum + entry.people.length, 0);
  }

  get areLeft(): boolean {
    return this.left > 0;
  }

  /** A new day: entries that begin on it join the others. */
  begin(i: number): void {
    let least = Infinity;
    for (const t of this.turns) if (t.begins < i && !t.queue.isEmpty) least = Math.min(least, t.score);
    if (least === Infinity) return;
    for (const t of this.turns) if (t.begins === i) t.score = least;
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
  next(turns: readonly Turn[], m: number, i: number, place: (p: number, turn: Turn) => boolean): number {
    const cell = m * this.placements.days.count + i;
    for (;;) {
      let best: Turn | null = null;
      for (const t of turns) if ((!best || t.score < best.score) && t.queue.first(m, i, cell)) best = t;
      if (!best) return 0;
      const group = best.queue.first(m, i, cell)!;
      const p = group.people[group.next]!;
      if (!place(p, best)) {
        group.shut = cell;
        continue;
      }
      best.queue.advance(group);
      this.left--;
      const units = this.placements.book.people.units[p]!;
      best.score += units / best.weight;
      return units;
    }
  }
}
