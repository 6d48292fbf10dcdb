/** States of one message to one recipient. A message that a person holds stays `planned` and carries a mark. */
export const DELIVERY_STATES = ['planned', 'sending', 'sent', 'deferred', 'failed', 'unconfirmed'] as const;
export type DeliveryState = (typeof DELIVERY_STATES)[number];

const DELIVERY_WORDS: Readonly<Record<DeliveryState | 'held', string>> = {
  planned: 'planned',
  sending: 'being sent',
  sent: 'sent',
  deferred: 'to be tried again',
  failed: 'not sent',
  unconfirmed: 'unconfirmed',
  held: 'held',
};

/** The words for a message's state, or for one that a person holds. */
export const deliveryWords = (state: DeliveryState | 'held'): string => DELIVERY_WORDS[state];

/** Deliveries that have not left and still may. */
export const WAITING_DELIVERIES = ['planned', 'deferred'] as const satisfies readonly DeliveryState[];

/** Deliveries that have left, or may have: they count against limits. */
export const COUNTED_DELIVERIES = ['sending', 'sent', 'unconfirmed'] as const satisfies readonly DeliveryState[];

/** Deliveries that keep their mailbox and time while a new plan is made. */
export const FIXED_DELIVERIES = ['deferred', 'sending', 'unconfirmed'] as const satisfies readonly DeliveryState[];

/** States of one recipient in a campaign. */
export const RECIPIENT_STATES = [
  'waiting',
  'in_progress',
  'replied',
  'bounced',
  'unsubscribed',
  'done',
  'left_out',
  'stopped',
] as const;
export type RecipientState = (typeof RECIPIENT_STATES)[number];

interface RecipientStateText {
  /** As shown on screens and in files. */
  words: string;
  /** Why nothing more goes to somebody in this state, in a sentence; null while more may. */
  ended: ((campaign: string, reason: string) => string) | null;
}

const STATE_TEXTS: Readonly<Record<RecipientState, RecipientStateText>> = {
  waiting: { words: 'waiting', ended: null },
  in_progress: { words: 'in progress', ended: null },
  replied: { words: 'replied', ended: (c) => `They replied to ${c}, so they get no more messages.` },
  bounced: { words: 'bounced', ended: (c, reason) => `The message of ${c} bounced: ${reason}.` },
  unsubscribed: { words: 'unsubscribed', ended: (c, reason) => `They left ${c}: ${reason}.` },
  done: { words: 'done', ended: (c) => `They have had every message of ${c}.` },
  left_out: { words: 'left out', ended: (c, reason) => `They were left out of ${c}: ${reason}.` },
  stopped: { words: 'stopped', ended: (c, reason) => `${c} was stopped for them: ${reason}.` },
};

/** The words for a recipient's state. */
export const recipientStateWords = (state: RecipientState): string => STATE_TEXTS[state].words;

/** Says in a sentence what ended a campaign for somebody; null while more may follow. */
export const endedWords = (state: RecipientState, campaign: string, reason: string): string | null =>
  STATE_TEXTS[state].ended?.(campaign, reason === '' ? 'no reason is recorded' : reason) ?? null;

/** Whether more messages may follow for a recipient in this state. */
export const isOpen = (state: RecipientState): boolean => STATE_TEXTS[state].ended === null;

/** Whether they replied, and nothing else happened since. */
export const hasReplied = (state: RecipientState): boolean => state === 'replied';

/** Whether they have had every message, and nothing else happened. */
export const hasHadEvery = (state: RecipientState): boolean => state === 'done';

/** The states in which more messages may follow. */
export const OPEN_STATES: readonly RecipientState[] = RECIPIENT_STATES.filter(isOpen);

/** States of a campaign. */
export const CAMPAIGN_STATES = ['draft', 'running', 'held', 'finished'] as const;
export type CampaignState = (typeof CAMPAIGN_STATES)[number];
