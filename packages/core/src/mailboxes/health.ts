import { eventRule, type HealthCount, type RecordedEventKind } from '../campaigns/recipient-events';

/** When a mailbox rests by itself. */
export interface RestBounds {
  /** So many hard bounces among the last `among` messages; 0 never. */
  bounces: number;
  among: number;
  /** So many complaints within 14 days; 0 never. */
  complaints: number;
  /** Whether any answer that means *too much* begins a rest. */
  tooMuch: boolean;
  /** Working days that a rest after bounces or complaints lasts; after *too much* it lasts to the next. 1 or more. */
  days: number;
}

export const DEFAULT_REST_BOUNDS: RestBounds = { bounces: 3, among: 30, complaints: 1, tooMuch: true, days: 3 };

/** What came of one message that a mailbox sent. */
export interface SentOutcome {
  /** Epoch milliseconds. */
  sentAt: number;
  result: HealthCount | 'refused' | 'nothing';
}

/** From the worst on: what counts of a message to which several things happened. */
const WORST_FIRST: readonly HealthCount[] = ['complaint', 'hard_bounce', 'soft_bounce', 'reply'];

/**
 * What came of a message, from what happened to its recipient because of it.
 *
 * @param wasRefused whether the server refused it; what else happened weighs more
 */
export function resultOf(events: readonly RecordedEventKind[], wasRefused: boolean): SentOutcome['result'] {
  const counts = new Set(events.map((kind) => eventRule(kind).counts));
  const worst = WORST_FIRST.find((c) => counts.has(c));
  if (worst === undefined) return wasRefused ? 'refused' : 'nothing';
  return worst === 'reply' && wasRefused ? 'refused' : worst;
}

/** Days over which a mailbox's health is counted. */
export const HEALTH_DAYS = 14;

/** How often each result came among the messages of the last {@link HEALTH_DAYS} days. */
export interface MailboxHealth {
  sent: number;
  bounces: number;
  refusals: number;
  complaints: number;
  replies: number;
}

/**
 * Why a mailbox should rest, in words, or null.
 *
 * @param outcomes its latest messages since it last began to send again, newest first, `bounds.among` of them at most
 *   being looked at for bounces
 * @param complaints how many came within {@link HEALTH_DAYS} days and since it last began to send again
 */
export function whyRest(outcomes: readonly SentOutcome[], complaints: number, bounds: RestBounds): string | null {
  const latest = outcomes.slice(0, Math.max(0, bounds.among));
  const hard = latest.filter((o) => o.result === 'hard_bounce').length;
  if (bounds.bounces > 0 && hard >= bounds.bounces)
    return `${hard} of its last ${latest.length} messages bounced: the address does not exist`;
  if (bounds.complaints > 0 && complaints >= bounds.complaints)
    return complaints === 1 ? 'a recipient complained' : `${complaints} recipients complained`;
  return null;
}

/** Messages that were to leave during a rest: how many leave from another mailbox, and how many later, instead. */
export interface RestMoved {
  elsewhere: number;
  later: number;
}

/** Why a mailbox rests and what moved because of it, in sentences. @param moved null while unknown */
export function restWords(reason: string | null, moved: RestMoved | null): string {
  return [reason ?? '', movedWords(moved)].filter((t) => t !== '').join('. ');
}

function movedWords(moved: RestMoved | null): string {
  if (moved === null || moved.elsewhere + moved.later === 0) return '';
  const messages = (n: number) => (n === 1 ? '1 message is sent' : `${n.toLocaleString('en')} messages are sent`);
  const parts = [
    moved.elsewhere > 0 ? `${messages(moved.elsewhere)} from another mailbox instead` : '',
    moved.later > 0 ? `${messages(moved.later)} later` : '',
  ];
  return `As a result, ${parts.filter((p) => p !== '').join(', ')}.`;
}

/** The counts over some messages. */
export function healthOf(outcomes: readonly SentOutcome[]): MailboxHealth {
  const count = (...results: SentOutcome['result'][]) => outcomes.filter((o) => results.includes(o.result)).length;
  return {
    sent: outcomes.length,
    bounces: count('hard_bounce', 'soft_bounce'),
    refusals: count('refused'),
    complaints: count('complaint'),
    replies: count('reply'),
  };
}
