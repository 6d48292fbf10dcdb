import { and, asc, eq, inArray, isNull, or, sql } from 'drizzle-orm';
import type { Queryable } from '../../database';
import { isForList } from '../../campaigns/state-conditions';
import { campaigns, campaignSteps, listColumns, lists, segments } from '../../schema/schema';

export type SegmentRow = typeof segments.$inferSelect;

/** Of one list; of all lists that are not deleted without one. */
export async function readSegments(db: Queryable, listId?: number): Promise<SegmentRow[]> {
  const rows = await db
    .select({ segment: segments })
    .from(segments)
    .innerJoin(lists, eq(lists.id, segments.listId))
    .where(and(isNull(lists.removedAt), listId === undefined ? undefined : eq(segments.listId, listId)))
    .orderBy(asc(segments.createdAt), asc(segments.id));
  return rows.map((r) => r.segment);
}

export async function readSegment(db: Queryable, id: number): Promise<SegmentRow | null> {
  const [row] = await db.select().from(segments).where(eq(segments.id, id));
  return row ?? null;
}

export async function addSegment(db: Queryable, row: Omit<SegmentRow, 'id'>): Promise<number> {
  const [added] = await db.insert(segments).values(row).returning({ id: segments.id });
  return (added as { id: number }).id;
}

export async function updateSegment(
  db: Queryable,
  id: number,
  change: Partial<Pick<SegmentRow, 'name' | 'query'>>,
): Promise<boolean> {
  return (await db.update(segments).set(change).where(eq(segments.id, id)).returning({ id: segments.id })).length > 0;
}

export async function removeSegment(db: Queryable, id: number): Promise<boolean> {
  return (await db.delete(segments).where(eq(segments.id, id)).returning({ id: segments.id })).length > 0;
}

/** Campaigns for people of a list. */
export async function campaignsOfList(db: Queryable, listId: number): Promise<(typeof campaigns.$inferSelect)[]> {
  return db.select().from(campaigns).where(isForList(campaigns, listId));
}

/** Campaigns for the people of a segment, or without them. */
export async function campaignsOfSegment(db: Queryable, segmentId: number): Promise<(typeof campaigns.$inferSelect)[]> {
  return db
    .select()
    .from(campaigns)
    .where(
      or(
        eq(campaigns.segmentId, segmentId),
        sql`${campaigns.alsoParts} || ${campaigns.exceptParts} @> ${JSON.stringify([{ segmentId }])}::jsonb`,
      ),
    );
}

/** Campaigns whose mailboxes a column names follow when it is renamed. */
export async function renameSenderKey(tx: Queryable, ids: readonly number[], from: string, to: string): Promise<void> {
  await tx
    .update(campaigns)
    .set({ senderKey: to })
    .where(and(inArray(campaigns.id, [...ids]), eq(campaigns.senderKey, from)));
}

/** The lists to which each message is sent by some campaign. */
export async function messagesInUse(db: Queryable): Promise<Map<number, number[]>> {
  const rows = await db
    .selectDistinct({ messageId: campaignSteps.messageId, listId: campaigns.listId, alsoParts: campaigns.alsoParts })
    .from(campaignSteps)
    .innerJoin(campaigns, eq(campaigns.id, campaignSteps.campaignId));
  const used = new Map<number, number[]>();
  for (const { messageId, listId, alsoParts } of rows)
    if (messageId !== null && listId !== null)
      used.set(messageId, [...(used.get(messageId) ?? []), listId, ...alsoParts.map((p) => p.listId)]);
  return used;
}

export async function listsWithField(db: Queryable, key: string): Promise<number[]> {
  const rows = await db
    .select({ id: listColumns.listId })
    .from(listColumns)
    .innerJoin(lists, eq(lists.id, listColumns.listId))
    .where(and(inArray(listColumns.key, [key]), isNull(lists.removedAt)));
  return rows.map((r) => r.id);
}

/** What a started campaign keeps of a message. */
export async function updateStepContent(
  tx: Queryable,
  campaignId: number,
  position: number,
  change: Partial<Pick<typeof campaignSteps.$inferInsert, 'content' | 'others' | 'ifClicked'>>,
): Promise<void> {
  await tx
    .update(campaignSteps)
    .set(change)
    .where(and(eq(campaignSteps.campaignId, campaignId), eq(campaignSteps.position, position)));
}
