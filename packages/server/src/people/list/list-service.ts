import {
  ADDRESS_KEY,
  DomainError,
  NOTES_KEY,
  OUTCOME_COLUMNS,
  outcomeColumn,
  ROW_NOTES,
  WHOLE_LIST,
  type OutcomeKey,
  type RowNote,
} from '@baton/core';
import type { ListHead, PersonRow, RowsAsked, SetOperation } from '@baton/contract';
import { announce } from '../../store/changes';
import type { Logger } from 'pino';
import { forLog } from '../../log/for-log';
import type { Database, Queryable, Store } from '../../store/database';
import { domainsToAsk } from '../../store/people/list/domain-rows';
import { readFeed } from '../../store/people/import/feed-rows';
import { nextChange } from '../../store/people/list/list-change-rows';
import { addCombined } from '../../store/people/list/combine-rows';
import {
  addList,
  countRows,
  findRowIds,
  findRows,
  listLists,
  lockList,
  readColumns,
  readList,
  readListSummary,
  readRows,
  roughSize,
  updateList,
  type GridPerson,
} from '../../store/people/list/list-rows';
import { valuesOf } from '../../store/people/list/column-values';
import { hasOutcomes, readOutcomes } from '../../store/people/list/outcome-rows';
import { ensureSortIndex, SORT_INDEX_ROWS } from '../../store/people/list/sort-index';
import { noList } from './change-list';
import { KEPT_DAYS } from './kept-days';
import { viewSegments } from './segment-service';

export async function viewList(db: Queryable, id: number, nowMs: number): Promise<ListHead> {
  const list = await readListSummary(db, id);
  if (!list) throw noList();
  const columns = await readColumns(db, id);
  const [segments, removed, undo, redo, row, feed, own] = await Promise.all([
    viewSegments(db, nowMs, id),
    countRows(db, { listId: id, columns, removed: true }, WHOLE_LIST, nowMs),
    nextChange(db, id, 'undo'),
    nextChange(db, id, 'redo'),
    readList(db, id),
    readFeed(db, id),
    hasOutcomes(db, id),
  ]);
  return {
    list,
    columns,
    outcomes: own
      ? OUTCOME_COLUMNS.map(({ key }) => ({ key, hidden: row?.hiddenOutcomes.includes(key) ?? false }))
      : [],
    segments,
    feed,
    domainsToAsk: await domainsToAsk(db, id),
    removed,
    undo: undo?.label ?? null,
    redo: redo?.label ?? null,
    revision: row?.revision ?? 0,
  };
}

const isBuiltIn = (key: string): boolean =>
  key === ADDRESS_KEY || key === NOTES_KEY || outcomeColumn(key) !== undefined;

async function rowsOf(db: Queryable, id: number, asked: RowsAsked) {
  const list = await readList(db, id);
  if (!list || list.removedAt !== null) throw noList();
  const columns = await readColumns(db, id);
  const unknown = [...asked.query.filters, ...asked.query.sort].find(
    ({ key }) => !isBuiltIn(key) && !columns.some((c) => c.key === key),
  );
  if (unknown) throw new DomainError('invalid', 'A column of this filter or order is no longer in the list.');
  return { listId: id, columns, removed: asked.removed, size: await roughSize(db, id) };
}

/** One page of rows, as soon as they are found. An order asked of a large list gets an index, for the next time. */
export async function viewRows(
  store: Store,
  id: number,
  asked: RowsAsked,
  page: { offset: number; limit: number },
  nowMs: number,
  log: Logger,
): Promise<PersonRow[]> {
  const { db } = store;
  const rows = await rowsOf(db, id, asked);
  const [by] = asked.query.sort;
  const kind = rows.columns.find((c) => c.key === by?.key)?.kind;
  if (by && kind !== undefined && rows.size >= SORT_INDEX_ROWS)
    void ensureSortIndex(store, id, by, kind).catch((error: unknown) => log.warn(forLog(error), 'no index was made'));
  const found = await findRows(db, rows, asked.query, nowMs, page);
  const rowIds = found.map((r) => r.rowId);
  return viewRowsById(db, id, rowIds, nowMs);
}

