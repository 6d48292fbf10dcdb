import { eq } from 'drizzle-orm';
import type { Queryable } from '../../database';
import { listRows, lists } from '../../schema/schema';

/** The list that a row is on; null for a row or list that is gone. */
export async function listOfRow(db: Queryable, rowId: number): Promise<{ id: number; name: string } | null> {
  const [list] = await db
    .select({ id: lists.id, name: lists.name })
    .from(listRows)
    .innerJoin(lists, eq(lists.id, listRows.listId))
    .where(eq(listRows.id, rowId));
  return list ?? null;
}
