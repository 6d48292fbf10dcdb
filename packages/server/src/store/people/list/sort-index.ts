import type { ColumnKind, SortBy } from '@baton/core';
import { sql } from 'drizzle-orm';
import { PgDialect } from 'drizzle-orm/pg-core';
import type { Queryable, Store } from '../../database';
import { tableOfList } from './list-partition';
import { sortTerm } from './list-query-sql';

/** Lists of fewer rows are put in order as fast without. */
export const SORT_INDEX_ROWS = 20_000;
/** More of them would slow down what is written more than they help what is read. */
const MOST_INDEXES = 24;

const dialect = new PgDialect({ casing: 'snake_case' });
const nameOf = (listId: number, { key, descending }: SortBy): string =>
  `list_sort_${listId}_${Buffer.from(key).toString('hex').slice(0, 36)}${descending ? '_d' : ''}`;

/**
 * Makes the index that gives a large list's rows in an order, unless it is there. It takes seconds, locks nothing, and
 * may be asked for by many at once.
 */
export async function ensureSortIndex(store: Store, listId: number, by: SortBy, kind: ColumnKind): Promise<void> {
  const name = nameOf(listId, by);
  const { rows } = await store.pool.query<{ indexname: string }>(
    `select indexname from pg_indexes where indexname like 'list\\_sort\\_%'`,
  );
  if (rows.length >= MOST_INDEXES || rows.some((r) => r.indexname === name)) return;
  const term = dialect.sqlToQuery(sortTerm(by.key, kind, by.descending)).sql.replaceAll('"list_rows".', '');
  const [value, order] = term.split(/ (?=desc nulls last$)/);
  const table = await tableOfList(store.db, listId);
  await store.pool.query(
    `create index concurrently if not exists ${name} on ${table} ((${value}) ${order ?? ''}, position, id) where list_id = ${Math.trunc(listId)} and removed_at is null`,
  );
  await store.pool.query('analyze list_rows');
}

/** Removes the indexes of a list whose columns have changed their names, or that is gone. */
export async function dropSortIndexes(db: Queryable, listId: number): Promise<void> {
  const { rows } = await db.execute<{ name: string }>(
    sql`select indexname as name from pg_indexes where indexname like ${`list\\_sort\\_${listId}\\_%`}`,
  );
  for (const { name } of rows) await db.execute(sql`drop index if exists ${sql.identifier(name)}`);
}
