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

/**
 * Joins groups that the same entries may use, those next to each other whose ends are the nearest, until there are few
 * enough or nothing is left to join.
 *
 * @param ends the working day on which each group's messages have left
 * @param most how many groups there are to be
 * @returns for each new group, the old ones in it
 */
export function joinGroups(groups: readonly Group[], ends: readonly number[], most: number): number[][] {
  const kinds = new Map<string, number[]>();
  groups.forEach(({ entries }, g) => kinds.set(entries.join(), [...(kinds.get(entries.join()) ?? []), g]));
  const each = Math.max(1, Math.floor(most / kinds.size));
  return [...kinds.values()].flatMap((own) => {
    const joined: number[][] = [];
    const sorted = own.toSorted((a, b) => ends[a]! - ends[b]!);
    sorted.forEach((g, at) => {
      (joined[Math.floor((at * Math.min(each, sorted.length)) / sorted.length)] ??= []).push(g);
    });
    return joined;
  });
}

export function asOne(groups: readonly Group[]): Group {
  const capacity = new Float64Array(groups[0]!.capacity.length);
  for (const { capacity: own } of groups) for (let i = 0; i < capacity.length; i++) capacity[i]! += own[i]!;
  return { mailboxes: groups.flatMap(({ mailboxes }) => mailboxes), entries: groups[0]!.entries, capacity };
}
