import type { KeptColumn, RowAside, TakenRow } from '@baton/core';
import { and, asc, count, eq, ilike, inArray, or, sql } from 'drizzle-orm';
import { like, type Queryable } from './database';
import { contacts, imports, listAside, listColumns, listRows, lists, suppressions } from './schema';

export type ListColumnRow = typeof listColumns.$inferSelect;
export type SuppressionRow = typeof suppressions.$inferSelect;
export type ImportRow = typeof imports.$inferSelect;

/** Rows in one statement: PostgreSQL takes 65,535 parameters, a row has up to six. */
const BATCH = 5000;

function batches<T>(rows: readonly T[]): T[][] {
  return Array.from({ length: Math.ceil(rows.length / BATCH) }, (_, i) => rows.slice(i * BATCH, (i + 1) * BATCH));
}

export async function knownKeys(db: Queryable, keys: readonly string[]): Promise<Set<string>> {
  const found = new Set<string>();
  for (const batch of batches(keys))
    for (const r of await db.select({ key: contacts.key }).from(contacts).where(inArray(contacts.key, batch)))
      found.add(r.key);
  return found;
}

export async function allSuppressionKeys(db: Queryable): Promise<Set<string>> {
  return new Set((await db.select({ key: suppressions.key }).from(suppressions)).map((r) => r.key));
}

export async function addSuppression(db: Queryable, row: Omit<typeof suppressions.$inferInsert, 'id'>): Promise<void> {
  await db.insert(suppressions).values(row).onConflictDoNothing();
}

/** @returns how many were not there before */
export async function addSuppressions(
  db: Queryable,
  rows: readonly Omit<typeof suppressions.$inferInsert, 'id'>[],
): Promise<number> {
  let added = 0;
  for (const batch of batches(rows))
    added += (await db.insert(suppressions).values(batch).onConflictDoNothing().returning({ id: suppressions.id }))
      .length;
  return added;
}

export async function removeSuppression(db: Queryable, id: number): Promise<boolean> {
  return (await db.delete(suppressions).where(eq(suppressions.id, id)).returning({ id: suppressions.id })).length > 0;
}

/** The newest entries; all of them without a limit. */
export async function listSuppressions(db: Queryable, limit?: number): Promise<SuppressionRow[]> {
  const all = db
    .select()
    .from(suppressions)
    .orderBy(sql`${suppressions.createdAt} desc, ${suppressions.id} desc`);
  return limit === undefined ? all : all.limit(limit);
}

/** Adds contacts that are new. @returns ids by key, of new and known ones */
async function addContacts(
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

export async function contactByKey(db: Queryable, key: string): Promise<typeof contacts.$inferSelect | null> {
  const [row] = await db.select().from(contacts).where(eq(contacts.key, key));
  return row ?? null;
}

export async function addList(
  db: Queryable,
  list: { name: string; source: string; createdAt: number },
  columns: readonly KeptColumn[],
  people: readonly TakenRow[],
  aside: readonly RowAside[],
): Promise<number> {
  const [row] = await db.insert(lists).values(list).returning({ id: lists.id });
  const listId = (row as { id: number }).id;
  if (columns.length > 0)
    await db
      .insert(listColumns)
      .values(columns.map((c, position) => ({ listId, position, name: c.name, key: c.key, role: c.role })));
  const ids = await addContacts(db, people, list.createdAt);
  const rows = people.map((p, position) => ({
    listId,
    contactId: ids.get(p.key) as number,
    position,
    zone: p.zone,
    sendOn: p.sendOn,
    fields: p.fields,
  }));
  for (const batch of batches(rows)) await db.insert(listRows).values(batch);
  for (const batch of batches(aside))
    await db.insert(listAside).values(batch.map((a) => ({ listId, line: a.line, cells: a.cells, reason: a.reason })));
  return listId;
}

export interface ListSummary {
  id: number;
  name: string;
  source: string;
  createdAt: number;
  people: number;
  aside: number;
}

export async function listLists(db: Queryable): Promise<ListSummary[]> {
  return db
    .select({
      id: lists.id,
      name: lists.name,
      source: lists.source,
      createdAt: lists.createdAt,
      people: sql<number>`(select count(*)::int from list_rows r where r.list_id = lists.id)`,
      aside: sql<number>`(select count(*)::int from list_aside a where a.list_id = lists.id)`,
    })
    .from(lists)
    .orderBy(asc(lists.createdAt), asc(lists.id));
}

export async function readColumns(db: Queryable, listId: number): Promise<ListColumnRow[]> {
  return db.select().from(listColumns).where(eq(listColumns.listId, listId)).orderBy(asc(listColumns.position));
}

export interface ListPerson {
  rowId: number;
  contactId: number;
  address: string;
  key: string;
  domain: string;
  zone: string | null;
  /** ISO date. */
  sendOn: string | null;
  fields: Record<string, string>;
}

/** One page of a list in its own order, with how many there are; `search` looks in address and all values. */
export async function pageOfList(
  db: Queryable,
  listId: number,
  page: { search: string; offset: number; limit: number },
): Promise<{ people: ListPerson[]; total: number }> {
  const where = and(
    eq(listRows.listId, listId),
    page.search === ''
      ? undefined
      : or(ilike(contacts.address, like(page.search)), sql`${listRows.fields}::text ilike ${like(page.search)}`),
  );
  const from = () =>
    db
      .select({
        rowId: listRows.id,
        contactId: contacts.id,
        address: contacts.address,
        key: contacts.key,
        domain: contacts.domain,
        zone: listRows.zone,
        sendOn: listRows.sendOn,
        fields: listRows.fields,
      })
      .from(listRows)
      .innerJoin(contacts, eq(contacts.id, listRows.contactId))
      .where(where);
  const people = await from().orderBy(asc(listRows.position)).limit(page.limit).offset(page.offset);
  const [total] = await db
    .select({ n: count() })
    .from(listRows)
    .innerJoin(contacts, eq(contacts.id, listRows.contactId))
    .where(where);
  return { people, total: total?.n ?? 0 };
}

export async function readAside(
  db: Queryable,
  listId: number,
): Promise<{ line: number; cells: string[]; reason: string }[]> {
  return db
    .select({ line: listAside.line, cells: listAside.cells, reason: listAside.reason })
    .from(listAside)
    .where(eq(listAside.listId, listId))
    .orderBy(asc(listAside.line));
}

export async function addImport(
  db: Queryable,
  row: { name: string; bytes: Buffer; createdAt: number },
): Promise<number> {
  const [added] = await db.insert(imports).values(row).returning({ id: imports.id });
  return (added as { id: number }).id;
}

export async function readImport(db: Queryable, id: number): Promise<ImportRow | null> {
  const [row] = await db.select().from(imports).where(eq(imports.id, id));
  return row ?? null;
}

export async function lockImport(tx: Queryable, id: number): Promise<ImportRow | null> {
  const [row] = await tx.select().from(imports).where(eq(imports.id, id)).for('update');
  return row ?? null;
}

export async function updateImport(
  tx: Queryable,
  id: number,
  change: Pick<ImportRow, 'roles' | 'sheet' | 'cleanings' | 'edits'>,
): Promise<void> {
  await tx.update(imports).set(change).where(eq(imports.id, id));
}

/** Whether this call was the one that removed it: of two at the same time, one. */
export async function removeImport(db: Queryable, id: number): Promise<boolean> {
  return (await db.delete(imports).where(eq(imports.id, id)).returning({ id: imports.id })).length > 0;
}
