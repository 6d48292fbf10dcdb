import type { Random } from '../../random/seeded';
import { cropSpans, nextOpen } from '../../time/window';
import { assignSoonest, staysWithin, type DayMessage, type DayRules, type TimedDay } from './assign-instants';
import { timeIntoGaps, type PartlyTimed } from './time-into-gaps';

/** A message of a day on which some have an instant of their own. */
export type PlacedInDay = PartlyTimed & {
  /** Whether it leaves as soon as its hours begin: they are given from its own instant on. */
  isTimed: boolean;
};

/**
 * Times a mailbox-day on which some messages have an instant of their own. These come first and leave then, the pace apart
 * where several want the same; the others keep theirs, or get one in the gaps between. If the gaps are too few, the others
 * go one after the other wherever there is room.
 */
export function timeAround(messages: readonly PlacedInDay[], rules: DayRules, random: Random): TimedDay {
  const timed = assignSoonest(
    messages.filter((m) => m.isTimed),
    rules,
  );
  const at = new Map(timed.timed.map((t) => [t.id, t.instant]));
  const taken = [...at.values()].sort((a, b) => a - b);
  const isApart = (instant: number) => taken.every((t) => Math.abs(t - instant) >= Math.max(1, rules.paceMs));
  const rest = messages.filter((m) => !m.isTimed);
  const all = [
    ...messages.filter((m) => at.has(m.id)).map((m) => ({ ...m, instant: at.get(m.id) as number })),
    ...rest.map((m) => ({ ...m, instant: m.instant !== null && isApart(m.instant) ? m.instant : null })),
  ];
  const instants = timeIntoGaps(all, rules, random);
  if (!instants) return pack(timed, rest, rules);
  const found = all.map(({ id, units }, i) => ({ id, units, instant: instants[i] as number }));
  return { timed: found, spilled: timed.spilled };
}

/** Adds messages to those that have their instants, each as early as it may leave, those whose hours end first going first. */
function pack({ timed, spilled }: TimedDay, rest: readonly DayMessage[], rules: DayRules): TimedDay {
  const out: TimedDay = { timed: timed.slice(), spilled: spilled.slice() };
  const apart = Math.max(1, rules.paceMs);
  const taken = timed.map((t) => t.instant).sort((a, b) => a - b);
  const end = (m: DayMessage) => m.open.at(-1)?.endMs ?? 0;
  for (const m of rest.toSorted((a, b) => end(a) - end(b) || a.id - b.id)) {
    let instant = nextOpen(m.open, rules.lastMs + rules.paceMs);
    for (const t of taken) {
      if (instant === null || t - instant >= apart) break;
      if (instant - t < apart) instant = nextOpen(cropSpans(m.open, t + apart), t + apart);
    }
    const isRoom = instant !== null && staysWithin([...out.timed, { instant, units: m.units }], rules);
    if (instant === null || !isRoom) {
      out.spilled.push(m.id);
      continue;
    }
    out.timed.push({ id: m.id, instant, units: m.units });
    taken.push(instant);
    taken.sort((a, b) => a - b);
  }
  return out;
}
