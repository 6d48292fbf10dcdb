import { and, gte, lt, sql } from 'drizzle-orm';
import type { Queryable } from '../database';
import { events } from '../schema/schema';

export async function addEvent(tx: Queryable, row: Omit<typeof events.$inferInsert, 'id'>): Promise<void> {
  await tx.insert(events).values(row);
}

export async function countEvents(db: Queryable, fromMs: number, toMs: number): Promise<Map<string, number>> {
  const rows = await db
    .select({ kind: events.kind, n: sql<number>`count(*)::int` })
    .from(events)
    .where(and(gte(events.at, fromMs), lt(events.at, toMs)))
    .groupBy(events.kind);
  return new Map(rows.map((r) => [r.kind, r.n]));
}
