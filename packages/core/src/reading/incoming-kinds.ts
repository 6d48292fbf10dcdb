import { eventRule, type RecipientEventKind } from '../campaigns/recipient-events';
import { dayWords, type DateForm } from '../time/day-words';

/** What a message that came in is. */
export const INCOMING_KINDS = [
  'reply',
  'auto_reply',
  'unsubscribe',
  'bounce',
  'complaint',
  'receipt',
  'other',
] as const;
export type IncomingKind = (typeof INCOMING_KINDS)[number];

/** `delayed` is a warning: the server is still trying. */
export type BounceKind = 'hard' | 'soft' | 'blocked' | 'delayed';

interface IncomingEntry {
  /** As a label on one message. */
  words: string;
  /** The heading of the Replies screen under which it is listed; null for no heading of its own. */
  heading: { kind: IncomingKind; words: string } | null;
  /** Whether a person gives it an outcome. */
  takesOutcome: boolean;
  tone: 'good' | 'bad' | '';
  /** What happens to the recipient whose message it belongs to: null for nothing; for a bounce, this depends on its kind. */
  event: RecipientEventKind | 'by_bounce' | null;
}

const AUTO_REPLIES = { kind: 'auto_reply', words: 'Auto-replies' } as const;
const UNSUBSCRIBES = { kind: 'unsubscribe', words: 'Unsubscribes' } as const;

const ENTRIES: Readonly<Record<IncomingKind, IncomingEntry>> = {
  reply: {
    words: 'reply',
    heading: { kind: 'reply', words: 'Replies' },
    takesOutcome: true,
    tone: 'good',
    event: 'reply',
  },
  auto_reply: {
    words: 'auto-reply',
    heading: AUTO_REPLIES,
    takesOutcome: false,
    tone: '',
    event: 'auto_reply',
  },
  unsubscribe: {
    words: 'unsubscribe',
    heading: UNSUBSCRIBES,
    takesOutcome: false,
    tone: 'bad',
    event: 'unsubscribe',
  },
  bounce: {
    words: 'bounce',
    heading: { kind: 'bounce', words: 'Bounces' },
    takesOutcome: false,
    tone: 'bad',
    event: 'by_bounce',
  },
  complaint: { words: 'complaint', heading: UNSUBSCRIBES, takesOutcome: false, tone: 'bad', event: 'complaint' },
  receipt: { words: 'receipt', heading: AUTO_REPLIES, takesOutcome: false, tone: '', event: null },
  // From somebody who was written to, it is a reply.
  other: { words: 'other', heading: null, takesOutcome: false, tone: '', event: 'reply' },
};

const BOUNCE_EVENT: Readonly<Record<BounceKind, RecipientEventKind>> = {
  hard: 'hard_bounce',
  soft: 'soft_bounce',
  blocked: 'blocked',
  delayed: 'delayed',
};

export const incomingEntry = (kind: IncomingKind): IncomingEntry => ENTRIES[kind];

/** Kinds of messages to which a person gives an outcome. */
export const KINDS_WITH_OUTCOME: readonly IncomingKind[] = INCOMING_KINDS.filter((kind) => ENTRIES[kind].takesOutcome);

/** Headings of the Replies screen, in order. */
export const INCOMING_HEADINGS: readonly { kind: IncomingKind; words: string }[] = INCOMING_KINDS.flatMap((kind) => {
  const { heading } = ENTRIES[kind];
  return heading?.kind === kind ? [heading] : [];
});

/** What happens to a recipient when a message of this kind belongs to one of theirs; null for nothing. */
export function incomingEvent(kind: IncomingKind, bounce: BounceKind | null): RecipientEventKind | null {
  const { event } = ENTRIES[kind];
  return event === 'by_bounce' ? BOUNCE_EVENT[bounce ?? 'soft'] : event;
}

/** What was done because of an incoming message, as far as a sentence about it needs. */
export interface Done {
  event: RecipientEventKind | null;
  address: string;
  /** In how many campaigns messages were still to come. */
  stopped: number;
  /** Why it was taken for what it is. */
  because: string;
  /** ISO date on which the person is back; null if unknown or past. */
  backOn: string | null;
  /** ISO date before which the follow-up is not sent; null where none waits. */
  waitsUntil: string | null;
  /** How the workspace writes dates. */
  form: DateForm;
}

/** Says in a sentence what Baton did about an incoming message. */
export function doneWords({ event, address, stopped, because, backOn, waitsUntil, form }: Done): string {
  if (event === null) return 'Noted; nothing follows from it.';
  const { suppresses, words } = eventRule(event);
  const day = (iso: string) => dayWords(iso, 'short', form);
  if (suppresses !== null)
    return `Put ${address} on the suppression list: ${event === 'unsubscribe' ? because : suppresses}. Nothing more is sent there.`;
  switch (event) {
    case 'reply':
      return stopped > 0 ? 'No follow-up will be sent: they replied.' : 'They had already had every message.';
    case 'auto_reply':
      if (backOn === null) return 'Noted; follow-ups go on as planned.';
      return waitsUntil === null
        ? `Noted: back on ${day(backOn)}.`
        : `Away, back on ${day(backOn)}: the follow-up waits until ${day(waitsUntil)} at least.`;
    case 'delayed':
      return 'Noted: the message is delayed, not lost.';
    default:
      return `Nothing more is sent to ${address} in this campaign: ${words}.`;
  }
}
