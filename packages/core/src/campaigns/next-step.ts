import type { WorkingCalendar } from '../time/working-calendar';
import type { RecipientState } from './states';

export interface RecipientProgress {
  state: RecipientState;
  /** Messages sent so far. */
  sent: number;
  /** Local day number on which the last one left; null before the first. */
  lastSentDay: number | null;
}

/** What comes next for a recipient: a message not before a day, or nothing more. */
export type NextStep =
  { kind: 'message'; step: number; dueDay: number | null } | { kind: 'none'; state: RecipientState };

/**
 * Decides what happens next to a recipient. Whoever replied, bounced, left or was stopped gets nothing
 * more; whoever has had every message is done.
 *
 * @param steps of the campaign; delays in working days after the previous message
 * @returns `dueDay` null for a first message, whose day the plan chooses
 */
export function nextStep(
  progress: RecipientProgress,
  steps: readonly { delay: number }[],
  calendar: WorkingCalendar,
): NextStep {
  if (progress.state !== 'waiting' && progress.state !== 'in_progress') return { kind: 'none', state: progress.state };
  if (progress.sent >= steps.length) return { kind: 'none', state: 'done' };
  if (progress.sent === 0 || progress.lastSentDay === null) return { kind: 'message', step: 0, dueDay: null };
  const step = steps[progress.sent] as { delay: number };
  return { kind: 'message', step: progress.sent, dueDay: calendar.add(progress.lastSentDay, step.delay) };
}
