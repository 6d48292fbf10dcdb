import { isOpen, type RecipientState } from './states';

/** What becomes of a recipient's state; states that are not named stay. */
type Transitions = Partial<Record<RecipientState, RecipientState>>;

const endsOpen = (state: RecipientState): Transitions => ({ waiting: state, in_progress: state });
/** Also for somebody who has had every message: the last of them led to it. */
const endsOpenAndDone = (state: RecipientState): Transitions => ({ ...endsOpen(state), done: state });

/** How the message that led to an event counts in the health of its mailbox. */
export type HealthCount = 'hard_bounce' | 'soft_bounce' | 'complaint' | 'reply';

/** What follows from an event. */
export interface EventRule {
  /** The recipient in the campaign that the event belongs to. */
  to: Transitions;
  /** The person's other campaigns: `end` gives those that are open the same state. */
  others: 'go_on' | 'end';
  /** Why the address goes on the suppression list, in words; null if it does not. */
  suppresses: string | null;
  /** Whether it is written into the person's history. */
  recorded: boolean;
  /** Whether the message that led to it has failed. */
  failsMessage: boolean;
  /** How it counts in the mailbox's health; null if it says nothing about the mailbox. */
  counts: HealthCount | null;
  /** In the person's history and on labels. */
  words: string;
  /** Why the campaign ended for the recipient, if the event itself gives no reason. */
  reason: string;
}

const NOTHING: Omit<EventRule, 'words' | 'reason'> = {
  to: {},
  others: 'go_on',
  suppresses: null,
  recorded: false,
  failsMessage: false,
  counts: null,
};

/**
 * Everything that can happen to a recipient, and what follows: the one place that decides it. docs/recipients.md
 * draws the states; a test holds the drawing against this table.
 */
export const RECIPIENT_EVENTS = {
  /** A message left and more follow. */
  sent: { ...NOTHING, to: { waiting: 'in_progress' }, recorded: true, words: 'sent', reason: '' },
  /** The last message left; the history has it as `sent`. */
  sent_last: { ...NOTHING, to: endsOpen('done'), words: 'sent', reason: '' },
  reply: {
    ...NOTHING,
    to: endsOpenAndDone('replied'),
    others: 'end',
    recorded: true,
    counts: 'reply',
    words: 'reply',
    reason: 'replied',
  },
  /** Somebody else at the same company replied, and the campaign holds colleagues then. */
  colleague_replied: {
    ...NOTHING,
    to: endsOpen('stopped'),
    recorded: true,
    words: 'held',
    reason: 'held: a colleague replied',
  },
  /** Out of office and its kin; a known date of return puts off what follows. */
  auto_reply: { ...NOTHING, recorded: true, words: 'auto-reply', reason: '' },
  unsubscribe: {
    ...NOTHING,
    to: { ...endsOpenAndDone('unsubscribed'), replied: 'unsubscribed' },
    others: 'end',
    suppresses: 'asked to be left alone',
    recorded: true,
    words: 'unsubscribed',
    reason: 'asked to be left alone',
  },
  /** Pressed, on the page behind the unsubscribe link, that only this campaign is to end. */
  opted_out: {
    ...NOTHING,
    to: endsOpenAndDone('unsubscribed'),
    recorded: true,
    words: 'left this campaign',
    reason: 'wants no more of this campaign',
  },
  complaint: {
    ...NOTHING,
    to: { ...endsOpenAndDone('unsubscribed'), replied: 'unsubscribed' },
    others: 'end',
    suppresses: 'reported a message as spam',
    recorded: true,
    counts: 'complaint',
    words: 'complaint',
    reason: 'reported a message as spam',
  },
  /** The address is no good. */
  hard_bounce: {
    ...NOTHING,
    to: endsOpenAndDone('bounced'),
    others: 'end',
    suppresses: 'hard bounce',
    recorded: true,
    failsMessage: true,
    counts: 'hard_bounce',
    words: 'hard bounce',
    reason: 'hard bounce',
  },
  /** The mailbox is full or cannot be reached: the address may be good, and the message is sent again. */
  returned: {
    ...NOTHING,
    to: { done: 'in_progress' },
    recorded: true,
    counts: 'soft_bounce',
    words: 'soft bounce',
    reason: '',
  },
  /** The same of a message after which others have left since. */
  returned_late: { ...NOTHING, recorded: true, counts: 'soft_bounce', words: 'soft bounce', reason: '' },
  /** The same, too often. */
  soft_bounce: {
    ...NOTHING,
    to: endsOpenAndDone('bounced'),
    recorded: true,
    failsMessage: true,
    counts: 'soft_bounce',
    words: 'soft bounce',
    reason: 'soft bounce',
  },
  /** The recipient's server did not want this message or this sender. */
  blocked: {
    ...NOTHING,
    to: endsOpenAndDone('bounced'),
    recorded: true,
    failsMessage: true,
    counts: 'soft_bounce',
    words: 'blocked',
    reason: 'blocked by the recipient’s server',
  },
  /** The person no longer works where they were written to. */
  left: {
    ...NOTHING,
    to: endsOpen('stopped'),
    others: 'end',
    recorded: true,
    words: 'left',
    reason: 'no longer works there',
  },
  /** The person is to be written to at another address. */
  address_changed: {
    ...NOTHING,
    to: endsOpen('stopped'),
    others: 'end',
    recorded: true,
    words: 'new address',
    reason: 'their address has changed',
  },
  /** Somebody followed a link in a message, for the first time in that message. */
  clicked: { ...NOTHING, recorded: true, words: 'followed a link', reason: '' },
  /** A warning that a server is still trying. */
  delayed: { ...NOTHING, words: 'delayed', reason: '' },
  /** A message was deferred too often. */
  given_up: { ...NOTHING, to: endsOpen('stopped'), failsMessage: true, words: 'given up', reason: 'given up' },
  /** The message cannot be made for this person, or must not be sent to them. */
  unfit: {
    ...NOTHING,
    to: { waiting: 'left_out', in_progress: 'stopped' },
    words: 'left out',
    reason: 'the message could not be made',
  },
  /** The address, or its domain, is on the suppression list. */
  suppressed: {
    ...NOTHING,
    to: endsOpen('stopped'),
    others: 'end',
    words: 'suppressed',
    reason: 'on the suppression list',
  },
  /** A person ended the campaign for them. */
  ended_by_hand: {
    ...NOTHING,
    to: endsOpen('stopped'),
    recorded: true,
    words: 'ended by hand',
    reason: 'ended by hand',
  },
  /** The campaign's last day has passed. */
  ended_by_date: {
    ...NOTHING,
    to: endsOpen('stopped'),
    recorded: true,
    words: 'campaign ended on its last day',
    reason: 'the campaign’s last day has passed',
  },
  /** A person had them pass over a message. */
  skipped: { ...NOTHING, recorded: true, words: 'message skipped', reason: '' },
  /** The same of the last message. */
  skipped_last: {
    ...NOTHING,
    to: { in_progress: 'done' },
    recorded: true,
    words: 'message skipped',
    reason: '',
  },
  /** A person put off what follows. */
  postponed: { ...NOTHING, recorded: true, words: 'postponed', reason: '' },
  /** A person had them written to from another mailbox. */
  moved: { ...NOTHING, recorded: true, words: 'other mailbox', reason: '' },
  /** The row that the campaign wrote from belongs to somebody who was erased. */
  row_erased: {
    ...NOTHING,
    to: endsOpen('stopped'),
    words: 'stopped',
    reason: 'their row of the list became that of a person who was erased',
  },
} as const satisfies Record<string, EventRule>;

