import { isOpen, type RecipientState } from './states';

/** When a follow-up is sent. */
export const FOLLOW_UP_CONDITIONS = ['no_reply'] as const;
export type FollowUpCondition = (typeof FOLLOW_UP_CONDITIONS)[number];

/** What a condition looks at. */
export interface ConditionFacts {
  state: RecipientState;
}

const HOLDS: Readonly<Record<FollowUpCondition, (facts: ConditionFacts) => boolean>> = {
  // A reply ends the campaign for the recipient, as bounces and unsubscribes do.
  no_reply: ({ state }) => isOpen(state),
};

/** Whether a follow-up with this condition may be sent. A new condition is a row of the table above. */
export const conditionHolds = (condition: FollowUpCondition, facts: ConditionFacts): boolean => HOLDS[condition](facts);
