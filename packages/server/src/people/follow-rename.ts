import { renameField, type ListQuery } from '@baton/core';
import { announce } from '../store/changes';
import type { Queryable } from '../store/database';
import {
  campaignsOfList,
  listsWithField,
  messagesInUse,
  readSegments,
  updateSegment,
  updateStepText,
} from '../store/segment-rows';
import { listMessages, updateMessage } from '../store/message-rows';
import { readSteps } from '../store/campaign-rows';

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
  const own = await campaignsOfList(tx, listId);
  for (const step of await readSteps(
    tx,
    own.filter((c) => c.state === 'running' || c.state === 'held').map((c) => c.id),
  )) {
    if (step.subject === null || step.body === null) continue;
    const subject = renameField(step.subject, from.key, to.name);
    const body = renameField(step.body, from.key, to.name);
    if (subject !== step.subject || body !== step.body)
      await updateStepText(tx, step.campaignId, step.position, { subject, body });
  }
  const used = await messagesInUse(tx);
  const others = (await listsWithField(tx, from.key)).filter((id) => id !== listId);
  for (const message of await listMessages(tx)) {
    const lists = used.get(message.id) ?? others;
    if (lists.some((id) => id !== listId && others.includes(id))) continue;
    const subject = renameField(message.subject, from.key, to.name);
    const body = renameField(message.body, from.key, to.name);
    if (subject === message.subject && body === message.body) continue;
    await updateMessage(tx, message.id, { subject, body, updatedAt: nowMs });
    await announce(tx, 'messages');
  }
}

function renamedQuery(query: ListQuery, from: string, to: string): ListQuery {
  const renamed = <T extends { key: string }>(part: T): T => (part.key === from ? { ...part, key: to } : part);
  return { ...query, filters: query.filters.map(renamed), sort: query.sort.map(renamed) };
}
