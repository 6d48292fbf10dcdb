import { readContent, renameInContent, type ListQuery, type MessageContent } from '@baton/core';
import { announce } from '../../store/changes';
import type { Queryable } from '../../store/database';
import {
  campaignsOfList,
  listsWithField,
  messagesInUse,
  renameSenderKey,
  readSegments,
  updateSegment,
  updateStepContent,
} from '../../store/people/list/segment-rows';
import { listMessages, updateMessage } from '../../store/messages/message-rows';
import { readSteps } from '../../store/campaigns/campaign-rows';
import { readVersions, updateVersion } from '../../store/campaigns/change-rows';
import { withTexts, type StepTexts } from '../../campaigns/step-texts';

/**
 * Lets what uses a list's field follow when it is renamed: messages that are written for this list alone (or for no
 * list yet, where no other has such a field), what running campaigns keep of them, and segments.
 */
export async function followRename(
  tx: Queryable,
  listId: number,
  from: { name: string; key: string },
  to: { name: string; key: string },
  nowMs: number,
): Promise<void> {
  for (const s of await readSegments(tx, listId))
    await updateSegment(tx, s.id, { query: renamedQuery(s.query, from.key, to.key) });
  const renamed = (content: MessageContent | null) =>
    content === null ? null : renameInContent(readContent(content), from.key, to.name);
  const own = await campaignsOfList(tx, listId);
  await renameSenderKey(
    tx,
    own.map((c) => c.id),
    from.key,
    to.key,
  );
  const running = own.filter((c) => c.state === 'running' || c.state === 'held').map((c) => c.id);
  /** What follows in the kept texts of one step; null where nothing does. */
  const followed = ({ content, others, ifClicked }: Omit<StepTexts, 'messageId'>) => {
    const was = { content, others, ifClicked };
    const now = withTexts(was, (text) => renamed(text.content));
    return JSON.stringify(now) === JSON.stringify(was) ? null : now;
  };
  for (const step of await readSteps(tx, running)) {
    const now = followed(step);
    if (now) await updateStepContent(tx, step.campaignId, step.position, now);
  }
  for (const version of await readVersions(tx, running)) {
    const now = followed(version);
    if (now) await updateVersion(tx, version.id, now);
  }
  const used = await messagesInUse(tx);
  const others = (await listsWithField(tx, from.key)).filter((id) => id !== listId);
  for (const message of await listMessages(tx)) {
    const lists = used.get(message.id) ?? others;
    if (lists.some((id) => id !== listId && others.includes(id))) continue;
    const content = renameInContent(message.content, from.key, to.name);
    if (JSON.stringify(content) === JSON.stringify(message.content)) continue;
    await updateMessage(tx, message.id, { content, updatedAt: nowMs });
    await announce(tx, 'messages');
  }
}

function renamedQuery(query: ListQuery, from: string, to: string): ListQuery {
  const renamed = <T extends { key: string }>(part: T): T => (part.key === from ? { ...part, key: to } : part);
  return { ...query, filters: query.filters.map(renamed), sort: query.sort.map(renamed) };
}
