import { BOUNCE_EVENTS, DAY_MS, hasReplied, isoDate, spansOfDay, type RecordedEventKind, type Zone } from '@baton/core';
import type { FirstStep, MarkState, ShellView, TodayLane, TodayView } from '@baton/contract';
import type { ServerParts } from '../http/context';
import { localDay, quotaOn, restsOn } from '../mailboxes/capacity';
import { mailboxNote } from '../mailboxes/mailbox-note';
import type { Queryable } from '../store/database';
import { countEvents } from '../store/campaigns/event-rows';
import { listMailboxes, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { countToDecide } from '../store/reading/reply-rows';
import { dayOfMailboxes, nextPlanned } from '../store/sending/delivery-rows';
import { readBeginnings, readWorkspace } from '../store/workspace-rows';
import { zones } from '../time/zones';
import { withPutOff, readNeeds, type NeedsOf } from './needs';

type DayRow = Awaited<ReturnType<typeof dayOfMailboxes>>[number];

interface Today extends NeedsOf {
  zone: Zone;
  startMs: number;
  endMs: number;
  rows: DayRow[];
}

async function readToday({ store, clock }: ServerParts): Promise<Today> {
  const nowMs = await clock.now();
  const { zone: zoneName, dateForm: form } = await readWorkspace(store.db);
  const zone = zones.get(zoneName);
  const { day } = zone.toLocal(nowMs);
  const startMs = zone.toInstant(day, 0);
  const endMs = zone.toInstant(day + 1, 0);
  return {
    nowMs,
    form,
    zone,
    day,
    startMs,
    endMs,
    rows: await dayOfMailboxes(store.db, startMs, endMs),
    mailboxes: await listMailboxes(store.db),
  };
}

const isSent = (r: DayRow) => r.state === 'sent' || r.state === 'unconfirmed';
const isToCome = (r: DayRow) => r.state === 'planned' || r.state === 'deferred' || r.state === 'sending';

export async function viewShell(parts: ServerParts): Promise<ShellView> {
  const { store, clock, config } = parts;
  const [workspace, row, today] = await Promise.all([readWorkspace(store.db), clock.read(), readToday(parts)]);
  const toDecide = await countToDecide(store.db, isoDate(today.day));
  return {
    workspace: workspace.name,
    dateForm: workspace.dateForm,
    clock: {
      simulated: row.simulated,
      nowMs: today.nowMs,
      rate: row.simulated ? row.rate : 1,
      driving: row.simulated && (row.untilMs !== null || row.toNextEvent),
      zone: workspace.zone,
    },
    heldAll: workspace.heldAll,
    sentToday: today.rows.filter((r) => isSent(r) || (r.state === 'failed' && r.at <= today.nowMs)).length,
    plannedToday: today.rows.length,
    repliesWaiting: toDecide.waiting,
    mailboxesInTrouble: today.mailboxes.filter((m) => m.problem !== null || restsOn(m, localDay(m, today.nowMs)))
      .length,
    demo: config.simulatorUrl !== null,
  };
}

export async function viewToday(parts: ServerParts): Promise<TodayView> {
  const { store } = parts;
  const today = await readToday(parts);
  const { nowMs, zone, startMs, endMs, rows, mailboxes } = today;
  const yesterday = zone.toInstant(today.day - 1, 0);
  const since = await countEvents(store.db, yesterday, nowMs + 1);
  const toCome = rows.filter(isToCome);
  const next = toCome.length === 0 ? await nextPlanned(store.db, endMs) : null;
  return {
    dayStartMs: startMs,
    dayEndMs: endMs,
    zone: zone.name,
    sent: rows.filter((r) => isSent(r) || r.state === 'failed').length,
    planned: rows.length,
    lastAt: toCome.at(-1)?.at ?? null,
    answeredSinceYesterday: since.get('reply') ?? 0,
    waiting: (await countToDecide(store.db, isoDate(today.day))).waiting,
    resting: mailboxes.filter((m) => restsOn(m, localDay(m, nowMs))).length,
    nextDay: next === null ? null : isoDate(zone.toLocal(next).day),
    lanes: mailboxes.map((m) => lane(m, today)),
    needs: await withPutOff(store.db, await readNeeds(parts, today), isoDate(today.day)),
    week: await weekSoFar(store.db, today),
    firstSteps: await firstSteps(store.db),
  };
}

async function firstSteps(db: Queryable): Promise<FirstStep[]> {
  const has = await readBeginnings(db);
  if (has.hasStarted) return [];
  return [
    { kind: 'settings', isDone: has.isNamed },
    { kind: 'mailbox', isDone: has.hasMailbox },
    { kind: 'people', isDone: has.hasPeople },
    { kind: 'message', isDone: has.hasMessage },
    { kind: 'campaign', isDone: false },
  ];
}

function lane(m: MailboxRow, { nowMs, day, rows, form }: Today): TodayLane {
  const own = rows.filter((r) => r.mailboxId === m.id);
  const mailboxDay = localDay(m, nowMs);
  const mark = (r: DayRow): MarkState => {
    if (r.state === 'failed') return 'failed';
    if (r.state === 'unconfirmed') return 'unsure';
    if (!isSent(r)) return 'to_come';
    return hasReplied(r.enrolmentState) ? 'answered' : 'sent';
  };
  return {
    mailboxId: m.id,
    address: m.address,
    senderName: m.senderName,
    windows: spansOfDay(m.windows, day, zones.get(m.zone)),
    marks: own.map((r) => ({ at: r.at, state: mark(r), campaignId: r.campaignId, followUp: r.step > 0 })),
    sent: own.filter(isSent).length,
    quota: quotaOn(m, mailboxDay, mailboxDay),
    note: mailboxNote(m, mailboxDay, form),
  };
}

/** Monday to now, against Monday to the same moment of last week. */
async function weekSoFar(db: Queryable, { nowMs, zone, day }: Today): Promise<TodayView['week']> {
  const monday = day - ((day + 3) % 7);
  const from = zone.toInstant(monday, 0);
  const [now, before] = await Promise.all([
    countEvents(db, from, nowMs + 1),
    countEvents(db, zone.toInstant(monday - 7, 0), nowMs - 7 * DAY_MS + 1),
  ]);
  const sum = (of: Map<string, number>, kinds: readonly string[]) =>
    kinds.reduce((n, kind) => n + (of.get(kind) ?? 0), 0);
  const row = (label: string, kinds: readonly RecordedEventKind[]) => ({
    label,
    now: sum(now, kinds),
    before: sum(before, kinds),
  });
  return [
    row('Sent', ['sent']),
    row('Replied', ['reply']),
    row('Auto-replies', ['auto_reply']),
    row('Bounced', BOUNCE_EVENTS),
    row('Unsubscribed', ['unsubscribe']),
  ];
}
