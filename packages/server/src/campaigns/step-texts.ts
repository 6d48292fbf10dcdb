import type { StepRow } from '../store/campaigns/campaign-rows';

/** A step as a draft has it: it takes its messages' texts when the campaign starts. */
export const withoutTexts = (step: StepRow): StepRow => ({
  ...step,
  content: null,
  others: step.others.map(({ messageId }) => ({ messageId, content: null })),
});

/** Every message that the steps use. */
export const messagesOf = (steps: readonly StepRow[]): number[] =>
  steps.flatMap((s) => [s.messageId, ...s.others.map((o) => o.messageId)].filter((id) => id !== null));
