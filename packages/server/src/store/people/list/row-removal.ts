import { sql, type SQL } from 'drizzle-orm';
import type { Queryable } from '../../database';
import { dropPartition } from './list-partition';
import { dropSortIndexes } from './sort-index';

/** Removes rows of lists for good, with what was written down of them. @param which condition on `r` @returns how many */
export async function removeRows(tx: Queryable, which: SQL): Promise<number> {
  const { rows } = await tx.execute<{ n: number }>(sql`
    with gone as (delete from list_rows r where ${which} returning r.id),
      lines as (delete from personal_lines l using gone where l.list_row_id = gone.id),
      changes as (delete from list_change_rows c using gone where c.row_id = gone.id)
    select count(*)::int as n from gone`);
  return rows[0]?.n ?? 0;
}

/** Removes the rows of a list that is gone. */
export async function removeRowsOf(tx: Queryable, listId: number): Promise<void> {
  await removeRows(tx, sql`r.list_id = ${listId}`);
  await dropSortIndexes(tx, listId);
  await dropPartition(tx, listId);
}
