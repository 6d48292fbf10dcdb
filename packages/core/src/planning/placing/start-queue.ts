import type { People } from '../placements/people';

/** The people of one kind who wait to start, in order. */
export interface Waiting {
  people: number[];
  /** Position of the first who waits; everybody before it has started. */
  next: number;
  earliest: number;
  bound: number;
  /** The last mailbox-day that was found to have no room for them. */
  shut: number;
}

/** The people of one entry who wait to start, in the list's order as far as days and mailboxes allow. */
export class StartQueue {
  private groups: Waiting[] = [];
  /** The next of another kind, after those found by {@link first}. */
  before = Infinity;

  constructor(people: People, waiting: readonly number[]) {
    const byKind = new Map<number, Waiting>();
    // Most are of the kind of the one before.
    let [kind, group]: [number, Waiting | undefined] = [-1, undefined];
    for (const p of waiting) {
      if (people.kind[p] !== kind || !group) {
        kind = people.kind[p]!;
        group = byKind.get(kind);
      }
      if (!group) {
        group = { people: [], next: 0, earliest: people.earliest[p]!, bound: people.bound[p]!, shut: -1 };
        byKind.set(kind, group);
        this.groups.push(group);
      }
      group.people.push(p);
    }
  }

  get isEmpty(): boolean {
    return this.groups.length === 0;
  }

  /**
   * The kind whose first might start next on day i of mailbox m, `cell` naming that day of that mailbox.
   *
   * @param mayBeFree whether those who are not bound to a mailbox may start there
   */
  first(m: number, i: number, cell: number, mayBeFree: boolean): Waiting | null {
    let best: Waiting | null = null;
    let [least, before] = [Infinity, Infinity];
    for (const g of this.groups) {
      if (g.shut === cell || g.earliest > i || (g.bound < 0 ? !mayBeFree : g.bound !== m)) continue;
      const p = g.people[g.next]!;
      if (p < least) [best, before, least] = [g, least, p];
      else if (p < before) before = p;
    }
    this.before = before;
    return best;
  }

  /** Removes the first ones, who have started. */
  advance(group: Waiting, many: number): void {
    group.next += many;
    if (group.next === group.people.length) this.groups = this.groups.filter((g) => g !== group);
  }

  /** Everybody who still waits. */
  rest(): number[] {
    return this.groups.flatMap((g) => g.people.slice(g.next));
  }
}
