import type { WorkingCalendar } from '../time/working-calendar';
import { conditionHolds, type FollowUpCondition } from './follow-up-condition';
import { isOpen, type RecipientState } from './states';

/** How far a recipient is in a campaign. */
export interface RecipientProgress {
  state: RecipientState;
  /** How many messages have been sent, 0 or more. */
  sent: number;
  /** Local day number on which the last of them was sent; null before the first. */
  lastSentDay: number | null;
  /** Local day number before which nothing may be sent to them; null for none. */
  notBefore: number | null;
}

/** One message of a campaign's sequence, as far as the order of messages goes. */
export interface SequenceStep {
  /** Working days after the message before; of the first message it means nothing. */
  delay: number;
  /** `no_reply` where it is not given. */
  condition?: FollowUpCondition;
}

export interface NextMessage {
  /** 0 for the first message. */
  step: number;
  /** Local day number before which it is not sent; null where only the plan decides. */
  dueDay: number | null;
}

/**
 * The next message of a recipient, which is all that may be sent to them.
 *
 * @param steps the campaign's sequence, in order
 * @param calendar in which delays are counted
 * @returns null when nothing more follows: the campaign has ended for them, or they have had every message
 */
export function nextMessage(
  progress: RecipientProgress,
  steps: readonly SequenceStep[],
  calendar: WorkingCalendar,
): NextMessage | null {
  const { state, sent, lastSentDay, notBefore } = progress;
  const step = steps[sent];
  if (!step || !isOpen(state)) return null;
  if (sent === 0 || lastSentDay === null) return { step: sent, dueDay: null };
  if (!conditionHolds(step.condition ?? 'no_reply', { state })) return null;
  return { step: sent, dueDay: Math.max(calendar.add(lastSentDay, step.delay), notBefore ?? -Infinity) };
}

/** The state of a recipient once a message that is being sent has been sent. */
export const onceSent = (progress: RecipientProgress, message: { step: number; day: number }): RecipientProgress => ({
  ...progress,
  sent: message.step + 1,
  lastSentDay: message.day,
});