/** The rows with these ids, in this order; those that are no longer there are skipped. */
export async function viewRowsById(
  db: Queryable,
  id: number,
  rowIds: readonly number[],
  nowMs: number,
): Promise<PersonRow[]> {
  const byId = new Map((await readRows(db, id, rowIds, nowMs)).map((r) => [r.rowId, r]));
  const outcomes = (await hasOutcomes(db, id)) ? await readOutcomes(db, rowIds) : new Map<number, never>();
  return rowIds.flatMap((rowId) => {
    const row = byId.get(rowId);
    return row ? [personRow(row, outcomes.get(rowId))] : [];
  });
}

export async function viewRowIds(db: Queryable, id: number, asked: RowsAsked, nowMs: number): Promise<number[]> {
  return findRowIds(db, await rowsOf(db, id, asked), asked.query, nowMs);
}

export async function viewValues(db: Queryable, id: number, asked: RowsAsked, key: string, nowMs: number) {
  return valuesOf(db, await rowsOf(db, id, asked), key, nowMs, asked.query, 300);
}

function personRow(row: GridPerson, outcomes: Readonly<Record<string, string>> = {}): PersonRow {
  const has = (note: RowNote): boolean =>
    note === 'suppressed' || note === 'bounced' || note === 'written' || note === 'no_server'
      ? row[note]
      : row.notes.includes(note);
  return {
    rowId: row.rowId,
    contactId: row.contactId,
    address: row.address,
    zone: row.zone,
    fields: { ...row.fields, ...outcomes },
    notes: ROW_NOTES.filter(has),
  };
}

/** Chooses which outcome columns are not shown. */
export async function hideOutcomes(db: Database, id: number, hidden: OutcomeKey[]): Promise<void> {
  await db.transaction(async (tx) => {
    const list = await lockList(tx, id);
    if (!list || list.removedAt !== null) throw noList();
    await updateList(tx, id, { hiddenOutcomes: hidden });
    await announce(tx, 'people');
  });
}

export async function renameList(db: Database, id: number, name: string): Promise<void> {
  await db.transaction(async (tx) => {
    const list = await lockList(tx, id);
    if (!list || list.removedAt !== null) throw noList();
    await updateList(tx, id, { name });
    await announce(tx, 'people', 'campaigns');
  });
}

/** Deletes a list; it can come back for {@link KEPT_DAYS} days. Campaigns that run go on. */
export async function removeList(db: Database, id: number, nowMs: number): Promise<void> {
  await db.transaction(async (tx) => {
    const list = await lockList(tx, id);
    if (!list || list.removedAt !== null) throw noList();
    await updateList(tx, id, { removedAt: nowMs });
    await announce(tx, 'people', 'campaigns');
  });
}

export async function restoreList(db: Database, id: number): Promise<void> {
  await db.transaction(async (tx) => {
    const list = await lockList(tx, id);
    if (!list) throw new DomainError('not_found', `This list was deleted more than ${KEPT_DAYS} days ago; it is gone.`);
    await updateList(tx, id, { removedAt: null });
    await announce(tx, 'people', 'campaigns');
  });
}

/**
 * Makes a list of the people of others: on any of them, on all, or on the first and none of the others. A person's
 * values are taken from the first list that has any; later ones fill what is blank.
 */
export async function combineLists(
  db: Database,
  name: string,
  how: SetOperation,
  listIds: readonly number[],
  nowMs: number,
): Promise<number> {
  return db.transaction(async (tx) => {
    const all = await listLists(tx);
    const chosen = listIds.map((id) => all.find((l) => l.id === id));
    if (chosen.some((l) => l === undefined)) throw noList();
    const columns = new Map<string, Awaited<ReturnType<typeof readColumns>>[number]>();
    for (const id of how === 'difference' ? listIds.slice(0, 1) : listIds) {
      for (const c of await readColumns(tx, id)) {
        const second = c.role !== 'field' && [...columns.values()].some((o) => o.role === c.role);
        if (!columns.has(c.key)) columns.set(c.key, { ...c, role: second ? 'field' : c.role });
      }
    }
    const words = { union: ' or ', intersection: ' and ', difference: ' without ' }[how];
    const source = chosen.map((l) => l?.name).join(words);
    const listId = await addList(tx, { name, source, createdAt: nowMs }, [...columns.values()]);
    await addCombined(tx, listId, how, listIds);
    await announce(tx, 'people');
    return listId;
  });
}
