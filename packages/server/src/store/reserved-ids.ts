import { sql } from 'drizzle-orm';
import type { Queryable } from './database';

/** Ids taken at once; the few that an import leaves over are gone. */
const BLOCK = 8192;

/** Takes ids for rows and their people before they are stored. @returns what gives the first of so many in a row */
export function reservedIds(db: Queryable): (count: number) => Promise<{ row: number; person: number }> {
  const [rows, people] = [idsOf(db, 'list_rows_id_seq'), idsOf(db, 'contacts_id_seq')];
  return async (count) => ({ row: await rows(count), person: await people(count) });
}

function idsOf(db: Queryable, sequence: string): (count: number) => Promise<number> {
  let [next, left] = [0, 0];
  return async (count) => {
    while (left < count) {
      const wanted = Math.max(BLOCK, count);
      const { rows } = await db.execute<{ first: number; last: number }>(
        sql`select min(id)::int as first, max(id)::int as last from
          (select nextval(${sequence}) as id from generate_series(1, ${wanted}::int)) taken`,
      );
      const { first, last } = rows[0] as { first: number; last: number };
      // Where somebody else took some of them meanwhile, they are not in a row.
      if (last - first + 1 === wanted) [next, left] = [first, wanted];
    }
    const first = next;
    next += count;
    left -= count;
    return first;
  };
}
