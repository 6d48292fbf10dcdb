import { and, eq, isNull, sql } from 'drizzle-orm';
import type { Queryable } from '../../database';
import { listFeeds, lists } from '../../schema/schema';

export type FeedRow = typeof listFeeds.$inferSelect;

export async function readFeed(db: Queryable, listId: number): Promise<FeedRow | null> {
  const [row] = await db.select().from(listFeeds).where(eq(listFeeds.listId, listId));
  return row ?? null;
}

/** Feeds of lists that are not deleted. */
export async function readFeeds(db: Queryable): Promise<FeedRow[]> {
  const rows = await db
    .select({ feed: listFeeds })
    .from(listFeeds)
    .innerJoin(lists, and(eq(lists.id, listFeeds.listId), isNull(lists.removedAt)));
  return rows.map((r) => r.feed);
}

/** When the next feed is to be looked at; 0 for one that never was. */
export async function nextFeedAt(db: Queryable): Promise<number | null> {
  const { rows } = await db.execute<{ at: string | null }>(
    sql`select min(coalesce(f.looked_at + f.every_minutes * 60000, 0)) as at from list_feeds f join lists l on l.id = f.list_id where l.removed_at is null`,
  );
  const at = rows[0]?.at;
  return at == null ? null : Number(at);
}

/** Another place begins anew; a changed schedule does not. Whoever puts it looks there at once, and nobody else. */
export async function putFeed(db: Queryable, feed: Omit<FeedRow, 'taken' | 'found'>): Promise<void> {
  const before = await readFeed(db, feed.listId);
  const again = before?.place === feed.place && before.kind === feed.kind ? {} : { taken: [], found: '' };
  const set = { ...feed, ...again };
  await db.insert(listFeeds).values(set).onConflictDoUpdate({ target: listFeeds.listId, set });
}

export async function updateFeed(
  db: Queryable,
  listId: number,
  change: Pick<FeedRow, 'lookedAt' | 'found'> & { taken?: string[] },
): Promise<void> {
  await db.update(listFeeds).set(change).where(eq(listFeeds.listId, listId));
}

export async function removeFeed(db: Queryable, listId: number): Promise<void> {
  await db.delete(listFeeds).where(eq(listFeeds.listId, listId));
}
