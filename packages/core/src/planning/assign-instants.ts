import { seededRandom } from '../random/seeded';
import type { Span } from '../time/window';

/** One message that needs a time on a mailbox-day. */
export interface DayMessage {
  id: number;
  units: number;
  /** Ordered spans in which it may leave; not empty. */
  open: readonly Span[];
}

/** The mailbox's rules on that day. */
export interface DayRules {
  paceMs: number;
  /** Instant of the last message before these, or -Infinity. */
  lastMs: number;
  providerLimit24h: number | null;
  /** Messages already sent or timed, in order of time: what the provider's 24 hours look back on. */
  earlier: readonly { instant: number; units: number }[];
}

export interface TimedDay {
  timed: { id: number; instant: number; units: number }[];
  /** Messages for which the day had no instant left. */
  spilled: number[];
}

/** How far a message may stray from the middle of its slot, as a share of the slot. */
const JITTER = 0.8;

/**
 * Gives every message of one mailbox-day an instant: spread over the whole of the hours open to it, with
 * variation, at least the pace apart, inside the provider's 24-hour limit. Where an even spread cannot be
 * had the messages move as early as they may, those whose hours end first going first.
 *
 * @param seed the same seed gives the same instants
 */
export function assignInstants(messages: readonly DayMessage[], rules: DayRules, seed: number): TimedDay {
  const even = walk(spread(messages, seed), rules);
  if (even.spilled.length === 0) return even;
  const early = messages.map((m) => ({ ...m, wanted: firstOf(m).startMs }));
  early.sort((a, b) => a.wanted - b.wanted || lastOf(a).endMs - lastOf(b).endMs || a.id - b.id);
  const packed = walk(early, rules);
  return packed.spilled.length < even.spilled.length ? packed : even;
}

type Wanted = DayMessage & { wanted: number };

/** Messages that share their hours share them out in equal slots, each somewhere in its slot. */
function spread(messages: readonly DayMessage[], seed: number): Wanted[] {
  const random = seededRandom(seed);
  const groups = new Map<string, DayMessage[]>();
  for (const m of messages) {
    const key = m.open.map((s) => `${s.startMs}-${s.endMs}`).join();
    const group = groups.get(key);
    if (group) group.push(m);
    else groups.set(key, [m]);
  }
  const wanted: Wanted[] = [];
  for (const group of groups.values()) {
    group.forEach((m, i) => {
      const share = (i + 0.5 + JITTER * (random() - 0.5)) / group.length;
      wanted.push({ ...m, wanted: pointAt(m.open, share) });
    });
  }
  return wanted.sort((a, b) => a.wanted - b.wanted || a.id - b.id);
}

function pointAt(spans: readonly Span[], share: number): number {
  const total = spans.reduce((sum, s) => sum + s.endMs - s.startMs, 0);
  let left = share * total;
  for (const s of spans) {
    if (left < s.endMs - s.startMs) return Math.floor(s.startMs + left);
    left -= s.endMs - s.startMs;
  }
  return (spans.at(-1) as Span).endMs - 1;
}

function walk(wanted: readonly Wanted[], rules: DayRules): TimedDay {
  const out: TimedDay = { timed: [], spilled: [] };
  const inDay = rules.earlier.slice();
  let last = rules.lastMs;
  for (const m of wanted) {
    const at = nextOpen(m.open, Math.max(m.wanted, last + rules.paceMs));
    const instant = at === null ? null : withinLimit(m, at, inDay, rules.providerLimit24h);
    if (instant === null) {
      out.spilled.push(m.id);
      continue;
    }
    last = instant;
    inDay.push({ instant, units: m.units });
    out.timed.push({ id: m.id, instant, units: m.units });
  }
  return out;
}

const DAY = 24 * 3600 * 1000;

/** The first open instant from `at` on at which the last 24 hours have room, or null. */
function withinLimit(
  m: DayMessage,
  at: number,
  sent: readonly { instant: number; units: number }[],
  limit: number | null,
): number | null {
  if (limit === null) return at;
  if (m.units > limit) return null;
  let instant: number | null = at;
  let from = 0;
  while (instant !== null) {
    while (from < sent.length && (sent[from] as { instant: number }).instant <= instant - DAY) from++;
    let units = m.units;
    for (let i = from; i < sent.length; i++) units += (sent[i] as { units: number }).units;
    if (units <= limit) return instant;
    instant = nextOpen(m.open, (sent[from] as { instant: number }).instant + DAY);
  }
  return null;
}

/** Whether messages of one day, in any order, stay inside the provider's 24 hours. */
export function staysWithin(timed: readonly { instant: number; units: number }[], rules: DayRules): boolean {
  const limit = rules.providerLimit24h;
  if (limit === null) return true;
  const all = [...rules.earlier, ...timed].sort((a, b) => a.instant - b.instant);
  let [from, units] = [0, 0];
  for (const { instant, units: own } of all) {
    units += own;
    while (all[from]!.instant <= instant - DAY) units -= all[from++]!.units;
    if (units > limit && instant > rules.lastMs) return false;
  }
  return true;
}

function nextOpen(spans: readonly Span[], at: number): number | null {
  for (const s of spans) if (at < s.endMs) return Math.max(at, s.startMs);
  return null;
}

const firstOf = (m: DayMessage) => m.open[0] as Span;
const lastOf = (m: DayMessage) => m.open.at(-1) as Span;
