import { and, eq, isNull } from 'drizzle-orm';
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
