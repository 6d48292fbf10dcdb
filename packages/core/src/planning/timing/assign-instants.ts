import { seededRandom } from '../../random/seeded';
import { nextOpen, type Span } from '../../time/window';

/** One message that needs a time on a mailbox-day. */
export interface DayMessage {
  id: number;
  units: number;
  /** Ordered spans in which it may be sent; not empty. */
  open: readonly Span[];
}

/** The mailbox's rules on that day. */
export interface DayRules {
  paceMs: number;
  /** Instant of the last message before these, or -Infinity. */
  lastMs: number;
  providerLimit24h: number | null;
  /** Messages already sent or timed, in order of time, which count towards the provider's limit per 24 hours. */
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
 * Gives every message of one mailbox-day an instant: spread over all the hours open to it, with some variation, at least
 * the pace apart, and within the provider's 24-hour limit. If an even spread is impossible, messages are sent as early as
 * possible, those whose hours end first going first.
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

/**
 * Gives messages the first instants of their hours, in order, at least the pace apart: those that have an instant of their own,
 * from which on their hours are given.
 */
export function assignSoonest(messages: readonly DayMessage[], rules: DayRules): TimedDay {
  const wanted = messages.map((m) => ({ ...m, wanted: firstOf(m).startMs }));
  return walk(
    wanted.sort((a, b) => a.wanted - b.wanted || a.id - b.id),
    rules,
  );
}

/** Messages with the same hours get equal slots of them, each at a random point of its slot. */
function spread(messages: readonly DayMessage[], seed: number): Wanted[] {
  const random = seededRandom(seed);
  const groups = new Map<string, DayMessage[]>();
  // Messages with equal hours mostly share the same array of spans.
  const known = new Map<readonly Span[], DayMessage[]>();
  for (const m of messages) {
    let group = known.get(m.open);
    if (!group) {
      const key = m.open.map((s) => `${s.startMs}-${s.endMs}`).join();
      group = groups.get(key) ?? [];
      groups.set(key, group);
      known.set(m.open, group);
    }
    group.push(m);
  }
  const wanted: Wanted[] = [];
  for (const group of groups.values()) {
    group.forEach((m, i) => {
      const share = (i + 0.5 + JITTER * (random() - 0.5)) / group.length;
      wanted.push({ id: m.id, units: m.units, open: m.open, wanted: pointAt(m.open, share) });
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
  const lately = rules.providerLimit24h === null ? null : new LastDay(rules.earlier, rules.providerLimit24h);
  let last = rules.lastMs;
  for (const m of wanted) {
    const at = nextOpen(m.open, Math.max(m.wanted, last + rules.paceMs));
    const instant = at === null || lately === null ? at : lately.firstRoom(m, at);
    if (instant === null) {
      out.spilled.push(m.id);
      continue;
    }
    last = instant;
    lately?.add(instant, m.units);
    out.timed.push({ id: m.id, instant, units: m.units });
  }
  return out;
}

const DAY = 24 * 3600 * 1000;

/** Messages sent in the 24 hours before an instant that only increases. */
class LastDay {
  private readonly sent: { instant: number; units: number }[];
  private from = 0;
  /** Units of `sent` from `from` on. */
  private units: number;

  constructor(
    earlier: readonly { instant: number; units: number }[],
    private readonly limit: number,
  ) {
    this.sent = earlier.slice();
    this.units = earlier.reduce((sum, e) => sum + e.units, 0);
  }

  /**
   * The first open instant from `at` on at which the last 24 hours have room, or null.
   *
   * @param at not before that of the call before
   */
  firstRoom(m: DayMessage, at: number): number | null {
    if (m.units > this.limit) return null;
    // A message that has no room, or only late, does not affect the others.
    let { from, units } = this;
    for (let instant: number | null = at; instant !== null;) {
      while (from < this.sent.length && this.sent[from]!.instant <= instant - DAY) units -= this.sent[from++]!.units;
      if (instant === at) [this.from, this.units] = [from, units];
      if (units + m.units <= this.limit) return instant;
      instant = nextOpen(m.open, this.sent[from]!.instant + DAY);
    }
    return null;
  }

  add(instant: number, units: number): void {
    this.sent.push({ instant, units });
    this.units += units;
  }
}

/** Whether the messages of one day, in any order, stay within the provider's 24-hour limit. */
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

const firstOf = (m: DayMessage) => m.open[0] as Span;
const lastOf = (m: DayMessage) => m.open.at(-1) as Span;
