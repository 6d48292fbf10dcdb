import { WHOLE_LIST, type KeptColumn, type ListColumn, type ListQuery, type RowAside } from '@baton/core';
import { and, asc, count, desc, eq, inArray, isNotNull, isNull, sql, type SQL } from 'drizzle-orm';
import { batches, type Queryable } from '../../database';
import { hasNote, orderOf, whereOf, type RowsOf } from './list-query-sql';
import { contacts, listAside, listColumns, listRows, lists } from '../../schema/schema';

/** Adds contacts that are new. @returns ids by key, of new and known ones */
export async function addContacts(
  db: Queryable,
  people: readonly { address: string; key: string; domain: string }[],
  now: number,
): Promise<Map<string, number>> {
  const ids = new Map<string, number>();
  for (const batch of batches(people)) {
    const values = batch.map(({ address, key, domain }) => ({ address, key, domain, createdAt: now }));
    await db.insert(contacts).values(values).onConflictDoNothing();
    const rows = await db
      .select({ id: contacts.id, key: contacts.key })
      .from(contacts)
      .where(
        inArray(
          contacts.key,
          batch.map((p) => p.key),
        ),
      );
    for (const r of rows) ids.set(r.key, r.id);
  }
  return ids;
}

/** @returns the list's id */
export async function addList(
  tx: Queryable,
  list: { id?: number; name: string; source: string; createdAt: number },
  columns: readonly ListColumn[],
): Promise<number> {
  const [row] = await tx.insert(lists).values(list).returning({ id: lists.id });
  const { id } = row as { id: number };
  await replaceColumns(tx, id, columns);
  return id;
}

/** The id of a list to be. */
export async function reserveListId(db: Queryable): Promise<number> {
  const { rows } = await db.execute<{ id: number }>(sql`select nextval('lists_id_seq')::int as id`);
  return (rows[0] as { id: number }).id;
}

export async function addAside(tx: Queryable, listId: number, aside: readonly RowAside[]): Promise<void> {
  for (const batch of batches(aside))
    await tx
      .insert(listAside)
      .values(batch.map((a) => ({ listId, line: a.line, cells: a.cells, reason: a.reason, fields: a.fields ?? null })));
}

export interface ListSummary {
  id: number;
  name: string;
  source: string;
  createdAt: number;
  people: number;
  aside: number;
}

const summary = {
  id: lists.id,
  name: lists.name,
  source: lists.source,
  createdAt: lists.createdAt,
  people: sql<number>`(select count(*)::int from list_rows r where r.list_id = lists.id and r.removed_at is null)`,
  aside: sql<number>`(select count(*)::int from list_aside a where a.list_id = lists.id)`,
};

export async function listLists(db: Queryable): Promise<ListSummary[]> {
  return db.select(summary).from(lists).where(isNull(lists.removedAt)).orderBy(asc(lists.createdAt), asc(lists.id));
}

/** A list that has not been deleted; null where there is none. */
export async function readListSummary(db: Queryable, id: number): Promise<ListSummary | null> {
  const [row] = await db
    .select(summary)
    .from(lists)
    .where(and(eq(lists.id, id), isNull(lists.removedAt)));
  return row ?? null;
}

export async function listRemovedLists(db: Queryable): Promise<(ListSummary & { removedAt: number })[]> {
  const rows = await db
    .select({ ...summary, removedAt: lists.removedAt })
    .from(lists)
    .where(isNotNull(lists.removedAt))
    .orderBy(desc(lists.removedAt));
  return rows.map((r) => ({ ...r, removedAt: r.removedAt as number }));
}

export async function readList(db: Queryable, id: number): Promise<typeof lists.$inferSelect | null> {
  const [row] = await db.select().from(lists).where(eq(lists.id, id));
  return row ?? null;
}

/** Locks a list against other changes of its columns and rows by people. */
export async function lockList(tx: Queryable, id: number): Promise<typeof lists.$inferSelect | null> {
  const [row] = await tx.select().from(lists).where(eq(lists.id, id)).for('update');
  return row ?? null;
}

export async function updateList(
  tx: Queryable,
  id: number,
  change: Partial<Pick<typeof lists.$inferInsert, 'name' | 'removedAt' | 'hiddenOutcomes'>>,
): Promise<void> {
  await tx.update(lists).set(change).where(eq(lists.id, id));
}

