import type { StepRow } from '../store/campaigns/campaign-rows';

/** A step as a draft has it: it takes its messages' texts when the campaign starts. */
export const withoutTexts = (step: StepRow): StepRow => ({
  ...step,
  content: null,
  others: step.others.map(({ messageId }) => ({ messageId, content: null })),
});
