import { asc, eq, inArray } from 'drizzle-orm';
import type { Queryable } from './database';
import { messages } from './schema';

export type MessageRow = typeof messages.$inferSelect;

export async function listMessages(db: Queryable): Promise<MessageRow[]> {
  return db.select().from(messages).orderBy(asc(messages.createdAt), asc(messages.id));
}

export async function readMessagesById(db: Queryable, ids: readonly number[]): Promise<Map<number, MessageRow>> {
  if (ids.length === 0) return new Map();
  return new Map(
    (
      await db
        .select()
        .from(messages)
        .where(inArray(messages.id, [...ids]))
    ).map((m) => [m.id, m]),
  );
}

export async function addMessage(db: Queryable, row: Omit<typeof messages.$inferInsert, 'id'>): Promise<number> {
  const [added] = await db.insert(messages).values(row).returning({ id: messages.id });
  return (added as { id: number }).id;
}

export async function updateMessage(
  db: Queryable,
  id: number,
  change: Partial<Pick<MessageRow, 'name' | 'subject' | 'body'>> & { updatedAt: number },
): Promise<boolean> {
  return (await db.update(messages).set(change).where(eq(messages.id, id)).returning({ id: messages.id })).length > 0;
}