/** Columns in their order. */
export async function readColumns(db: Queryable, listId: number): Promise<ListColumn[]> {
  return db
    .select({
      name: listColumns.name,
      key: listColumns.key,
      role: listColumns.role,
      kind: listColumns.kind,
      hidden: listColumns.hidden,
      formula: listColumns.formula,
      verdicts: listColumns.verdicts,
    })
    .from(listColumns)
    .where(eq(listColumns.listId, listId))
    .orderBy(asc(listColumns.position));
}

export async function replaceColumns(tx: Queryable, listId: number, columns: readonly ListColumn[]): Promise<void> {
  await tx.delete(listColumns).where(eq(listColumns.listId, listId));
  if (columns.length === 0) return;
  await tx.insert(listColumns).values(
    columns.map(({ name, key, role, kind, hidden, formula, verdicts }, position) => ({
      listId,
      position,
      name,
      key,
      role: role satisfies KeptColumn['role'],
      kind,
      hidden,
      formula,
      verdicts,
    })),
  );
}

/** More than any list has. */
export const MAX_ROWS = 2 ** 31 - 1;

export interface ListPerson {
  rowId: number;
  listId: number;
  contactId: number;
  address: string;
  key: string;
  domain: string;
  zone: string | null;
  /** ISO date. */
  sendOn: string | null;
  fields: Record<string, string>;
}

const person = {
  rowId: listRows.id,
  listId: listRows.listId,
  contactId: contacts.id,
  address: contacts.address,
  key: contacts.key,
  domain: contacts.domain,
  zone: listRows.zone,
  sendOn: listRows.sendOn,
  fields: listRows.fields,
};

/** The rows of a list that a query finds, in its order. */
export async function findRows(
  db: Queryable,
  rows: RowsOf,
  query: ListQuery,
  nowMs: number,
  page: { offset: number; limit: number },
): Promise<ListPerson[]> {
  return db
    .select(person)
    .from(listRows)
    .innerJoin(contacts, eq(contacts.id, listRows.contactId))
    .where(whereOf(rows, query, nowMs))
    .orderBy(...orderOf(rows, query.sort))
    .limit(page.limit)
    .offset(page.offset);
}

const onList = (listId: number) => and(eq(listRows.listId, listId), isNull(listRows.removedAt));

/**
 * The person at a position of a list; null if there is none. The rows before are skipped in the index alone.
 *
 * @param index 0-based, in the list's own order
 */
export async function personAt(db: Queryable, listId: number, index: number): Promise<ListPerson | null> {
  const [row] = await db
    .select(person)
    .from(listRows)
    .innerJoin(contacts, eq(contacts.id, listRows.contactId))
    .where(
      eq(
        listRows.id,
        db
          .select({ id: listRows.id })
          .from(listRows)
          .where(onList(listId))
          .orderBy(asc(listRows.position))
          .offset(index)
          .limit(1),
      ),
    );
  return row ?? null;
}

/** How many are on a list. */
export async function countPeople(db: Queryable, listId: number): Promise<number> {
  const [row] = await db.select({ n: count() }).from(listRows).where(onList(listId));
  return row?.n ?? 0;
}

/** Everybody on a list, in its own order. */
export async function everyRow(db: Queryable, listId: number): Promise<ListPerson[]> {
  return findRows(db, { listId, columns: [] }, WHOLE_LIST, 0, { offset: 0, limit: MAX_ROWS });
}

/** The ids of the rows that a query finds, in its order. */
export async function findRowIds(db: Queryable, rows: RowsOf, query: ListQuery, nowMs: number): Promise<number[]> {
  const found = await db
    .select({ id: listRows.id })
    .from(listRows)
    .innerJoin(contacts, eq(contacts.id, listRows.contactId))
    .where(whereOf(rows, query, nowMs))
    .orderBy(...orderOf(rows, query.sort));
  return found.map((r) => r.id);
}

/** About how many rows a list has; costs nothing. */
export async function roughSize(db: Queryable, listId: number): Promise<number> {
  const [row] = await db
    .select({ n: sql<number>`coalesce(max(${listRows.position}) + 1, 0)` })
    .from(listRows)
    .where(and(eq(listRows.listId, listId), isNull(listRows.removedAt)));
  return row?.n ?? 0;
}

export async function countRows(db: Queryable, rows: RowsOf, query: ListQuery, nowMs: number): Promise<number> {
  const [row] = await db
    .select({ n: count() })
    .from(listRows)
    .innerJoin(contacts, eq(contacts.id, listRows.contactId))
    .where(whereOf(rows, query, nowMs));
  return row?.n ?? 0;
}

