/** States of one message to one recipient. */
export const DELIVERY_STATES = [
  'planned',
  'held',
  'sending',
  'sent',
  'deferred',
  'failed',
  'unconfirmed',
  'left_out',
] as const;
export type DeliveryState = (typeof DELIVERY_STATES)[number];

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

/** States of a campaign. */
export const CAMPAIGN_STATES = ['draft', 'running', 'held', 'finished'] as const;
export type CampaignState = (typeof CAMPAIGN_STATES)[number];

/** Whether more messages may follow for a recipient in this state. */
export function isOpen(state: RecipientState): boolean {
  return state === 'waiting' || state === 'in_progress';
}
