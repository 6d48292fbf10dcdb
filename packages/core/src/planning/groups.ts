import type { Entry } from './entries';

/** Mailboxes that the same entries may use; a mailbox to which people are bound stands by itself. */
export interface Group {
  mailboxes: number[];
  /** Numbers of the entries that may use them. */
  entries: number[];
  /** Units left in all of them on each day. */
  capacity: Float64Array;
}

/** @param capacity units left in each mailbox on each day */
export function findGroups(entries: readonly Entry[], capacity: readonly Float64Array[]): Group[] {
  const groups = new Map<string, Group>();
  const free = entries.map(({ mailboxes, bound, units }) => {
    const isFree = units > [...bound.values()].reduce((a, b) => a + b, 0);
    return new Set(isFree ? mailboxes : []);
  });
  capacity.forEach((left, m) => {
    const own = [...entries.keys()].filter((e) => free[e]!.has(m) || entries[e]!.bound.has(m));
    if (own.length === 0 || left.every((units) => units === 0)) return;
    const hasBound = own.some((e) => entries[e]!.bound.has(m));
    const key = hasBound ? `bound ${m}` : own.join();
    const group = groups.get(key) ?? { mailboxes: [], entries: own, capacity: new Float64Array(left.length) };
    group.mailboxes.push(m);
    for (let i = 0; i < left.length; i++) group.capacity[i]! += left[i]!;
    groups.set(key, group);
  });
  // Those with the fewest who may use them first: what the others get is shared in the light of it.
  return [...groups.values()].sort((a, b) => a.entries.length - b.entries.length);
}
