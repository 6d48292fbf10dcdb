import type { Entry } from './entries';
import { sumOf } from '../sum';

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
  const reach = entries.map(reachOf);
  capacity.forEach((left, m) => {
    const own = [...entries.keys()].filter((e) => reach[e]!.has(m));
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

/** Groups that stand for one. */
export interface Joined {
  group: Group;
  /** The groups in it. */
  of: number[];
}

/** How many times as many sets of entries there may be as groups are wanted, before groups of other entries are joined. */
const CROWD = 3;

/**
 * Joins groups whose ends are the nearest until there are few enough: of those that the same entries may use, or, where
 * there are far too many sets of entries, of all.
 *
 * @param ends the working day on which each group's messages have left
 * @param most how many groups there are to be; more where there are more sets of entries, but not far too many
 */
export function joinGroups(groups: readonly Group[], ends: readonly number[], most: number): Joined[] {
  const sets = new Map<string, number[]>();
  groups.forEach(({ entries }, g) => sets.set(entries.join(), [...(sets.get(entries.join()) ?? []), g]));
  const lists = sets.size > CROWD * most ? [[...groups.keys()]] : [...sets.values()];
  const each = Math.max(1, Math.floor(most / lists.length));
  return lists.flatMap((own) => {
    const joined: number[][] = [];
    const sorted = own.toSorted((a, b) => ends[a]! - ends[b]!);
    sorted.forEach((g, at) => {
      (joined[Math.floor((at * Math.min(each, sorted.length)) / sorted.length)] ??= []).push(g);
    });
    return joined.map((list) => ({ group: asOne(list.map((g) => groups[g]!)), of: list }));
  });
}

function asOne(groups: readonly Group[]): Group {
  const capacity = new Float64Array(groups[0]!.capacity.length);
  for (const { capacity: own } of groups) for (let i = 0; i < capacity.length; i++) capacity[i]! += own[i]!;
  const entries = [...new Set(groups.flatMap((group) => group.entries))].sort((a, b) => a - b);
  return { mailboxes: groups.flatMap(({ mailboxes }) => mailboxes), entries, capacity };
}

/** The mailboxes that anybody of an entry may use. */
export function reachOf({ mailboxes, bound, units }: Entry): ReadonlySet<number> {
  return new Set([...bound.keys(), ...(units > sumOf(bound.values()) ? mailboxes : [])]);
}
