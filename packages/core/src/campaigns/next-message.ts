import type { WorkingCalendar } from '../time/working-calendar';
import { conditionVerdict, type ConditionFacts, type FollowUpCondition } from './follow-up-condition';
import { isOpen } from './states';

/** How far a recipient is in a campaign. */
export interface RecipientProgress extends ConditionFacts {
  /** How many messages have been sent or passed over, 0 or more. */
  sent: number;
  /** Local day number on which the last of them was sent, or would have been; null before the first. */
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
  /** Whether it is not sent after all if its day comes and nothing has changed for the recipient. */
  isOpen: boolean;
}

/**
 * The next message of a recipient, which is all that may be sent to them. One whose condition can hold no more is first to be
 * passed over, see {@link passOver}.
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
  if (sent === 0 || lastSentDay === null) return { step: sent, dueDay: null, isOpen: false };
  const verdict = conditionVerdict(step.condition ?? 'no_reply', progress);
  if (verdict === 'never') return null;
  const dueDay = Math.max(calendar.add(lastSentDay, step.delay), notBefore ?? -Infinity);
  return { step: sent, dueDay, isOpen: verdict === 'not_yet' };
}

/**
 * How far a recipient is once the message that comes next has been passed over: what follows comes when it would have come after
 * that message.
 */
export function passOver(
  { sent, lastSentDay }: Pick<RecipientProgress, 'sent' | 'lastSentDay'>,
  steps: readonly SequenceStep[],
  calendar: WorkingCalendar,
): Pick<RecipientProgress, 'sent' | 'lastSentDay'> {
  const day = lastSentDay === null ? null : calendar.add(lastSentDay, steps[sent]?.delay ?? 0);
  return { sent: sent + 1, lastSentDay: day };
}

/** The state of a recipient once a message that is being sent has been sent. */
export const onceSent = (progress: RecipientProgress, message: { step: number; day: number }): RecipientProgress => ({
  ...progress,
  sent: message.step + 1,
  lastSentDay: message.day,
});
