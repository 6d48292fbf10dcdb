import type { ListColumn } from '@baton/core';
import { and, asc, desc, eq, inArray, sql, type SQL } from 'drizzle-orm';
import { batches, type Queryable } from '../../database';
import { listChangeRows, listChanges, listRows, lists, type StoredPatch } from '../../schema/schema';
import { isOpenRecipient } from '../../campaigns/state-conditions';

export type ListChange = typeof listChanges.$inferSelect;

export interface ChangedRow {
  rowId: number;
  before: StoredPatch;
  after: StoredPatch;
}

/** Notes that something is about to be changed; what had been undone can no longer be done again. */
export async function beginChange(tx: Queryable, listId: number, at: number): Promise<number> {
  await tx.delete(listChanges).where(and(eq(listChanges.listId, listId), eq(listChanges.undone, true)));
  const [row] = await tx.insert(listChanges).values({ listId, at, label: '' }).returning({ id: listChanges.id });
  return (row as { id: number }).id;
}

export async function describeChange(
  tx: Queryable,
  id: number,
  what: {
    label: string;
    columns: { before: ListColumn[]; after: ListColumn[] } | null;
    renamed: ListChange['renamed'];
  },
): Promise<void> {
  await tx
    .update(listChanges)
    .set({
      label: what.label,
      columnsBefore: what.columns?.before ?? null,
      columnsAfter: what.columns?.after ?? null,
      renamed: what.renamed,
    })
    .where(eq(listChanges.id, id));
}

export async function dropChange(tx: Queryable, id: number): Promise<void> {
  await tx.delete(listChanges).where(eq(listChanges.id, id));
}

export async function addChangedRows(tx: Queryable, changeId: number, rows: readonly ChangedRow[]): Promise<void> {
  // What a row was before stays what it was before the first of its changes.
  const fields = (first: SQL, second: SQL) =>
    sql`${first} || ${second} || jsonb_build_object('fields', coalesce(${first}->'fields', '{}') || coalesce(${second}->'fields', '{}'))`;
  const before = fields(sql`excluded.before`, sql`${listChangeRows.before}`);
  const after = fields(sql`${listChangeRows.after}`, sql`excluded.after`);
  for (const batch of batches(rows))
    await tx
      .insert(listChangeRows)
      .values(batch.map((r) => ({ changeId, ...r })))
      .onConflictDoUpdate({ target: [listChangeRows.changeId, listChangeRows.rowId], set: { before, after } });
}

/**
 * Puts the rows of a change as they were before it, or after it.
 *
 * @returns how many rows
 */
export async function putChangedRows(tx: Queryable, changeId: number, as: 'before' | 'after'): Promise<number> {
  const patch = as === 'before' ? listChangeRows.before : listChangeRows.after;
  const { rowCount } = await tx.execute(sql`
    update ${listRows} r set
      fields = case when p ? 'fields' then jsonb_strip_nulls(r.fields || (p->'fields')) else r.fields end,
      contact_id = coalesce((p->>'contactId')::int, r.contact_id),
      zone = case when p ? 'zone' then p->>'zone' else r.zone end,
      send_on = case when p ? 'sendOn' then p->>'sendOn' else r.send_on end,
      notes = coalesce(p->'notes', r.notes),
      removed_at = case when p ? 'removedAt' then (p->>'removedAt')::bigint else r.removed_at end
    from (select row_id, ${patch} as p from ${listChangeRows} where ${eq(listChangeRows.changeId, changeId)}) c
    where r.id = c.row_id`);
  return rowCount ?? 0;
}

/** Moves the values of one field to another key, in all rows of a list, those taken off it included. */
export async function moveFieldValues(tx: Queryable, listId: number, from: string, to: string): Promise<void> {
  if (from === to) return;
  await tx.execute(sql`
    update ${listRows} set fields = (fields - ${from}::text) || jsonb_build_object(${to}::text, fields->${from}::text)
    where list_id = ${listId} and fields ? ${from}::text`);
}

/** The newest change in effect, or the oldest that was undone. */
export async function nextChange(tx: Queryable, listId: number, way: 'undo' | 'redo'): Promise<ListChange | null> {
  const [row] = await tx
    .select()
    .from(listChanges)
    .where(and(eq(listChanges.listId, listId), eq(listChanges.undone, way === 'redo')))
    .orderBy(way === 'undo' ? desc(listChanges.id) : asc(listChanges.id))
    .limit(1);
  return row ?? null;
}

export async function markChange(tx: Queryable, id: number, undone: boolean): Promise<void> {
  await tx.update(listChanges).set({ undone }).where(eq(listChanges.id, id));
}

/** @returns the list's new revision */
export async function bumpRevision(tx: Queryable, listId: number): Promise<number> {
  const [row] = await tx
    .update(lists)
    .set({ revision: sql`${lists.revision} + 1` })
    .where(eq(lists.id, listId))
    .returning({ revision: lists.revision });
  return row?.revision ?? 0;
}

/** Which of these rows' people a campaign may still write to. */
export async function rowsStillWrittenTo(tx: Queryable, rowIds: readonly number[]): Promise<number> {
  if (rowIds.length === 0) return 0;
  let n = 0;
  for (const batch of batches(rowIds)) {
    const { rows } = await tx.execute<{ n: number }>(sql`
      select count(distinct e.list_row_id)::int as n from enrolments e join campaigns c on c.id = e.campaign_id
      where ${inArray(sql`e.list_row_id`, batch)} and ${isOpenRecipient(sql`e.state`)} and c.state in ('running', 'held')`);
    n += rows[0]?.n ?? 0;
  }
  return n;
}
