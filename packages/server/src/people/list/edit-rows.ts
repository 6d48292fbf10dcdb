import {
  addressCheck,
  ADDRESS_KEY,
  columnWriter,
  DomainError,
  rowPatcher,
  tagsOf,
  type ListColumn,
  type RowPatch,
  WHOLE_LIST,
} from '@baton/core';
import type { CellEdit, CellsChanged, FillWith, RefusedCell, RowChoice } from '@baton/contract';
import type { Database, Queryable } from '../../store/database';
import { rowsStillWrittenTo, type ChangedRow } from '../../store/people/list/list-change-rows';
import {
  addContacts,
  domainCounts,
  findRowIds,
  lockPeople,
  rowsOfContacts,
  type StoredPerson,
} from '../../store/people/list/list-rows';
import type { StoredPatch } from '../../store/schema/schema';
import { changeList, type ListInChange } from './change-list';
import { isThrowAway } from '../import/throw-away';

/** Rows worked on at once. */
const CHUNK = 5000;

/** Writes cells as typed; those that cannot be are told, the others are written. */
export async function editCells(
  db: Database,
  listId: number,
  cells: readonly CellEdit[],
  nowMs: number,
): Promise<CellsChanged> {
  const refused: RefusedCell[] = [];
  const done = await changeList(db, listId, nowMs, async (list) => {
    const byRow = new Map<number, Record<string, string>>();
    for (const { rowId, key, value } of written(list.columns, cells))
      byRow.set(rowId, { ...byRow.get(rowId), [key]: value });
    const n = await patchRows(list, [...byRow.keys()], (p) => byRow.get(p.rowId) ?? {}, refused);
    const keys = [...new Set(cells.map((c) => c.key))];
    const where = keys.length === 1 ? ` of ${nameOf(list.columns, keys[0] as string)}` : '';
    return `${count(n, 'change')}${where}`;
  });
  return { ...done, refused };
}

/** Each value as the kind of its column keeps it. */
function written(columns: readonly ListColumn[], cells: readonly CellEdit[]): CellEdit[] {
  const writers = new Map(
    columns.map((c) => [
      c.key,
      columnWriter(
        c,
        cells.filter((e) => c.kind === 'date' && e.key === c.key).map((e) => e.value),
      ),
    ]),
  );
  return cells.map((c) => ({ ...c, value: writers.get(c.key)?.(c.value) ?? c.value.trim() }));
}

/** Writes one value, or adds or removes a tag, in all chosen rows. */
export async function fillColumn(
  db: Database,
  listId: number,
  choice: RowChoice,
  key: string,
  fill: FillWith,
  nowMs: number,
): Promise<CellsChanged> {
  const refused: RefusedCell[] = [];
  const done = await changeList(db, listId, nowMs, async (list) => {
    const column = list.columns.find((c) => c.key === key);
    if (!column || column.role === 'address')
      throw new DomainError('invalid', 'This column cannot be filled with one value.');
    const value = fill.kind === 'set' ? columnWriter(column, [fill.value])(fill.value) : '';
    const rows = await resolveChoice(list, choice);
    const make = (p: StoredPerson) => ({ [key]: fill.kind === 'set' ? value : withTag(p.fields[key] ?? '', fill) });
    const n = await patchRows(list, rows, make, refused);
    return fill.kind === 'set'
      ? `${column.name} of ${count(n, 'row')}`
      : `tag “${fill.value}” ${fill.kind === 'tag' ? 'on' : 'off'} ${count(n, 'row')}`;
  });
  return { ...done, refused: refused.slice(0, 100) };
}

function withTag(cell: string, fill: FillWith): string {
  const others = tagsOf(cell).filter((t) => t.toLowerCase() !== fill.value.trim().toLowerCase());
  return tagsOf(fill.kind === 'tag' ? [...others, fill.value].join(',') : others.join(',')).join(', ');
}

/** Takes people off a list; they can come back for 30 days. Campaigns that write to them go on. */
export async function removeRows(
  db: Database,
  listId: number,
  choice: RowChoice,
  nowMs: number,
): Promise<CellsChanged & { stillWrittenTo: number }> {
  let stillWrittenTo = 0;
  const done = await changeList(db, listId, nowMs, async (list) => {
    const rows = await resolveChoice(list, choice);
    stillWrittenTo = await rowsStillWrittenTo(list.tx, rows);
    await list.changeRows(rows.map((rowId) => ({ rowId, before: { removedAt: null }, after: { removedAt: nowMs } })));
    return `${count(rows.length, 'row')} removed`;
  });
  return { ...done, refused: [], stillWrittenTo };
}

/** Lets people who were taken off a list come back, but for those who have come onto it again meanwhile. */
export async function restoreRows(
  db: Database,
  listId: number,
  choice: RowChoice,
  nowMs: number,
): Promise<CellsChanged> {
  const refused: RefusedCell[] = [];
  const done = await changeList(db, listId, nowMs, async (list) => {
    const rows = await lockPeople(list.tx, listId, await resolveChoice(list, choice, true));
    const there = await rowsOfContacts(
      list.tx,
      listId,
      rows.map((r) => r.contactId),
    );
    const back: ChangedRow[] = [];
    for (const row of rows) {
      if (there.has(row.contactId)) refused.push(standsAlready(row.rowId, row.address));
      else {
        there.set(row.contactId, row.rowId);
        back.push({ rowId: row.rowId, before: { removedAt: row.removedAt }, after: { removedAt: null } });
      }
    }
    await list.changeRows(back);
    return `${count(back.length, 'row')} restored`;
  });
  return { ...done, refused };
}

