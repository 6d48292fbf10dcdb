import { sql } from 'drizzle-orm';
import type { Queryable } from '../../database';
import { isForList } from '../../campaigns/state-conditions';
import { removeRows, removeRowsOf } from './row-removal';

/** Rows that no campaign wrote to or will: only they can go. */
const FREE = sql`not exists (select from enrolments e where e.list_row_id = r.id)`;
/** Lists that no campaign is for or leaves out, and from which nobody has been enrolled. */
const UNUSED = sql`not exists (select from campaigns c where ${isForList({ listId: sql`c.list_id`, alsoParts: sql`c.also_parts` }, sql`l.id`)}
    or c.except_parts @> jsonb_build_array(jsonb_build_object('listId', l.id)))
  and not exists (select from enrolments e join list_rows r on r.id = e.list_row_id where r.list_id = l.id)`;

/** When the first of what was deleted by people was deleted; null for nothing that can go. */
export async function firstRemoved(db: Queryable): Promise<number | null> {
  const { rows } = await db.execute<{ at: string | null }>(sql`
    select least(
      (select min(r.removed_at) from list_rows r where r.removed_at is not null and ${FREE}),
      (select min(l.removed_at) from lists l where l.removed_at is not null and ${UNUSED}),
      (select min(m.removed_at) from messages m where m.removed_at is not null
        and not exists (select from campaign_steps s where s.message_id = m.id))
    ) as at`);
  const at = rows[0]?.at;
  return at == null ? null : Number(at);
}

/** Removes for good what was deleted before an instant. @returns how many lists and rows */
export async function purgeRemoved(db: Queryable, beforeMs: number): Promise<number> {
  const lists = await db.execute<{ id: number }>(
    sql`delete from lists l where l.removed_at <= ${beforeMs} and ${UNUSED} returning id`,
  );
  for (const { id } of lists.rows) await removeRowsOf(db, id);
  const rows = await removeRows(db, sql`r.removed_at <= ${beforeMs} and ${FREE}`);
  await db.execute(sql`delete from list_changes where at <= ${beforeMs}`);
  return (lists.rowCount ?? 0) + rows;
}
