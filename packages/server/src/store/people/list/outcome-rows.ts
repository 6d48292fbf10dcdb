import { OUTCOME_COLUMNS } from '@baton/core';
import { and, inArray, isNotNull, sql } from 'drizzle-orm';
import type { Queryable } from '../../database';
import { campaigns, listRows } from '../../schema/schema';
import { isForList } from '../../campaigns/state-conditions';
import { outcomeCell } from './outcome-sql';

/** What became of rows, by their ids and the keys of the outcome columns; blank ones are absent. */
export async function readOutcomes(
  db: Queryable,
  ids: readonly number[],
): Promise<Map<number, Record<string, string>>> {
  if (ids.length === 0) return new Map();
  const cells = OUTCOME_COLUMNS.map(({ key }) => sql`${key}::text, ${outcomeCell(key)}`);
  const rows = await db
    .select({
      id: listRows.id,
      cells: sql<Record<string, string>>`jsonb_strip_nulls(jsonb_build_object(${sql.join(cells, sql`, `)}))`,
    })
    .from(listRows)
    .where(inArray(listRows.id, [...ids]));
  return new Map(rows.map((r) => [r.id, r.cells]));
}

/** Whether a campaign has been started to people of the list. */
export async function hasOutcomes(db: Queryable, listId: number): Promise<boolean> {
  const [row] = await db
    .select({ id: campaigns.id })
    .from(campaigns)
    .where(and(isForList(campaigns, listId), isNotNull(campaigns.startedAt)))
    .limit(1);
  return row !== undefined;
}
