import { goesToBoth, type FollowUpCondition, type MessageContent } from '@baton/core';
import type { StepRow } from '../store/campaigns/campaign-rows';
import type { StepVariant } from '../store/schema/schema';

/** What a step sends: to most people, to those of other variants, and to those who have followed a link. */
export type StepTexts = Pick<StepRow, 'messageId' | 'content' | 'others' | 'ifClicked'>;

/** Every text of a step, the first variant's first. */
export const textsOf = ({ messageId, content, others, ifClicked }: StepTexts): StepVariant[] => [
  { messageId, content },
  ...others,
  ...(ifClicked === null ? [] : [ifClicked]),
];

/** A step with other texts. */
export const withTexts = <T extends Omit<StepTexts, 'messageId'>>(
  step: T,
  text: (was: StepVariant) => StepVariant['content'],
): T => {
  const own = (of: StepVariant) => ({ ...of, content: text(of) });
  return {
    ...step,
    content: text({ messageId: null, ...step }),
    others: step.others.map(own),
    ifClicked: step.ifClicked && own(step.ifClicked),
  };
};

/** A step as a draft has it: it takes its messages' texts when the campaign starts. */
export const withoutTexts = (step: StepRow): StepRow => withTexts(step, () => null);

/** Texts as they are chosen for a draft. */
export const textsChosen = (
  place: number,
  of: { others: readonly (number | null)[]; ifClicked: number | null; condition: FollowUpCondition },
) => ({
  content: null,
  others: of.others.map((messageId) => ({ messageId, content: null })),
  ifClicked: insteadAt(place, of) === null ? null : { messageId: of.ifClicked, content: null },
});

/** The message for those who have followed a link, where the step goes to them and to others. */
export const insteadAt = (
  place: number,
  { ifClicked, condition }: { ifClicked: number | null; condition: FollowUpCondition },
): number | null => (place > 0 && goesToBoth(condition) ? ifClicked : null);

/** Texts that are there. */
export const contentsOf = (steps: readonly StepTexts[]): MessageContent[] =>
  steps.flatMap((s) => textsOf(s).flatMap(({ content }) => (content === null ? [] : [content])));

/** Every message that the steps use. */
export const messagesOf = (steps: readonly StepTexts[]): number[] =>
  steps.flatMap((s) => textsOf(s).flatMap(({ messageId }) => (messageId === null ? [] : [messageId])));

/** Which message a step sends in a variant, or to those who have followed a link. */
export const messageSent = ({ messageId, others, ifClicked }: StepTexts, variant: number, forClicked: boolean) =>
  (forClicked ? ifClicked?.messageId : null) ?? (variant === 0 ? null : others[variant - 1]?.messageId) ?? messageId;
