import { audienceWords, insteadWords, partWords, termsOf, textIds, type BriefSaid } from '@baton/core';
import type { BriefNames, StepChoice } from '@baton/contract';
import type { StepRow } from '../store/campaigns/campaign-rows';
import type { CampaignChoices } from '../store/schema/schema';

const quoted = (id: number | null, name: string): string => (id === null ? 'no message' : `“${name || '…'}”`);

/** Everything that a step sends, with the variants that send something else. */
function stepName(step: StepRow, names: BriefNames['steps'][number] | undefined): string {
  const own = quoted(step.messageId, names?.messageName ?? '');
  const others = step.others.map((o, i) =>
    o.messageId === null ? own : quoted(o.messageId, names?.otherNames[i] ?? ''),
  );
  const most = [...new Set([own, ...others])].join(' or ');
  return step.ifClicked === null
    ? most
    : insteadWords(most, quoted(step.ifClicked.messageId, names?.ifClickedName ?? ''));
}

/**
 * The choices of a campaign as they are told from others.
 *
 * @param wanted the steps as they were chosen; [] for those that there are
 */
export function saidOf(
  campaign: CampaignChoices,
  names: BriefNames,
  steps: readonly StepRow[],
  wanted: readonly StepChoice[],
): BriefSaid {
  const { listId, segmentId, picked, alsoParts, exceptParts, senderKey } = campaign;
  const main = names.listName === null ? [] : [partWords(names.listName, names.segmentWords)];
  return {
    ...campaign,
    audience: `${audienceWords([...main, ...names.alsoWords], names.exceptWords)}${picked === null ? '' : `, ${picked.words}`}`,
    audienceIds: JSON.stringify([listId, segmentId, picked !== null, alsoParts, exceptParts]),
    mailboxes: names.mailboxes.map((m) => m.address),
    senderColumn: senderKey === null ? null : (names.senderColumn ?? 'a column that is gone'),
    steps: steps.map((s, i) => ({
      number: wanted[i]?.number === null ? -1 - i : s.position,
      name: stepName(s, names.steps[i]),
      messages: textIds({
        ...{ messageId: s.messageId, others: s.others.map((o) => o.messageId) },
        ifClicked: s.ifClicked?.messageId ?? null,
      }),
      ...termsOf(s),
      isRenewed: wanted[i]?.renews === true,
    })),
  };
}
