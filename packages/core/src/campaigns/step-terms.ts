import type { RecipientWindow } from '../planning/workspace/plan-input';
import { clockWords } from '../time/clock-words';
import type { FollowUpCondition } from './follow-up-condition';

/** Hours of a day, minutes since midnight: from the first, until the second. */
export interface StepHours {
  from: number;
  to: number;
}

/** How one message of a campaign goes out, whatever it says. */
export interface StepTerms {
  /** Working days after the message before, and how many more are still on time. */
  delay: number;
  tolerance: number;
  /** To which of those who have not replied a follow-up goes. */
  condition: FollowUpCondition;
  /** Whether a follow-up begins a thread of its own, under its own subject. */
  startsThread: boolean;
  /** Whether a follow-up quotes the message before it, below its own text. */
  quotes: boolean;
  /** ISO date of the last day on which a follow-up leaves; whoever has not had it by then is passed over. Null for none. */
  lastDay: string | null;
  /** When it leaves, within the campaign's hours; null for all of them. */
  hours: StepHours | null;
  /** Whether the first message answers the last conversation of its mailbox with the person, where there is one. */
  answersLast: boolean;
}

const AS_FIRST = {
  delay: 0,
  tolerance: 0,
  condition: 'no_reply',
  startsThread: false,
  quotes: false,
  lastDay: null,
} as const;

/** The terms of a step alone. */
export const termsOf = (of: StepTerms): StepTerms => ({
  ...{ delay: of.delay, tolerance: of.tolerance, condition: of.condition, startsThread: of.startsThread },
  ...{ quotes: of.quotes, lastDay: of.lastDay, hours: of.hours, answersLast: of.answersLast },
});

/** The terms of a step in its place: what only a follow-up has, or only the first message, is left out elsewhere. */
export function termsAt(place: number, of: StepTerms): StepTerms {
  const terms = termsOf(of);
  if (place === 0) return { ...terms, ...AS_FIRST };
  return { ...terms, delay: Math.max(1, terms.delay), quotes: terms.quotes && !terms.startsThread, answersLast: false };
}

/** When on its days a message leaves; '' for all of the campaign's hours. */
export const hoursWords = (of: StepHours | null): string =>
  of === null ? '' : `from ${clockWords(of.from)} to ${clockWords(of.to)}`;

/** What a step is called among the others: the first message, follow-up 1, and so on. */
export const placeWords = (place: number): string => (place === 0 ? 'the first message' : `follow-up ${place}`);

/**
 * What keeps messages from ever leaving by their own terms, a sentence without its stop for each, in order.
 *
 * @param today ISO date, on the workspace's clock
 */
export function faultsOfTerms(steps: readonly StepTerms[], window: RecipientWindow, today: string): string[] {
  return steps.flatMap((step, place) => {
    const { hours, lastDay } = termsAt(place, step);
    const called = placeWords(place).replace(/^./, (letter) => letter.toUpperCase());
    const out: string[] = [];
    if (hours && Math.max(hours.from, window.from) >= Math.min(hours.to, window.to))
      out.push(`${called} leaves ${hoursWords(hours)}, but the campaign sends ${hoursWords(window)}`);
    if (lastDay !== null && lastDay < today) out.push(`${called} goes to nobody: its last day has passed`);
    return out;
  });
}

/** What a step begins with. */
export const usualTerms = (place: number): StepTerms =>
  termsAt(place, { ...AS_FIRST, delay: 3, tolerance: 2, hours: null, answersLast: false });
