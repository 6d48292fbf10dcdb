import { sql } from 'drizzle-orm';
import type { Queryable } from '../../database';

/** Ids taken at once, each time more of them; the few that an import leaves over are gone. */
const [FIRST_BLOCK, LARGEST_BLOCK] = [8192, 131_072];

/** Takes ids for rows and their people before they are stored. @returns what gives the first of so many in a row */
export function reservedIds(db: Queryable): (count: number) => Promise<{ row: number; person: number }> {
  const [rows, people] = [idsOf(db, 'list_rows_id_seq'), idsOf(db, 'contacts_id_seq')];
  return async (count) => ({ row: await rows(count), person: await people(count) });
}

function idsOf(db: Queryable, sequence: string): (count: number) => Promise<number> {
  let [next, left, block] = [0, 0, FIRST_BLOCK];
  return async (count) => {
    if (left < count) {
      const wanted = Math.max(block, count);
      [next, left] = [await takeBlock(db, sequence, wanted), wanted];
      block = Math.min(LARGEST_BLOCK, 2 * block);
    }
    const first = next;
    next += count;
    left -= count;
    return first;
  };
}

/** Takes so many in a row. Taking them one by one would cost a twentieth of a large import. */
function takeBlock(db: Queryable, sequence: string, count: number): Promise<number> {
  return db.transaction(async (tx) => {
    // Changes nothing, but lets nobody else take any until this is over.
    await tx.execute(sql.raw(`alter sequence ${sequence} increment by 1`));
    const { rows } = await tx.execute<{ next: number }>(
      sql.raw(`select (last_value + is_called::int)::int as next from ${sequence}`),
    );
    const { next } = rows[0] as { next: number };
    await tx.execute(sql.raw(`alter sequence ${sequence} restart with ${next + count}`));
    return next;
  });
}
