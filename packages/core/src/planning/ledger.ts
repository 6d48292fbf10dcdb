import { DAY_MS } from '../time/clock';
import { dayNumber } from '../time/days';
import { intersectSpans, spansOfDay, type Span } from '../time/window';
import type { WorkingCalendar } from '../time/working-calendar';
import type { Zone, Zones } from '../time/zone';
import { isoWeekday } from '../time/days';
import type { PlanInput, PlanMailbox } from './plan-input';

/** What each mailbox may still take on each day, kept while people are placed. */
export interface Ledger {
  readonly input: PlanInput;
  readonly calendar: WorkingCalendar;
  /** First and last local day of a mailbox that the plan may use. */
  firstDay(mailbox: number): number;
  lastDay(mailbox: number): number;
  /** Units the mailbox may still take on the day before anything of this plan is placed. */
  capacity(mailbox: number, day: number): number;
  /** Units of this plan placed on the day. */
  used(mailbox: number, day: number): number;
  /** The instants at which this recipient can be written to from this mailbox on this day. */
  openSpans(recipient: number, mailbox: number, day: number): Span[];
  fits(recipient: number, mailbox: number, day: number): boolean;
  put(recipient: number, mailbox: number, day: number): void;
  take(recipient: number, mailbox: number, day: number): void;
}

interface MailboxDays {
  zone: Zone;
  first: number;
  capacity: Int32Array;
  messageRoom: Int32Array;
  used: Int32Array;
  messages: Int32Array;
  spans: (Span[] | undefined)[];
}

export function createLedger(input: PlanInput, calendar: WorkingCalendar, zones: Zones): Ledger {
  const mailboxes = input.mailboxes.map((m) => mailboxDays(m, input, calendar, zones));
  const open = new Map<string, Span[]>();
  const domainCounts = new Map<string, number>();
  const campaignCounts = new Map<string, number>(
    input.campaigns.flatMap((c, i) =>
      (c.alreadySent ?? []).map(({ day, messages }) => [`${i}/${day}`, messages] as const),
    ),
  );
  const r = input.recipients;
  const at = (mailbox: number) => mailboxes[mailbox] as MailboxDays;
  const domainKey = (recipient: number, mailbox: number, day: number) => `${mailbox}/${day}/${r.domain[recipient]}`;
  const campaignOf = (recipient: number) => r.campaign[recipient] as number;
  const add = (counts: Map<string, number>, key: string, n: number) => counts.set(key, (counts.get(key) ?? 0) + n);

  const openSpans = (recipient: number, mailbox: number, day: number): Span[] => {
    const own = at(mailbox).spans[day - at(mailbox).first] ?? [];
    const window = input.campaigns[campaignOf(recipient)]?.recipientWindow;
    if (!window) return own;
    const key = `${mailbox}/${day}/${r.zone[recipient]}/${campaignOf(recipient)}`;
    let spans = open.get(key);
    if (!spans) {
      const zone = zones.get(input.zones[r.zone[recipient] as number] as string);
      spans = intersectSpans(own, recipientSpans(window, day, zone));
      open.set(key, spans);
    }
    return spans;
  };

  const change = (recipient: number, mailbox: number, day: number, sign: 1 | -1) => {
    const m = at(mailbox);
    const i = day - m.first;
    m.used[i] = (m.used[i] as number) + sign * (r.units[recipient] as number);
    m.messages[i] = (m.messages[i] as number) + sign;
    if (input.domainCap !== null) add(domainCounts, domainKey(recipient, mailbox, day), sign);
    if (input.campaigns[campaignOf(recipient)]?.dailyLimit != null)
      add(campaignCounts, `${campaignOf(recipient)}/${day}`, sign);
  };

  return {
    input,
    calendar,
    firstDay: (mailbox) => at(mailbox).first,
    lastDay: (mailbox) => at(mailbox).first + input.horizonDays,
    capacity: (mailbox, day) => at(mailbox).capacity[day - at(mailbox).first] ?? 0,
    used: (mailbox, day) => at(mailbox).used[day - at(mailbox).first] ?? 0,
    openSpans,
    fits(recipient, mailbox, day) {
      const m = at(mailbox);
      const i = day - m.first;
      if (i < 0 || i >= m.capacity.length) return false;
      if ((m.used[i] as number) + (r.units[recipient] as number) > (m.capacity[i] as number)) return false;
      if ((m.messages[i] as number) >= (m.messageRoom[i] as number)) return false;
      if (input.domainCap !== null && (domainCounts.get(domainKey(recipient, mailbox, day)) ?? 0) >= input.domainCap)
        return false;
      const limit = input.campaigns[campaignOf(recipient)]?.dailyLimit;
      if (limit != null && (campaignCounts.get(`${campaignOf(recipient)}/${day}`) ?? 0) >= limit) return false;
      return openSpans(recipient, mailbox, day).length > 0;
    },
    put: (recipient, mailbox, day) => change(recipient, mailbox, day, 1),
    take: (recipient, mailbox, day) => change(recipient, mailbox, day, -1),
  };
}

