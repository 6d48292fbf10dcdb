import {
  BOUNCE_EVENTS,
  DAY_MS,
  dayWords,
  hasReplied,
  isoDate,
  clockWords,
  MINUTE_MS,
  restWords,
  spansOfDay,
  type DateForm,
  type RecordedEventKind,
  type Zone,
} from '@baton/core';
import type { FirstStep, MarkState, Need, ShellView, TodayLane, TodayView } from '@baton/contract';
import type { ServerParts } from '../http/context';
import { localDay, quotaOn, restsOn } from '../mailboxes/capacity';
import { mailboxNote } from '../mailboxes/mailbox-note';
import { judging } from '../campaigns/audience';
import { planDraft } from '../campaigns/forecast';
import type { Queryable } from '../store/database';
import { listCampaigns } from '../store/campaigns/campaign-rows';
import { countUnconfirmed, dayOfMailboxes, nextPlanned, unconfirmedDeliveries } from '../store/sending/delivery-rows';
import { countEvents } from '../store/campaigns/event-rows';
import { listMailboxes, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { heldBatches } from '../store/planning/plan-rows';
import { unsentLetters } from '../store/reading/letter-rows';
import { countToDecide, listIncoming } from '../store/reading/reply-rows';
import { readBeginnings, readWorkspace } from '../store/workspace-rows';
import { zones } from '../time/zones';
import { diskNeed } from './disk-need';

type DayRow = Awaited<ReturnType<typeof dayOfMailboxes>>[number];

interface Today {
  nowMs: number;
  form: DateForm;
  zone: Zone;
  day: number;
  startMs: number;
  endMs: number;
  rows: DayRow[];
  mailboxes: MailboxRow[];
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
    needs: await readNeeds(parts, today),
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

/** Most needs of one kind that are listed; the others are counted, with the way to them. */
const MOST_EACH = 20;

/** A server that takes nothing for so long is told of; before that it comes back by itself. */
const FAILING_MS = 60 * MINUTE_MS;

/** A moment in the mailbox's own zone: its day, and its hour. */
function whenWords(mailbox: MailboxRow, atMs: number, form: DateForm): string {
  const { day, minute } = zones.get(mailbox.zone).toLocal(atMs);
  return `${dayWords(isoDate(day), 'short', form)}, ${clockWords(minute)}`;
}

/** A mailbox that has not been read for so long in real time sees no replies. */
const BLIND_MS = 10 * MINUTE_MS;

/** What is wrong with a mailbox, the worst first; null where nothing is. */
function mailboxNeed(m: MailboxRow, { nowMs, form }: Today, isReal: boolean): Omit<Need, 'link'> | null {
  if (m.problem !== null)
    return {
      kind: 'problem',
      title: `${m.address} cannot sign in`,
      detail: m.problem,
      action: 'Fix the connection',
      ...(m.grantId === null ? {} : { grantId: m.grantId }),
    };
  if (m.sendFailedSince !== null && nowMs - m.sendFailedSince >= FAILING_MS)
    return {
      kind: 'problem',
      title: `${m.address} has not been able to send since ${whenWords(m, m.sendFailedSince, form)}`,
      detail: m.sendFailure,
      action: 'Look at the connection',
    };
  const readAt = m.lastReadAt ?? m.createdAt;
  if (isReal && nowMs - readAt >= BLIND_MS)
    return {
      kind: 'problem',
      title: `${m.address} has not been read since ${whenWords(m, readAt, form)}`,
      detail: 'Its replies are not seen, and no follow-up is sent from it until it can be read.',
      action: 'Look at the connection',
    };
  if (restsOn(m, localDay(m, nowMs)))
    return {
      kind: 'resting',
      title: `${m.address} rests until ${dayWords(m.restUntil ?? '', 'short', form)}`,
      detail: restWords(m.restReason, m.restMoved),
      action: 'See why',
    };
  return null;
}

async function readNeeds({ store, config }: ServerParts, today: Today): Promise<Need[]> {
  const { mailboxes, form } = today;
  const needs: Need[] = await diskNeed(config.keyFile);
  for (const m of mailboxes) {
    const need = mailboxNeed(m, today, config.simulatorUrl === null);
    if (need) needs.push({ ...need, link: `/mailboxes/${m.id}` });
  }
  for (const batch of await heldBatches(store.db, today.day)) {
    const mailbox = mailboxes.find((m) => m.id === batch.mailboxId)?.address ?? '';
    needs.push({
      kind: 'held',
      title: `${batch.messages === 1 ? '1 message' : `${batch.messages} messages`} of ${dayWords(isoDate(batch.day), 'short', form)} held`,
      detail: mailbox,
      action: 'Review and release',
      link: `/plan/${isoDate(batch.day)}/${batch.mailboxId}`,
    });
  }
  const page = { offset: 0, limit: MOST_EACH };
  const day = isoDate(today.day);
  const { waiting, unmatched } = await countToDecide(store.db, day);
  for (const a of await listIncoming(store.db, { waitsOn: day }, page)) needs.push(answerNeed(a));
  needs.push(...others('answer', waiting, (n) => `${n} more ${n === 1 ? 'reply' : 'replies'}`, '/replies'));
  if (unmatched > 0)
    needs.push({
      kind: 'unmatched',
      title: `${unmatched} ${unmatched === 1 ? 'message' : 'messages'} came from nobody who was written to`,
      detail: '',
      action: 'Look through',
      link: '/replies?show=unmatched',
      count: unmatched,
    });
  const unconfirmed = await countUnconfirmed(store.db);
  for (const r of await unconfirmedDeliveries(store.db, MOST_EACH))
    needs.push({
      kind: 'unconfirmed',
      title: `The message to ${r.to} may or may not have been sent`,
      detail: r.reason,
      action: 'Say what happened',
      link: `/campaigns/${r.campaignId}`,
    });
  needs.push(
    ...others('unconfirmed', unconfirmed, (n) => `${n} more ${n === 1 ? 'message' : 'messages'}`, '/campaigns'),
    ...(await lettersInTrouble(store.db)),
  );
  return needs;
}

function answerNeed(a: Awaited<ReturnType<typeof listIncoming>>[number]): Need {
  const need = { kind: 'answer', title: a.fromName, link: `/replies/${a.id}` } as const;
  const words = firstLine(a.body);
  if (a.match === 'unsure')
    return { ...need, detail: `Perhaps about the message to ${a.person ?? ''}: ${words}`, action: 'Say whose it is' };
  // Of those that wait only one that was put off has a day.
  if (a.remindOn !== null) return { ...need, detail: `To be written to again: ${words}`, action: 'Write again' };
  return { ...need, detail: words, action: 'Set outcome' };
}

/** Letters by hand that did not leave, or of which nobody knows. */
async function lettersInTrouble(db: Queryable): Promise<Need[]> {
  return (await unsentLetters(db, MOST_EACH)).map(({ to, reason, state, incomingId }) => {
    const isFailed = state === 'failed';
    return {
      kind: isFailed ? 'answer_failed' : 'unconfirmed',
      title: `The answer to ${to} ${isFailed ? 'could not be sent' : 'may or may not have been sent'}`,
      detail: reason,
      action: isFailed ? 'Look at it' : 'Say what happened',
      link: incomingId === null ? '/replies' : `/replies/${incomingId}`,
    };
  });
}

/** Of what somebody wrote, as much as a line takes. */
const firstLine = (text: string): string => text.trim().split('\n')[0]?.slice(0, 120) ?? '';

/** Stands for those of a kind that are not listed; none where all are. */
function others(kind: Need['kind'], total: number, words: (n: number) => string, link: string): Need[] {
  const n = total - MOST_EACH;
  return n > 0 ? [{ kind, title: words(n), detail: '', action: 'Show all', link, count: n }] : [];
}

/** What keeps drafts from starting: one thing to fix each. */
export async function viewDraftNeeds(parts: ServerParts): Promise<Need[]> {
  const { store } = parts;
  const judged = await judging(parts);
  const needs: Need[] = [];
  for (const c of (await listCampaigns(store.db)).filter((d) => d.state === 'draft')) {
    const fix = (await planDraft(store.db, c, judged)).forecast.obstacles.find((o) => o.kind === 'fix');
    if (fix)
      needs.push({
        kind: 'fix',
        title: `${c.name} (draft)`,
        detail: fix.text,
        action: 'Fix',
        link: `/campaigns/${c.id}`,
      });
  }
  return needs;
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