/** A row as the grid shows it. */
export interface GridPerson extends ListPerson {
  notes: (typeof listRows.$inferSelect)['notes'];
  suppressed: boolean;
  bounced: boolean;
  written: boolean;
  no_server: boolean;
}

const asBoolean = (condition: SQL) => sql<boolean>`${condition}`;

/** The rows with these ids, in no order; with what is known of each person now. */
export async function readRows(
  db: Queryable,
  listId: number,
  ids: readonly number[],
  nowMs: number,
): Promise<GridPerson[]> {
  if (ids.length === 0) return [];
  return db
    .select({
      ...person,
      notes: listRows.notes,
      suppressed: asBoolean(hasNote('suppressed', nowMs)),
      bounced: asBoolean(hasNote('bounced', nowMs)),
      written: asBoolean(hasNote('written', nowMs)),
      no_server: asBoolean(hasNote('no_server', nowMs)),
    })
    .from(listRows)
    .innerJoin(contacts, eq(contacts.id, listRows.contactId))
    .where(sql`${eq(listRows.listId, listId)} and ${inArray(listRows.id, [...ids])}`);
}

/** A row as it is stored. */
export interface StoredPerson extends ListPerson {
  notes: (typeof listRows.$inferSelect)['notes'];
  removedAt: number | null;
}

/** Rows by their ids, those taken off the list included, in no order. */
export async function readPeople(db: Queryable, listId: number, ids: readonly number[]): Promise<StoredPerson[]> {
  return ids.length === 0 ? [] : storedPeople(db, listId, ids);
}

/** The same, locked until the transaction ends. */
export async function lockPeople(tx: Queryable, listId: number, ids: readonly number[]): Promise<StoredPerson[]> {
  return ids.length === 0 ? [] : storedPeople(tx, listId, ids).for('update', { of: listRows });
}

const storedPeople = (db: Queryable, listId: number, ids: readonly number[]) =>
  db
    .select({ ...person, notes: listRows.notes, removedAt: listRows.removedAt })
    .from(listRows)
    .innerJoin(contacts, eq(contacts.id, listRows.contactId))
    .where(and(eq(listRows.listId, listId), inArray(listRows.id, [...ids])));

/** The rows of these people on a list. @returns row ids by contact id */
export async function rowsOfContacts(
  tx: Queryable,
  listId: number,
  contactIds: readonly number[],
): Promise<Map<number, number>> {
  const found = new Map<number, number>();
  for (const batch of batches(contactIds)) {
    const rows = await tx
      .select({ id: listRows.id, contactId: listRows.contactId })
      .from(listRows)
      .where(and(eq(listRows.listId, listId), isNull(listRows.removedAt), inArray(listRows.contactId, batch)));
    for (const r of rows) found.set(r.contactId, r.id);
  }
  return found;
}

/** How many people of a list each domain has. */
export async function domainCounts(db: Queryable, listId: number): Promise<Map<string, number>> {
  const rows = await db
    .select({ domain: contacts.domain, n: count() })
    .from(listRows)
    .innerJoin(contacts, eq(contacts.id, listRows.contactId))
    .where(and(eq(listRows.listId, listId), isNull(listRows.removedAt)))
    .groupBy(contacts.domain);
  return new Map(rows.map((r) => [r.domain, r.n]));
}

export type AsideOfList = typeof listAside.$inferSelect;

export async function readAside(db: Queryable, listId: number): Promise<AsideOfList[]> {
  return db.select().from(listAside).where(eq(listAside.listId, listId)).orderBy(asc(listAside.line));
}

/** Takes a row set aside away, to be mended. @returns null when it is gone already */
export async function takeAside(tx: Queryable, listId: number, id: number): Promise<AsideOfList | null> {
  const [row] = await tx
    .delete(listAside)
    .where(and(eq(listAside.listId, listId), eq(listAside.id, id)))
    .returning();
  return row ?? null;
}

/** Puts one person at the end of a list, as if taken off, until a change brings them in. @returns the row's id */
export async function addHiddenRow(
  tx: Queryable,
  row: Omit<typeof listRows.$inferInsert, 'id' | 'position'>,
): Promise<number> {
  const position = await roughSize(tx, row.listId);
  const [added] = await tx
    .insert(listRows)
    .values({ ...row, position })
    .returning({ id: listRows.id });
  return (added as { id: number }).id;
}