/**
 * The rows meant by a choice.
 *
 * @throws DomainError `conflict` when a query finds another number of rows than was shown
 */
export async function resolveChoice(
  list: Pick<ListInChange, 'tx' | 'listId' | 'columns' | 'nowMs'>,
  choice: RowChoice,
  removed = false,
): Promise<number[]> {
  if ('rows' in choice) return choice.rows;
  const of = { listId: list.listId, columns: list.columns, removed };
  const rows = await findRowIds(list.tx, of, choice.query, list.nowMs);
  if (rows.length !== choice.count)
    throw new DomainError(
      'conflict',
      `The list has changed since you looked: this would now affect ${rows.length} rows, not ${choice.count}. Nothing was done; check the list again.`,
    );
  return rows;
}

/**
 * Changes rows by what would be typed into them; rows to which nothing happens are skipped.
 *
 * @param refused takes what could not be written
 * @returns how many rows change
 */
export async function patchRows(
  list: ListInChange,
  rowIds: readonly number[],
  typed: (person: StoredPerson) => Record<string, string>,
  refused: RefusedCell[],
): Promise<number> {
  const patch = rowPatcher(list.columns);
  let n = 0;
  for (let i = 0; i < rowIds.length; i += CHUNK) {
    const people = await lockPeople(list.tx, list.listId, rowIds.slice(i, i + CHUNK));
    const patches: { person: StoredPerson; patch: RowPatch }[] = [];
    for (const person of people) {
      const values = typed(person);
      const result = patch(person.fields, values);
      if (result.ok) patches.push({ person, patch: result.patch });
      else refused.push({ rowId: person.rowId, key: Object.keys(values)[0] ?? '', reason: result.reason });
    }
    const changed = (await withContacts(list, patches, refused)).filter(isChange);
    n += changed.length;
    await list.changeRows(changed);
  }
  return n;
}

const isChange = (row: ChangedRow): boolean => JSON.stringify(row.before) !== JSON.stringify(row.after);

/** Turns changed addresses into people Baton knows; nobody is on a list twice. */
async function withContacts(
  list: ListInChange,
  patches: { person: StoredPerson; patch: RowPatch }[],
  refused: RefusedCell[],
): Promise<ChangedRow[]> {
  const moved = patches.flatMap(({ patch }) => (patch.address ? [patch.address] : []));
  const ids = await addContacts(list.tx, moved, list.nowMs);
  const there = await rowsOfContacts(list.tx, list.listId, [...ids.values()]);
  const check =
    moved.length === 0 ? () => [] : addressCheck({ domains: await domainCounts(list.tx, list.listId), isThrowAway });
  return patches.flatMap(({ person, patch }) => {
    const contactId = patch.address && ids.get(patch.address.key);
    const other = contactId === undefined ? undefined : there.get(contactId);
    if (patch.address && other !== undefined && other !== person.rowId) {
      refused.push(standsAlready(person.rowId, patch.address.address));
      return [];
    }
    if (contactId !== undefined) there.set(contactId, person.rowId);
    return [changeOf(person, patch, contactId, patch.address ? check(patch.address).map((n) => n.kind) : null)];
  });
}

const standsAlready = (rowId: number, address: string): RefusedCell => ({
  rowId,
  key: ADDRESS_KEY,
  reason: `${address} is already on this list`,
});

function changeOf(
  person: StoredPerson,
  patch: RowPatch,
  contactId: number | undefined,
  notes: StoredPerson['notes'] | null,
): ChangedRow {
  const keys = Object.keys(patch.fields);
  const before: StoredPatch = { fields: Object.fromEntries(keys.map((k) => [k, person.fields[k] ?? null])) };
  const after: StoredPatch = { fields: patch.fields };
  const put = <K extends 'zone' | 'sendOn' | 'contactId' | 'notes'>(
    key: K,
    was: StoredPatch[K],
    is: StoredPatch[K],
  ) => {
    if (is === undefined) return;
    before[key] = was;
    after[key] = is;
  };
  put('zone', person.zone, patch.zone);
  put('sendOn', person.sendOn, patch.sendOn);
  put('contactId', person.contactId, contactId);
  if (notes !== null) put('notes', person.notes, notes);
  return { rowId: person.rowId, before, after };
}

const nameOf = (columns: readonly ListColumn[], key: string): string =>
  key === ADDRESS_KEY ? 'address' : (columns.find((c) => c.key === key)?.name ?? key);

export const count = (n: number, what: string): string => `${n.toLocaleString('en')} ${what}${n === 1 ? '' : 's'}`;

/** Computes again what formulas make of rows that were changed in another way. */
export async function recompute(list: ListInChange, rowIds: readonly number[]): Promise<void> {
  if (list.columns.some((c) => c.formula !== null)) await patchRows(list, rowIds, () => ({}), []);
}

/** All rows of a list, for what changes every one of them. */
export async function allRowIds(tx: Queryable, listId: number): Promise<number[]> {
  return findRowIds(tx, { listId, columns: [] }, WHOLE_LIST, 0);
}
