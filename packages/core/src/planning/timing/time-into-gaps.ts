import type { Random } from '../../random/seeded';
import type { Span } from '../../time/window';
import { staysWithin, type DayMessage, type DayRules } from './assign-instants';

/** A message that may already have an instant on its day. */
export type PartlyTimed = DayMessage & { instant: number | null };

/**
 * Gives the messages of a mailbox-day that have no instant yet a random one in the gaps between the others, which keep
 * theirs; an instant that no longer holds counts as none.
 *
 * @returns the instant of each message in the order given, or null if the gaps are not enough
 */
export function timeIntoGaps(messages: readonly PartlyTimed[], rules: DayRules, random: Random): number[] | null {
  const instants = messages.map((m) => m.instant ?? NaN);
  const known = messages.map((_, i) => i).filter((i) => messages[i]!.instant !== null);
  known.sort((a, b) => instants[a]! - instants[b]!);
  const taken: number[] = [];
  let last = rules.lastMs;
  for (const i of known) {
    const at = instants[i]!;
    if (at - last < rules.paceMs || !messages[i]!.open.some((s) => s.startMs <= at && at < s.endMs)) {
      instants[i] = NaN;
      continue;
    }
    taken.push((last = at));
  }
  for (let i = 0; i < messages.length; i++) {
    if (!Number.isNaN(instants[i])) continue;
    const at = pointIn(gapsOf(messages[i]!.open, taken, rules), random);
    if (at === null) return null;
    instants[i] = at;
    taken.splice(placeIn(taken, at), 0, at);
  }
  const timed = messages.map((m, i) => ({ instant: instants[i]!, units: m.units }));
  return staysWithin(timed, rules) ? instants : null;
}

/** The open spans at least the pace away from every taken instant; the taken ones are sorted. */
function gapsOf(open: readonly Span[], taken: readonly number[], { paceMs, lastMs }: DayRules): Span[] {
  const gaps: Span[] = [];
  for (const { startMs, endMs } of open) {
    let from = Math.max(startMs, lastMs + paceMs);
    let next = placeIn(taken, from - paceMs);
    // Even without a pace, two messages never share an instant.
    const apart = Math.max(1, paceMs);
    for (; next < taken.length && taken[next]! - apart < endMs; next++) {
      if (taken[next]! - apart >= from) gaps.push({ startMs: from, endMs: taken[next]! - apart + 1 });
      from = Math.max(from, taken[next]! + apart);
    }
    if (from < endMs) gaps.push({ startMs: from, endMs });
  }
  return gaps;
}

/** Index of the first that is later than an instant. */
function placeIn(taken: readonly number[], at: number): number {
  let [low, high] = [0, taken.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (taken[middle]! <= at) low = middle + 1;
    else high = middle;
  }
  return low;
}

function pointIn(gaps: readonly Span[], random: Random): number | null {
  let left = Math.floor(random() * gaps.reduce((sum, g) => sum + g.endMs - g.startMs, 0));
  for (const { startMs, endMs } of gaps) {
    if (left < endMs - startMs) return startMs + left;
    left -= endMs - startMs;
  }
  return null;
}
