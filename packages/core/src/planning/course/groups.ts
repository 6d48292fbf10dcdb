import type { Entry } from './entries';
import { sumOf } from '../sum';

/** Mailboxes that the same entries may use; a mailbox to which people are bound is a group by itself. */
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
  const eligible = entries.map(eligibleMailboxes);
  capacity.forEach((left, m) => {
    const own = [...entries.keys()].filter((e) => eligible[e]!.has(m));
    if (own.length === 0 || left.every((units) => units === 0)) return;
    const hasBound = own.some((e) => entries[e]!.bound.has(m));
    const key = hasBound ? `bound ${m}` : own.join();
    const group = groups.get(key) ?? { mailboxes: [], entries: own, capacity: new Float64Array(left.length) };
    group.mailboxes.push(m);
    for (let i = 0; i < left.length; i++) group.capacity[i]! += left[i]!;
    groups.set(key, group);
  });
  // Groups that the fewest entries may use come first: the others are shared according to what these have taken.
  return [...groups.values()].sort((a, b) => a.entries.length - b.entries.length);
}

/** Several groups treated as one. */
export interface MergedGroup {
  group: Group;
  /** The groups in it. */
  of: number[];
}

/** From this many sets of entries per wanted group on, groups of different entries are merged as well. */
const CROWD = 3;

/**
 * Merges the groups that end at the closest times until there are few enough. Only groups open to the same entries are
 * merged, unless there are far too many sets of entries.
 *
 * @param ends the working day by which each group's messages have been sent
 * @param most how many groups are wanted; there may be more if there are somewhat more sets of entries
 */
export function mergeGroups(groups: readonly Group[], ends: readonly number[], most: number): MergedGroup[] {
  const sets = new Map<string, number[]>();
  groups.forEach(({ entries }, g) => sets.set(entries.join(), [...(sets.get(entries.join()) ?? []), g]));
  const lists = sets.size > CROWD * most ? [[...groups.keys()]] : [...sets.values()];
  const each = Math.max(1, Math.floor(most / lists.length));
  return lists.flatMap((own) => {
    const merged: number[][] = [];
    const sorted = own.toSorted((a, b) => ends[a]! - ends[b]!);
    sorted.forEach((g, at) => {
      (merged[Math.floor((at * Math.min(each, sorted.length)) / sorted.length)] ??= []).push(g);
    });
    return merged.map((list) => ({ group: unionOf(list.map((g) => groups[g]!)), of: list }));
  });
}

function unionOf(groups: readonly Group[]): Group {
  const capacity = new Float64Array(groups[0]!.capacity.length);
  for (const { capacity: own } of groups) for (let i = 0; i < capacity.length; i++) capacity[i]! += own[i]!;
  const entries = [...new Set(groups.flatMap((group) => group.entries))].sort((a, b) => a - b);
  return { mailboxes: groups.flatMap(({ mailboxes }) => mailboxes), entries, capacity };
}

/** The mailboxes that at least one person of an entry may use. */
export function eligibleMailboxes({ mailboxes, bound, units }: Entry): ReadonlySet<number> {
  return new Set([...bound.keys(), ...(units > sumOf(bound.values()) ? mailboxes : [])]);
}
