import { eventsCounting } from '@baton/core';
import { and, eq, gte, inArray, isNull, lt, sql, type SQL, type SQLWrapper } from 'drizzle-orm';
import { batches, type Queryable } from '../database';
import { events } from '../schema/schema';

/** @returns its id */
export async function addEvent(tx: Queryable, row: Omit<typeof events.$inferInsert, 'id'>): Promise<number> {
  const [added] = await tx.insert(events).values(row).returning({ id: events.id });
  return (added as { id: number }).id;
}

/** Several at once. @returns their ids */
export async function addEvents(
  tx: Queryable,
  rows: readonly Omit<typeof events.$inferInsert, 'id'>[],
): Promise<number[]> {
  const ids: number[] = [];
  for (const some of batches(rows)) {
    const added = await tx
      .insert(events)
      .values([...some])
      .returning({ id: events.id });
    ids.push(...added.map((a) => a.id));
  }
  return ids;
}

/** What the history says of an event beside its kind; of one that was taken back, that too. @param e the table or its alias */
export const detailOf = (e: SQLWrapper): SQL<string> =>
  sql<string>`concat_ws('; ', nullif(${e}.detail, ''), case when ${e}.undone_at is not null then 'undone' end)`;

export async function markUndone(tx: Queryable, id: number, nowMs: number): Promise<void> {
  await tx.update(events).set({ undoneAt: nowMs }).where(eq(events.id, id));
}

/** How often a message of an enrolment came back softly. */
export async function countSoftBounces(db: Queryable, enrolmentId: number): Promise<number> {
  const [row] = await db
    .select({ n: sql<number>`count(*)::int` })
    .from(events)
    .where(
      and(
        eq(events.enrolmentId, enrolmentId),
        inArray(events.kind, eventsCounting('soft_bounce')),
        isNull(events.undoneAt),
      ),
    );
  return row?.n ?? 0;
}

export async function countEvents(db: Queryable, fromMs: number, toMs: number): Promise<Map<string, number>> {
  const rows = await db
    .select({ kind: events.kind, n: sql<number>`count(*)::int` })
    .from(events)
    .where(and(gte(events.at, fromMs), lt(events.at, toMs), isNull(events.undoneAt)))
    .groupBy(events.kind);
  return new Map(rows.map((r) => [r.kind, r.n]));
}
