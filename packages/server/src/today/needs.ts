import { clockWords, dayWords, firstWords, isoDate, MINUTE_MS, restWords, type DateForm } from '@baton/core';
import type { Need } from '@baton/contract';
import { judging } from '../campaigns/audience';
import { planDraft } from '../campaigns/forecast';
import type { ServerParts } from '../http/context';
import { localDay, restsOn } from '../mailboxes/capacity';
import { listCampaigns } from '../store/campaigns/campaign-rows';
import type { Queryable } from '../store/database';
import type { MailboxRow } from '../store/mailboxes/mailbox-rows';
import { listPutOff } from '../store/need-rows';
import { heldBatches } from '../store/planning/plan-rows';
import { unsentLetters } from '../store/reading/letter-rows';
import { countToDecide, listIncoming } from '../store/reading/reply-rows';
import { countUnconfirmed, unconfirmedDeliveries } from '../store/sending/delivery-rows';
import { readWorkspace, type WorkspaceRow } from '../store/workspace-rows';
import { localToday } from '../time/local-today';
import { zones } from '../time/zones';
import { diskNeed } from './disk-need';

/** The moment for which is asked what needs a person. */
export interface NeedsOf {
  nowMs: number;
  form: DateForm;
  /** The workspace's day number. */
  day: number;
  mailboxes: MailboxRow[];
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

/** What is wrong with a mailbox, the worst first; null where nothing is. What was put off hides nothing that is wrong besides. */
function mailboxNeed(m: MailboxRow, { nowMs, form }: NeedsOf, isReal: boolean): Omit<Need, 'link'> | null {
  if (m.problem !== null)
    return {
      key: `sign_in:${m.id}`,
      kind: 'problem',
      title: `${m.address} cannot sign in`,
      detail: m.problem,
      action: 'Fix the connection',
      ...(m.grantId === null ? {} : { grantId: m.grantId }),
    };
  if (m.sendFailedSince !== null && nowMs - m.sendFailedSince >= FAILING_MS)
    return {
      key: `sending:${m.id}`,
      kind: 'problem',
      title: `${m.address} has not been able to send since ${whenWords(m, m.sendFailedSince, form)}`,
      detail: m.sendFailure,
      action: 'Look at the connection',
    };
  const readAt = m.lastReadAt ?? m.createdAt;
  if (isReal && nowMs - readAt >= BLIND_MS)
    return {
      key: `reading:${m.id}`,
      kind: 'problem',
      title: `${m.address} has not been read since ${whenWords(m, readAt, form)}`,
      detail: 'Its replies are not seen, and no follow-up is sent from it until it can be read.',
      action: 'Look at the connection',
    };
  if (restsOn(m, localDay(m, nowMs)))
    return {
      key: `rest:${m.id}:${m.restUntil}`,
      kind: 'resting',
      title: `${m.address} rests until ${dayWords(m.restUntil ?? '', 'short', form)}`,
      detail: restWords(m.restReason, m.restMoved),
      action: 'See why',
    };
  return null;
}

/** Says of those that somebody has put off beyond a day until when. */
export async function withPutOff(db: Queryable, needs: readonly Need[], day: string): Promise<Need[]> {
  const until = new Map((await listPutOff(db, day)).map((n) => [n.key, n.until]));
  return needs.map((n) => {
    const putOffUntil = until.get(n.key);
    return putOffUntil === undefined ? n : { ...n, putOffUntil };
  });
}

/** Files with rows that could not be written when they were due last. */
function rowsNeed({ rowsFailed, rowsDay, rowsFolder, rowsFound }: WorkspaceRow): Need[] {
  if (!rowsFailed) return [];
  return [
    {
      key: `rows:${rowsDay}`,
      kind: 'problem',
      title: `Rows with outcomes could not all be written into ${rowsFolder}`,
      detail: rowsFound,
      action: 'Look at the folder',
      link: '/settings',
    },
  ];
}

/** Everything that waits for a person, but for what drafts lack. */
export async function readNeeds({ store, config }: ServerParts, today: NeedsOf): Promise<Need[]> {
  const { mailboxes, form } = today;
  const needs: Need[] = [...(await diskNeed(config.keyFile)), ...rowsNeed(await readWorkspace(store.db))];
  for (const m of mailboxes) {
    const need = mailboxNeed(m, today, config.simulatorUrl === null);
    if (need) needs.push({ ...need, link: `/mailboxes/${m.id}` });
  }
  for (const batch of await heldBatches(store.db, today.day)) {
    const mailbox = mailboxes.find((m) => m.id === batch.mailboxId)?.address ?? '';
    const day = isoDate(batch.day);
    needs.push({
      key: `held:${day}:${batch.mailboxId}`,
      kind: 'held',
      settles: { kind: 'batch', day, mailboxId: batch.mailboxId },
      title: `${batch.messages === 1 ? '1 message' : `${batch.messages} messages`} of ${dayWords(day, 'short', form)} held`,
      detail: mailbox,
      action: 'Review',
      link: `/plan/${day}/${batch.mailboxId}`,
    });
  }
  const page = { offset: 0, limit: MOST_EACH };
  const day = isoDate(today.day);
  const { waiting, unmatched } = await countToDecide(store.db, day);
  for (const a of await listIncoming(store.db, { waitsOn: day }, page)) needs.push(answerNeed(a));
  needs.push(...others('answer', waiting, (n) => `${n} more ${n === 1 ? 'reply' : 'replies'}`, '/replies'));
  if (unmatched > 0)
    needs.push({
      key: 'unmatched',
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
      key: `unconfirmed:${r.id}`,
      kind: 'unconfirmed',
      settles: { kind: 'delivery', id: r.id },
      title: `The message to ${r.to} may or may not have been sent`,
      detail: r.reason,
      action: 'Look',
      link: `/campaigns/${r.campaignId}`,
    });
  needs.push(
    ...others('unconfirmed', unconfirmed, (n) => `${n} more ${n === 1 ? 'message' : 'messages'}`, '/campaigns'),
    ...(await lettersInTrouble(store.db)),
  );
  return needs;
}

function answerNeed(a: Awaited<ReturnType<typeof listIncoming>>[number]): Need {
  const need = { key: `answer:${a.id}`, kind: 'answer', title: a.fromName, link: `/replies/${a.id}` } as const;
  const words = firstWords(a.body, MOST_WORDS);
  if (a.match === 'unsure')
    return { ...need, detail: `Perhaps about the message to ${a.person ?? ''}: ${words}`, action: 'Say whose it is' };
  // Of those that wait only one that was put off has a day.
  if (a.remindOn !== null) return { ...need, detail: `To be written to again: ${words}`, action: 'Write again' };
  return { ...need, detail: words, action: 'Read', settles: { kind: 'outcome', id: a.id } };
}

/** Letters by hand that did not leave, or of which nobody knows. */
async function lettersInTrouble(db: Queryable): Promise<Need[]> {
  return (await unsentLetters(db, MOST_EACH)).map(({ id, to, reason, state, incomingId }) => {
    const isFailed = state === 'failed';
    return {
      key: `letter:${id}`,
      ...(isFailed ? {} : { settles: { kind: 'letter', id } as const }),
      kind: isFailed ? 'answer_failed' : 'unconfirmed',
      title: `The answer to ${to} ${isFailed ? 'could not be sent' : 'may or may not have been sent'}`,
      detail: reason,
      action: isFailed ? 'Look at it' : 'Look',
      link: incomingId === null ? '/replies' : `/replies/${incomingId}`,
    };
  });
}

/** Characters of what somebody wrote. */
const MOST_WORDS = 120;

/** Stands for those of a kind that are not listed; none where all are. */
function others(kind: Need['kind'], total: number, words: (n: number) => string, link: string): Need[] {
  const n = total - MOST_EACH;
  return n > 0 ? [{ key: '', kind, title: words(n), detail: '', action: 'Show all', link, count: n }] : [];
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
        key: `draft:${c.id}`,
        kind: 'fix',
        title: `${c.name} (draft)`,
        detail: fix.text,
        action: 'Fix',
        link: `/campaigns/${c.id}`,
      });
  }
  return withPutOff(store.db, needs, await localToday(parts));
}
