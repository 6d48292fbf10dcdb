import { outcomeColumn, type ListQuery } from '@baton/core';
import { count, eq, sql } from 'drizzle-orm';
import type { Queryable } from '../../database';
import { contacts, listRows } from '../../schema/schema';
import { whereOf, type RowsOf } from './list-query-sql';
import { outcomeCell } from './outcome-sql';

/** The values of a column with how often each occurs, the most frequent first; '' for blank. */
export async function valuesOf(
  db: Queryable,
  rows: RowsOf,
  key: string,
  nowMs: number,
  query: ListQuery,
  limit: number,
): Promise<{ value: string; n: number }[]> {
  const isTags = rows.columns.some((c) => c.key === key && c.kind === 'tags');
  const outcome = outcomeColumn(key);
  const cell = outcome ? outcomeCell(outcome.key) : sql`${listRows.fields}->>${key}`;
  const text = sql`coalesce(${cell}, '')`;
  const value = isTags ? sql<string>`regexp_split_to_table(${text}, '\\s*,\\s*')` : sql<string>`${text}`;
  const each = db
    .select({ value: value.as('value') })
    .from(listRows)
    .innerJoin(contacts, eq(contacts.id, listRows.contactId))
    .where(whereOf(rows, query, nowMs))
    .as('each');
  return db
    .select({ value: each.value, n: count() })
    .from(each)
    .groupBy(each.value)
    .orderBy(sql`count(*) desc, ${each.value}`)
    .limit(limit);
}
