import { eventRule, type RecipientEventKind } from '../campaigns/recipient-events';
import { dayWords, type DateForm } from '../time/day-words';

/** What a message that came in is. */
export const INCOMING_KINDS = [
  'reply',
  'calendar',
  'left',
  'address_changed',
  'auto_reply',
  'acknowledgement',
  'challenge',
  'unsubscribe',
  'bounce',
  'complaint',
  'receipt',
  'noise',
] as const;
export type IncomingKind = (typeof INCOMING_KINDS)[number];

/**
 * Why a message came back. `hard`: the address is no good; `full`, `greylisted` and `soft`: it may be good; `blocked`: the
 * server would not have this mail or sender; `sender`: our own side is at fault; `delayed` is a warning: the server is still
 * trying.
 */
export const BOUNCE_KINDS = ['hard', 'soft', 'full', 'greylisted', 'blocked', 'sender', 'delayed'] as const;
export type BounceKind = (typeof BOUNCE_KINDS)[number];

/** What a server objects to that would not have a message. */
export type BlockedFor = 'spam' | 'reputation' | 'policy' | 'authentication';

/** Headings of the Replies screen. */
const HEADINGS = {
  reply: 'Replies',
  left: 'Left or moved',
  auto_reply: 'Auto-replies',
  unsubscribe: 'Unsubscribes',
  bounce: 'Bounces',
} as const satisfies Partial<Record<IncomingKind, string>>;
export type IncomingHeading = keyof typeof HEADINGS;

interface IncomingEntry {
  /** As a label on one message. */
  words: string;
  /** The heading under which it is listed; null for none: nobody needs to see it. */
  heading: IncomingHeading | null;
  /** Whether a person gives it an outcome. */
  takesOutcome: boolean;
  /** Whether somebody reads what is answered to it. */
  isAnswerable: boolean;
  tone: 'good' | 'bad' | '';
  /** What happens to the recipient whose message it belongs to: null for nothing; for a bounce, this depends on its kind. */
  event: RecipientEventKind | 'by_bounce' | null;
}

const ANSWER = { heading: 'reply', takesOutcome: true, isAnswerable: true, tone: 'good', event: 'reply' } as const;
const BY_PROGRAM = { heading: 'auto_reply', takesOutcome: false, isAnswerable: false, tone: '', event: null } as const;
const MOVED = { heading: 'left', takesOutcome: false, isAnswerable: true, tone: '' } as const;
const BAD = { takesOutcome: false, isAnswerable: false, tone: 'bad' } as const;

/** The one table from kind to consequence. */
const ENTRIES: Readonly<Record<IncomingKind, IncomingEntry>> = {
  reply: { ...ANSWER, words: 'reply' },
  calendar: { ...ANSWER, words: 'calendar answer' },
  left: { ...MOVED, words: 'left', event: 'left' },
  address_changed: { ...MOVED, words: 'new address', event: 'address_changed' },
  auto_reply: { ...BY_PROGRAM, words: 'auto-reply', isAnswerable: true, event: 'auto_reply' },
  acknowledgement: { ...BY_PROGRAM, words: 'acknowledgement' },
  challenge: { ...BY_PROGRAM, words: 'wants confirmation', isAnswerable: true },
  unsubscribe: { ...BAD, heading: 'unsubscribe', words: 'unsubscribe', isAnswerable: true, event: 'unsubscribe' },
  bounce: { ...BAD, heading: 'bounce', words: 'bounce', event: 'by_bounce' },
  complaint: { ...BAD, heading: 'unsubscribe', words: 'complaint', event: 'complaint' },
  receipt: { ...BY_PROGRAM, words: 'receipt' },
  noise: { ...BY_PROGRAM, heading: null, words: 'not for us' },
};

const BOUNCE_EVENT: Readonly<Record<BounceKind, RecipientEventKind>> = {
  hard: 'hard_bounce',
  soft: 'soft_bounce',
  full: 'soft_bounce',
  greylisted: 'soft_bounce',
  blocked: 'blocked',
  sender: 'blocked',
  delayed: 'delayed',
};

export const incomingEntry = (kind: IncomingKind): IncomingEntry => ENTRIES[kind];

/** Kinds of messages to which a person gives an outcome. */
export const KINDS_WITH_OUTCOME: readonly IncomingKind[] = INCOMING_KINDS.filter((kind) => ENTRIES[kind].takesOutcome);

/** Headings of the Replies screen, in order. */
export const INCOMING_HEADINGS: readonly { kind: IncomingHeading; words: string }[] = INCOMING_KINDS.flatMap((kind) =>
  isHeading(kind) ? [{ kind, words: HEADINGS[kind] }] : [],
);

function isHeading(kind: IncomingKind): kind is IncomingHeading {
  return kind in HEADINGS;
}

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
  /** How many colleagues at the same company are held because of it. */
  colleagues: number;
  /** How the workspace writes dates. */
  form: DateForm;
}

/** Says in a sentence what Baton did about an incoming message. */
export function doneWords(done: Done): string {
  const { colleagues } = done;
  if (colleagues === 0) return ownWordsOf(done);
  const held =
    colleagues === 1 ? 'A colleague at the same company is' : `${colleagues} colleagues at the same company are`;
  return `${ownWordsOf(done)} ${held} held too.`;
}

function ownWordsOf({ event, address, stopped, because, backOn, waitsUntil, form }: Done): string {
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
    case 'left':
      return `Nothing more is sent to ${address}: they have left.`;
    case 'address_changed':
      return `Nothing more is sent to ${address} in this campaign: their address has changed.`;
    case 'returned':
      return `It is sent again, on ${day(waitsUntil ?? '')} at the earliest.`;
    case 'returned_late':
      return 'Noted; later messages have left since.';
    case 'delayed':
      return 'Noted: the message is delayed, not lost.';
    default:
      return `Nothing more is sent to ${address} in this campaign: ${words}.`;
  }
}
