import { isOpen, type RecipientState } from './states';

/** When a follow-up is sent: always only without a reply, and by choice by what its recipient did with the messages before. */
export const FOLLOW_UP_CONDITIONS = ['no_reply', 'not_opened', 'not_clicked', 'clicked'] as const;
export type FollowUpCondition = (typeof FOLLOW_UP_CONDITIONS)[number];

/** What a condition looks at. */
export interface ConditionFacts {
  state: RecipientState;
  /** Whether they have opened a message of the campaign, and followed a link in one. */
  opened: boolean;
  clicked: boolean;
}

/** Whether a follow-up is sent: `not_yet` where it would not be now, and still may be; `never` where nothing can change that. */
export type ConditionVerdict = 'holds' | 'not_yet' | 'never';

interface ConditionRule {
  /** For somebody who has not replied. */
  verdict: (facts: ConditionFacts) => ConditionVerdict;
  /** What must be counted for it to mean anything. */
  needs: 'opens' | 'clicks' | null;
  /** To whom it goes, where it does not go to all: behind "if they have not replied". */
  words: string;
  /** Why somebody did not get it. */
  passedOver: string;
}

/** A new condition is a row of this table. */
const RULES: Readonly<Record<FollowUpCondition, ConditionRule>> = {
  no_reply: { verdict: () => 'holds', needs: null, words: '', passedOver: '' },
  not_opened: {
    verdict: ({ opened }) => (opened ? 'never' : 'holds'),
    needs: 'opens',
    words: 'and have opened nothing',
    passedOver: 'they have opened a message',
  },
  not_clicked: {
    verdict: ({ clicked }) => (clicked ? 'never' : 'holds'),
    needs: 'clicks',
    words: 'and have followed no link',
    passedOver: 'they have followed a link',
  },
  clicked: {
    verdict: ({ clicked }) => (clicked ? 'holds' : 'not_yet'),
    needs: 'clicks',
    words: 'and have followed a link',
    passedOver: 'they have followed no link',
  },
};

/** Whether a follow-up with this condition is sent. A reply ends the campaign for the recipient, as bounces and unsubscribes do. */
export const conditionVerdict = (condition: FollowUpCondition, facts: ConditionFacts): ConditionVerdict =>
  isOpen(facts.state) ? RULES[condition].verdict(facts) : 'never';

/** What must be counted for a condition to mean anything; null for nothing. */
export const conditionNeeds = (condition: FollowUpCondition): ConditionRule['needs'] => RULES[condition].needs;

/** To whom a follow-up goes, behind "if they have not replied"; '' where it goes to all of those. */
export const conditionSaid = (condition: FollowUpCondition): string => RULES[condition].words;

/** Why somebody did not get a follow-up with this condition. */
export const whyPassedOver = (condition: FollowUpCondition): string => RULES[condition].passedOver;

/** Whether it goes both to those who have followed a link and to those who have not, so that each may get a text of their own. */
export const goesToBoth = (condition: FollowUpCondition): boolean =>
  [true, false].every(
    (clicked) => RULES[condition].verdict({ state: 'in_progress', opened: false, clicked }) === 'holds',
  );

/** Conditions that can come to hold for nobody any more, by what has happened by then. */
export const ENDED_BY: Readonly<Record<'opened' | 'clicked', readonly FollowUpCondition[]>> = {
  opened: endedBy({ opened: true, clicked: false }),
  clicked: endedBy({ opened: false, clicked: true }),
};

function endedBy(facts: Omit<ConditionFacts, 'state'>): FollowUpCondition[] {
  return FOLLOW_UP_CONDITIONS.filter((c) => RULES[c].verdict({ state: 'in_progress', ...facts }) === 'never');
}
