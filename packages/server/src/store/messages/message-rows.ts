import { readContent, type MessageContent } from '@baton/core';
import { and, asc, desc, eq, inArray, isNotNull, isNull, lte, sql } from 'drizzle-orm';
import type { Queryable } from '../database';
import { messages, messageVersions } from '../schema/schema';

export type MessageRow = typeof messages.$inferSelect;

/** A message as it was kept before Baton knew of forms is one of plain text. */
const asRead = <T extends { content: MessageContent }>(row: T): T => ({ ...row, content: readContent(row.content) });

export async function listMessages(db: Queryable): Promise<MessageRow[]> {
  const rows = await db
    .select()
    .from(messages)
    .where(isNull(messages.removedAt))
    .orderBy(asc(messages.createdAt), asc(messages.id));
  return rows.map(asRead);
}

export async function listRemovedMessages(db: Queryable): Promise<MessageRow[]> {
  const rows = await db.select().from(messages).where(isNotNull(messages.removedAt)).orderBy(desc(messages.removedAt));
  return rows.map(asRead);
}

export async function readMessagesById(db: Queryable, ids: readonly number[]): Promise<Map<number, MessageRow>> {
  if (ids.length === 0) return new Map();
  const rows = await db
    .select()
    .from(messages)
    .where(inArray(messages.id, [...ids]));
  return new Map(rows.map((m) => [m.id, asRead(m)]));
}

export async function lockMessage(tx: Queryable, id: number): Promise<MessageRow | null> {
  const [row] = await tx.select().from(messages).where(eq(messages.id, id)).for('update');
  return row ? asRead(row) : null;
}

export async function addMessage(db: Queryable, row: Omit<typeof messages.$inferInsert, 'id'>): Promise<number> {
  const [added] = await db.insert(messages).values(row).returning({ id: messages.id });
  return (added as { id: number }).id;
}

export async function updateMessage(
  db: Queryable,
  id: number,
  change: Partial<
    Pick<MessageRow, 'name' | 'content' | 'updatedAt' | 'removedAt' | 'proofsReadAt' | 'changedSinceRead'>
  >,
): Promise<boolean> {
  return (await db.update(messages).set(change).where(eq(messages.id, id)).returning({ id: messages.id })).length > 0;
}

/** Versions of a message kept at most. */
const MOST_VERSIONS = 100;

export async function addVersion(
  tx: Queryable,
  messageId: number,
  content: MessageContent,
  savedAt: number,
): Promise<void> {
  await tx.insert(messageVersions).values({ messageId, content, savedAt });
  await tx.execute(sql`
    delete from message_versions where message_id = ${messageId} and id not in (
      select id from message_versions where message_id = ${messageId} order by saved_at desc, id desc limit ${MOST_VERSIONS})`);
}

export async function lastVersion(
  tx: Queryable,
  messageId: number,
): Promise<{ content: MessageContent; savedAt: number } | null> {
  const [row] = await tx
    .select({ content: messageVersions.content, savedAt: messageVersions.savedAt })
    .from(messageVersions)
    .where(eq(messageVersions.messageId, messageId))
    .orderBy(desc(messageVersions.savedAt), desc(messageVersions.id))
    .limit(1);
  return row ?? null;
}

/** What a message was before, the latest first. */
export async function listVersions(
  db: Queryable,
  messageId: number,
): Promise<{ id: number; savedAt: number; content: MessageContent }[]> {
  const rows = await db
    .select({ id: messageVersions.id, savedAt: messageVersions.savedAt, content: messageVersions.content })
    .from(messageVersions)
    .where(eq(messageVersions.messageId, messageId))
    .orderBy(desc(messageVersions.savedAt), desc(messageVersions.id));
  return rows.map(asRead);
}

/** Removes for good messages deleted before then that no campaign is made of. @returns how many */
export async function purgeMessages(db: Queryable, before: number): Promise<number> {
  const gone = await db
    .delete(messages)
    .where(
      and(
        lte(messages.removedAt, before),
        sql`not exists (select from campaign_steps s where s.message_id = ${messages.id})`,
      ),
    )
    .returning({ id: messages.id });
  return gone.length;
}
