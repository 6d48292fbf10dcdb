import type { BriefNames } from '@baton/contract';
import { segmentWords } from '../people/list/segment-service';
import type { CampaignRow, StepRow } from '../store/campaigns/campaign-rows';
import type { Queryable } from '../store/database';
import { listMailboxes } from '../store/mailboxes/mailbox-rows';
import { readMessagesById } from '../store/messages/message-rows';
import { readColumns, readList } from '../store/people/list/list-rows';
import { readSegment } from '../store/people/list/segment-rows';
import { listsOf, wordsOfParts } from './audience-parts';
import { messagesOf } from './step-texts';

/** What the choices of a campaign are called. */
export async function namesOf(
  db: Queryable,
  campaign: Pick<CampaignRow, 'listId' | 'segmentId' | 'alsoParts' | 'exceptParts' | 'picked' | 'senderKey'>,
  steps: readonly StepRow[],
  mailboxIds: readonly number[],
): Promise<BriefNames> {
  const { listId, segmentId } = campaign;
  const messages = await readMessagesById(db, messagesOf(steps));
  const nameOf = (id: number | null) => (id === null ? '' : (messages.get(id)?.name ?? ''));
  const segment = segmentId === null ? null : await readSegment(db, segmentId);
  return {
    listName: listId === null ? null : ((await readList(db, listId))?.name ?? null),
    segmentWords: segment === null ? null : await segmentWords(db, segment),
    alsoWords: await wordsOfParts(db, campaign.alsoParts),
    exceptWords: await wordsOfParts(db, campaign.exceptParts),
    senderColumn: await senderColumn(db, campaign),
    mailboxes: (await listMailboxes(db))
      .filter((m) => mailboxIds.includes(m.id))
      .map(({ id, address }) => ({ id, address })),
    steps: steps.map((s) => ({
      messageName: nameOf(s.messageId),
      otherNames: s.others.map((o) => nameOf(o.messageId)),
      ifClickedName: s.ifClicked === null ? null : nameOf(s.ifClicked.messageId),
    })),
  };
}

/** What is said where a campaign has lost the column that names its mailboxes. */
export const NO_SENDER_COLUMN = 'The column that says who is written to from which mailbox is gone';

/** The column that names mailboxes, of the first list that has it. */
export async function senderColumn(
  db: Queryable,
  campaign: Parameters<typeof listsOf>[0] & Pick<CampaignRow, 'senderKey'>,
): Promise<string | null> {
  if (campaign.senderKey === null) return null;
  for (const listId of listsOf(campaign)) {
    const column = (await readColumns(db, listId)).find((c) => c.key === campaign.senderKey);
    if (column) return column.name;
  }
  return null;
}
