import type { Outcome } from '@baton/contract';
import type { Suggestion } from '@baton/core';
import { repliesTexts } from './texts';

const texts = repliesTexts.replies;

/** Outcomes with the key that sets each. */
export const OUTCOME_KEYS: readonly { outcome: Outcome; words: string; key: string }[] = [
  { outcome: 'interested', words: texts.interested, key: 'i' },
  { outcome: 'meeting', words: texts.meeting, key: 'm' },
  { outcome: 'later', words: texts.later, key: 'l' },
  { outcome: 'no', words: texts.no, key: 'n' },
  { outcome: 'wrong_person', words: texts.wrongPerson, key: 'w' },
];

export const outcomeWords = (outcome: Outcome | null): string =>
  OUTCOME_KEYS.find((o) => o.outcome === outcome)?.words ?? '';

/** The outcome to which a suggestion comes; a question comes to none. */
export const OUTCOME_OF: Readonly<Record<Suggestion, Outcome | null>> = {
  interested: 'interested',
  not_interested: 'no',
  referral: 'wrong_person',
  question: null,
};
