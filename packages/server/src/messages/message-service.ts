import { isDeepStrictEqual } from 'node:util';
import { contentFault, DomainError, type MessageContent } from '@baton/core';
import type { MessageDraft, MessageView, RemovedMessage } from '@baton/contract';
import type { ServerParts } from '../http/context';
import { messagesOf } from '../campaigns/step-texts';
import { announce } from '../store/changes';
import type { Queryable } from '../store/database';
import { listCampaigns, readSteps } from '../store/campaigns/campaign-rows';
import {
  addMessage,
  addVersion,
  lastVersion,
  listMessages,
  listRemovedMessages,
  lockMessage,
  updateMessage,
} from '../store/messages/message-rows';

export async function viewMessages(db: Queryable): Promise<MessageView[]> {
  const usedBy = await campaignsByMessage(db);
  return (await listMessages(db)).map((m) => ({
    id: m.id,
    name: m.name,
    content: m.content,
    updatedAt: m.updatedAt,
    proofsReadAt: m.proofsReadAt,
    changedSinceRead: m.changedSinceRead,
    fault: contentFault(m.content),
    usedBy: usedBy.get(m.id) ?? [],
  }));
}

async function campaignsByMessage(db: Queryable): Promise<Map<number, string[]>> {
  const campaigns = await listCampaigns(db);
  const names = new Map(campaigns.map((c) => [c.id, c.name]));
  const out = new Map<number, string[]>();
  for (const step of await readSteps(
    db,
    campaigns.map((c) => c.id),
  )) {
    for (const id of messagesOf([step])) {
      const name = names.get(step.campaignId) ?? '';
      const own = out.get(id) ?? [];
      if (!own.includes(name)) out.set(id, [...own, name]);
    }
  }
  return out;
}

/** Changes that come within this time are one version. */
const VERSION_MS = 10 * 60_000;

/**
 * Keeps a message as it is being written, whether or not it parses: one that does not is never sent. What it was is
 * kept as a version when writing begins again.
 */
export async function saveMessage({ store, clock }: ServerParts, id: number | null, draft: MessageDraft) {
  const nowMs = await clock.now();
  const saved = await store.db.transaction(async (tx) => {
    if (id === null) return addMessage(tx, { ...draft, createdAt: nowMs, updatedAt: nowMs });
    const before = await lockMessage(tx, id);
    if (!before || before.removedAt !== null)
      throw new DomainError('not_found', 'There is no such message, or it has been deleted.');
    if (isOther(before.content, draft.content)) {
      const last = await lastVersion(tx, id);
      if (!last || (nowMs - last.savedAt >= VERSION_MS && isOther(last.content, before.content)))
        await addVersion(tx, id, before.content, nowMs);
    }
    const changedSinceRead = before.changedSinceRead || isOther(before.content, draft.content);
    await updateMessage(tx, id, { ...draft, changedSinceRead, updatedAt: nowMs });
    return id;
  });
  await announce(store.db, 'messages');
  return saved;
}

/** The order of their keys, which the database does not keep, makes no difference. */
const isOther = (a: MessageContent, b: MessageContent): boolean => !isDeepStrictEqual(a, b);

/**
 * Notes that somebody has read finished messages of this content. What was read of a text that has been changed
 * meanwhile says nothing about the one that will be sent.
 */
export async function noteRead({ store, clock }: ServerParts, id: number, content: MessageContent): Promise<void> {
  const nowMs = await clock.now();
  await store.db.transaction(async (tx) => {
    const message = await lockMessage(tx, id);
    if (!message || message.removedAt !== null) throw new DomainError('not_found', 'There is no such message.');
    if (isOther(message.content, content)) return;
    await updateMessage(tx, id, { proofsReadAt: nowMs, changedSinceRead: false });
    await announce(tx, 'messages');
  });
}

/** Deletes a message; it can come back for 30 days. Campaigns that were started keep theirs. */
export async function removeMessage({ store, clock }: ServerParts, id: number): Promise<void> {
  const nowMs = await clock.now();
  await store.db.transaction(async (tx) => {
    const message = await lockMessage(tx, id);
    if (!message || message.removedAt !== null) throw new DomainError('not_found', 'There is no such message.');
    const drafts = (await listCampaigns(tx)).filter((c) => c.state === 'draft');
    const steps = await readSteps(
      tx,
      drafts.map((c) => c.id),
    );
    const using = steps.find((s) => messagesOf([s]).includes(id));
    if (using) {
      const name = drafts.find((c) => c.id === using.campaignId)?.name ?? '';
      throw new DomainError('conflict', `“${message.name}” is in the draft “${name}”; choose another there first.`);
    }
    await updateMessage(tx, id, { removedAt: nowMs });
  });
  await announce(store.db, 'messages');
}

export async function restoreMessage({ store }: ServerParts, id: number): Promise<void> {
  if (!(await updateMessage(store.db, id, { removedAt: null })))
    throw new DomainError('not_found', 'This message was deleted too long ago; it is gone.');
  await announce(store.db, 'messages');
}

export async function viewRemovedMessages(db: Queryable): Promise<RemovedMessage[]> {
  return (await listRemovedMessages(db)).map(({ id, name, removedAt }) => ({
    id,
    name,
    removedAt: removedAt as number,
  }));
}
