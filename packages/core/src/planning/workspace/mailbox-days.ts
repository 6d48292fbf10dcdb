import { dayNumber, isoWeekday } from '../../time/days';
import { intersectSpans, spansOfDay, type Span } from '../../time/window';
import type { Zone } from '../../time/zone';
import type { PlanInput, PlanMailbox, RecipientWindow } from './plan-input';
import type { PlanDays } from './plan-days';

/** More messages than any day can have. */
const NO_LIMIT = 2 ** 30;

/** One recipient's hours: a campaign's window in a zone. Index 0 stands for no window at all. */
export interface HourClass {
  window: RecipientWindow;
  zone: Zone;
}

/** When and how much each mailbox may send, day by day, before anything is placed. */
export class MailboxDays {
  /** Capacity of mailbox m on day i in units and in messages, at m * days.count + i. */
  readonly capacity: Int32Array;
  readonly room: Int32Array;
  private readonly spans: (readonly Span[])[];
  private readonly common = new Map<number, readonly Span[]>();

  constructor(
    private readonly input: PlanInput,
    readonly days: PlanDays,
    readonly hours: readonly (HourClass | null)[],
  ) {
    const size = input.mailboxes.length * days.count;
    this.capacity = new Int32Array(size);
    this.room = new Int32Array(size);
    this.spans = new Array<readonly Span[]>(size).fill([]);
    const known = new Map<string, (readonly Span[])[]>();
    input.mailboxes.forEach((mailbox, m) => {
      if (!mailbox.held) this.fill(mailbox, m, known);
    });
  }

  /** The instants at which people of an hour class can be written to from mailbox m on day i. */
  open(m: number, i: number, hourClass: number): readonly Span[] {
    const own = this.spans[m * this.days.count + i]!;
    const hours = this.hours[hourClass];
    if (!hours || own.length === 0) return own;
    const key = (hourClass * this.input.mailboxes.length + m) * this.days.count + i;
    let spans = this.common.get(key);
    if (!spans) {
      spans = intersectSpans(own, spansAround(hours, this.days.base + i));
      this.common.set(key, spans);
    }
    return spans;
  }

  /** How many messages fit into some hours at the mailbox's pace. */
  roomIn(spans: readonly Span[], m: number): number {
    const pace = this.pace(m);
    const open = spans.reduce((sum, s) => sum + s.endMs - s.startMs, 0);
    return pace === 0 ? (open > 0 ? NO_LIMIT : 0) : Math.ceil(open / pace);
  }

  /** The least gap between two messages of mailbox m, whole milliseconds. */
  pace(m: number): number {
    return paceMs(this.input.mailboxes[m]!);
  }

  private fill(mailbox: PlanMailbox, m: number, known: Map<string, (readonly Span[])[]>): void {
    const { days, input } = this;
    const zone = days.zones.get(mailbox.zone);
    const today = days.index(zone.toLocal(input.now).day);
    const off = new Set(mailbox.daysOff.map(dayNumber));
    const from = Math.max(today, mailbox.restUntil === null ? 0 : days.index(dayNumber(mailbox.restUntil)));
    const quota = quotaByDay(mailbox, days, today);
    const usedToday = mailbox.alreadyUsed
      .filter((u) => zone.toLocal(u.instant).day === days.base + today)
      .reduce((sum, u) => sum + u.units, 0);
    const earliest = Math.max(input.now, lastUse(mailbox) + paceMs(mailbox));
    const key = `${mailbox.zone} ${JSON.stringify(mailbox.windows)}`;
    const ofWeek = known.get(key) ?? [];
    known.set(key, ofWeek);
    for (let i = from; i < days.count; i++) {
      if (off.has(days.base + i)) continue;
      let spans = (ofWeek[i] ??= spansOfDay(mailbox.windows, days.base + i, zone));
      if (spans.some((s) => s.startMs < earliest))
        spans = spans.map((s) => ({ ...s, startMs: Math.max(s.startMs, earliest) })).filter((s) => s.endMs > s.startMs);
      const at = m * days.count + i;
      this.spans[at] = spans;
      this.room[at] = this.roomIn(spans, m);
      const units = Math.min(quota(i), mailbox.providerLimit24h ?? NO_LIMIT, NO_LIMIT) - (i === today ? usedToday : 0);
      this.capacity[at] = spans.length === 0 ? 0 : Math.max(0, Math.floor(units));
    }
  }
}

/** The greatest capacity that any day of a mailbox could have, in units; 0 for one that never sends. */
export function mostOfAnyDay({ capacity, held, providerLimit24h, windows }: PlanMailbox): number {
  if (held || windows.every((spans) => spans.length === 0)) return 0;
  const most = 'days' in capacity ? capacity.days.reduce((a, b) => Math.max(a, b), 0) : capacity.quota;
  return Math.max(0, Math.floor(Math.min(most, providerLimit24h ?? NO_LIMIT)));
}

/** The least gap between two messages, whole milliseconds. */
export const paceMs = (mailbox: PlanMailbox): number => Math.max(0, Math.ceil(mailbox.paceSeconds * 1000));

/** The recipient's own hours around a mailbox-local day: three local days cover any two zones. */
function spansAround({ window, zone }: HourClass, day: number): Span[] {
  return [day - 1, day, day + 1]
    .filter((d) => window.weekdays.includes(isoWeekday(d)))
    .map((d) => ({ startMs: zone.toInstant(d, window.from), endMs: zone.toInstant(d, window.to) }))
    .filter((s) => s.endMs > s.startMs);
}

function lastUse(mailbox: PlanMailbox): number {
  return mailbox.alreadyUsed.reduce((last, u) => Math.max(last, u.instant), -Infinity);
}

/** The quota of each day, by index; the ramp counts the working days that have passed since it began. */
function quotaByDay(mailbox: PlanMailbox, days: PlanDays, today: number): (i: number) => number {
  const capacity = mailbox.capacity;
  if ('days' in capacity) return (i) => capacity.days[Math.min(i - today, capacity.days.length - 1)] ?? 0;
  const ramp = capacity.ramp;
  if (!ramp) return () => capacity.quota;
  const before = days.workdayOf(ramp.day);
  return (i) => rampQuota(capacity.quota, ramp, Math.max(0, days.workday[i]! - before));
}

/** The ramp's ceiling after k working days. */
export function rampQuota(quota: number, ramp: Ramp, k: number): number {
  return Math.min(quota, ramp.first + ramp.add * Math.floor(k / ramp.every));
}

type Ramp = NonNullable<Extract<PlanMailbox['capacity'], { quota: number }>['ramp']>;