/** The recipient's own hours around a mailbox-local day: three local days cover any two zones. */
function recipientSpans(window: { weekdays: number[]; from: number; to: number }, day: number, zone: Zone): Span[] {
  return [day - 1, day, day + 1]
    .filter((d) => window.weekdays.includes(isoWeekday(d)))
    .map((d) => ({ startMs: zone.toInstant(d, window.from), endMs: zone.toInstant(d, window.to) }))
    .filter((s) => s.endMs > s.startMs);
}

function mailboxDays(mailbox: PlanMailbox, input: PlanInput, calendar: WorkingCalendar, zones: Zones): MailboxDays {
  const zone = zones.get(mailbox.zone);
  const first = zone.toLocal(input.now).day;
  const n = input.horizonDays + 1;
  const days: MailboxDays = {
    zone,
    first,
    capacity: new Int32Array(n),
    messageRoom: new Int32Array(n),
    used: new Int32Array(n),
    messages: new Int32Array(n),
    spans: new Array<Span[] | undefined>(n),
  };
  if (mailbox.held) return days;
  const off = new Set(mailbox.daysOff.map(dayNumber));
  const restUntil = mailbox.restUntil === null ? -Infinity : dayNumber(mailbox.restUntil);
  const usedToday = mailbox.alreadyUsed
    .filter((u) => zone.toLocal(u.instant).day === first)
    .reduce((sum, u) => sum + u.units, 0);
  const quota = quotaByDay(mailbox, first, calendar);
  const earliest = Math.max(input.now, lastUse(mailbox) + mailbox.paceSeconds * 1000);
  for (let i = 0; i < n; i++) {
    const day = first + i;
    if (off.has(day) || day < restUntil) continue;
    const spans = spansOfDay(mailbox.windows, day, zone)
      .map((s) => ({ startMs: Math.max(s.startMs, earliest), endMs: s.endMs }))
      .filter((s) => s.endMs > s.startMs);
    days.spans[i] = spans;
    days.messageRoom[i] = spans.reduce((sum, s) => sum + messagesIn(s, mailbox.paceSeconds), 0);
    const units = Math.min(quota(day), mailbox.providerLimit24h ?? Infinity) - (i === 0 ? usedToday : 0);
    days.capacity[i] = spans.length === 0 ? 0 : Math.max(0, Math.min(units, 2 ** 31 - 1));
  }
  return days;
}

/** How many messages a span takes at the least pace; the first stands at its start. */
function messagesIn(span: Span, paceSeconds: number): number {
  return paceSeconds === 0 ? 2 ** 31 - 1 : Math.ceil((span.endMs - span.startMs) / (paceSeconds * 1000));
}

function lastUse(mailbox: PlanMailbox): number {
  return mailbox.alreadyUsed.reduce((last, u) => Math.max(last, u.instant), -DAY_MS * 36500);
}

/**
 * The quota of each day, today first: the ramp counts working days that have passed since it began.
 *
 * @param first the mailbox's local today; days asked for must not lie before it and come in rising order
 */
function quotaByDay(mailbox: PlanMailbox, first: number, calendar: WorkingCalendar): (day: number) => number {
  const capacity = mailbox.capacity;
  if ('days' in capacity) return (day) => capacity.days[Math.min(day - first, capacity.days.length - 1)] ?? 0;
  const ramp = capacity.ramp;
  if (!ramp) return () => capacity.quota;
  return (day) => rampQuota(capacity.quota, ramp, Math.max(0, calendar.between(ramp.day, day)));
}

/** The ramp's ceiling after k working days. */
export function rampQuota(quota: number, ramp: Ramp, k: number): number {
  return Math.min(quota, ramp.first + ramp.add * Math.floor(k / ramp.every));
}

type Ramp = NonNullable<Extract<PlanMailbox['capacity'], { quota: number }>['ramp']>;