export type RecipientEventKind = keyof typeof RECIPIENT_EVENTS;

type Rules = typeof RECIPIENT_EVENTS;
/** Events that are kept in a person's history. */
export type RecordedEventKind = {
  [K in RecipientEventKind]: Rules[K]['recorded'] extends true ? K : never;
}[RecipientEventKind];

export const eventRule = (kind: RecipientEventKind): EventRule => RECIPIENT_EVENTS[kind];

const KINDS = Object.keys(RECIPIENT_EVENTS) as RecipientEventKind[];

export const isRecorded = (kind: RecipientEventKind): kind is RecordedEventKind => eventRule(kind).recorded;

/** Events that count in one of these ways in a mailbox's health. */
export const eventsCounting = (...counts: HealthCount[]): RecordedEventKind[] =>
  KINDS.filter(isRecorded).filter((kind) => counts.some((c) => c === eventRule(kind).counts));

/** Events that say that a message came back. */
export const BOUNCE_EVENTS: readonly RecordedEventKind[] = eventsCounting('hard_bounce', 'soft_bounce');

/** Events that end a campaign for somebody because their messages come back, by their kind: how bounces are told apart. */
export const ENDING_BOUNCES: readonly RecordedEventKind[] = KINDS.filter(isRecorded).filter((kind) =>
  Object.values<RecipientState>(eventRule(kind).to).includes('bounced'),
);

/**
 * The state of a recipient after an event.
 *
 * @param isCause whether the event belongs to this campaign, rather than to another one of the same person
 * @param replyEndsHere whether a reply to that campaign ends that campaign only
 * @returns the same state where the event changes nothing
 */
export function stateAfter(
  state: RecipientState,
  kind: RecipientEventKind,
  isCause: boolean,
  replyEndsHere = false,
): RecipientState {
  const rule = eventRule(kind);
  if (isCause) return rule.to[state] ?? state;
  if (kind === 'reply' && replyEndsHere) return state;
  // Whatever ended otherwise in another campaign keeps its own end.
  return rule.others === 'end' && isOpen(state) ? (rule.to[state] ?? state) : state;
}
