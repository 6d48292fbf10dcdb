import {
  cellWriter,
  columnWriter,
  DomainError,
  fieldKey,
  findFault,
  freeName,
  splitCells,
  type ColumnKind,
  type ListColumn,
  type SplitBy,
  type Verdict,
} from '@baton/core';
import type { CellsChanged, ColumnsArranged, NewColumn, RefusedCell } from '@baton/contract';
import { announce } from '../../store/changes';
import type { Database } from '../../store/database';
import { readPeople } from '../../store/people/list/list-rows';
import { changeList, renamedColumns, type ListChanged, type ListInChange } from './change-list';
import { allRowIds, patchRows } from './edit-rows';

/** The order of the columns, and which are hidden. */
export function arrangeColumns(
  db: Database,
  listId: number,
  arranged: ColumnsArranged,
  nowMs: number,
): Promise<ListChanged> {
  return changeList(db, listId, nowMs, async (list) => {
    const known = new Map(list.columns.map((c) => [c.key, c]));
    const columns = arranged.flatMap(({ key, hidden }) => {
      const column = known.get(key);
      known.delete(key);
      return column ? [{ ...column, hidden }] : [];
    });
    // A column that came meanwhile stays, at the end.
    const after = [...columns, ...known.values()];
    if (JSON.stringify(after) !== JSON.stringify(list.columns)) list.setColumns(after);
    return 'the order of the columns';
  });
}

/** @throws DomainError `invalid` for a name that is not a field's, or another column's */
export function renameColumn(
  db: Database,
  listId: number,
  key: string,
  name: string,
  nowMs: number,
): Promise<ListChanged> {
  return changeList(db, listId, nowMs, async (list) => {
    const column = requireColumn(list.columns, key);
    const to = { name: name.trim(), key: fieldKey(name) };
    requireFieldName(name);
    if (to.key !== key && list.columns.some((c) => c.key === to.key))
      throw new DomainError('invalid', `There is a column “${to.name}” already.`);
    const renamed = { from: { name: column.name, key }, to };
    list.rename(renamed);
    list.setColumns(renamedColumns(list.columns, renamed));
    return `${column.name} renamed ${to.name}`;
  });
}

/** Values that the new kind reads are written as it keeps them; the others stay as they are. */
export function setColumnKind(
  db: Database,
  listId: number,
  key: string,
  kind: ColumnKind,
  nowMs: number,
): Promise<ListChanged> {
  return changeList(db, listId, nowMs, async (list) => {
    const column = requireColumn(list.columns, key);
    list.setColumns(list.columns.map((c) => (c.key === key ? { ...c, kind } : c)));
    if (column.formula === null && column.role !== 'address') {
      const rows = await allRowIds(list.tx, listId);
      const write =
        kind === 'date' ? columnWriter({ ...column, kind }, await sampleOf(list, key, rows)) : cellWriter(kind, []);
      await patchRows(list, rows, (p) => (p.fields[key] === undefined ? {} : { [key]: write(p.fields[key]) }), []);
    }
    return `${column.name} changed to ${kind}`;
  });
}

/** Enough values to tell whether the day or the month comes first. */
async function sampleOf(list: ListInChange, key: string, rows: readonly number[]): Promise<string[]> {
  return (await readPeople(list.tx, list.listId, rows.slice(0, 5000))).map((p) => p.fields[key] ?? '');
}

/** A column beside the others, blank or computed. @throws DomainError `template_invalid` for a formula that does not parse */
export async function addColumn(db: Database, listId: number, added: NewColumn, nowMs: number): Promise<CellsChanged> {
  const refused: RefusedCell[] = [];
  requireFormula(added.formula);
  const done = await changeList(db, listId, nowMs, async (list) => {
    const column = newColumn(added.name, list.columns, added.kind, added.formula);
    putColumns(list, [column], added.after);
    const rows = await allRowIds(list.tx, listId);
    // What an earlier column of that name left behind goes; a formula is computed.
    const withNew: ListInChange = { ...list, columns: [...list.columns, column] };
    await patchRows(withNew, rows, (p) => leftBehind(p.fields, column), refused);
    return `column ${column.name}`;
  });
  return { ...done, refused };
}

function leftBehind(fields: Record<string, string>, column: ListColumn): Record<string, string> {
  return column.formula === null && fields[column.key] !== undefined ? { [column.key]: '' } : {};
}

/** What a verifier's words mean. */
export function setVerdicts(
  db: Database,
  listId: number,
  key: string,
  verdicts: Record<string, Verdict>,
  nowMs: number,
): Promise<ListChanged> {
  return changeList(db, listId, nowMs, async (list) => {
    const column = requireColumn(list.columns, key);
    if (column.role !== 'verification') throw new DomainError('invalid', `${column.name} is not a verifier’s result.`);
    const said = Object.fromEntries(Object.entries(verdicts).map(([word, v]) => [word.trim().toLowerCase(), v]));
    list.setColumns(list.columns.map((c) => (c.key === key ? { ...c, verdicts: said } : c)));
    await announce(list.tx, 'campaigns');
    return `what ${column.name} means`;
  });
}

/** Another formula for a computed column, computed for every row. */
export function setFormula(
  db: Database,
  listId: number,
  key: string,
  formula: string,
  nowMs: number,
): Promise<ListChanged> {
  requireFormula(formula);
  return changeList(db, listId, nowMs, async (list) => {
    const column = requireColumn(list.columns, key);
    if (column.formula === null) throw new DomainError('invalid', `${column.name} is not computed.`);
    const columns = list.columns.map((c) => (c.key === key ? { ...c, formula } : c));
    list.setColumns(columns);
    await patchRows({ ...list, columns }, await allRowIds(list.tx, listId), () => ({}), []);
    return `the formula of ${column.name}`;
  });
}

/** Makes columns of the parts of one; the one stays. */
export function splitColumn(
  db: Database,
  listId: number,
  key: string,
  by: SplitBy,
  nowMs: number,
): Promise<ListChanged> {
  return changeList(db, listId, nowMs, async (list) => {
    const column = requireColumn(list.columns, key);
    const rows = await allRowIds(list.tx, listId);
    const cells: string[] = [];
    const ids: number[] = [];
    for (let i = 0; i < rows.length; i += 5000) {
      for (const p of await readPeople(list.tx, listId, rows.slice(i, i + 5000))) {
        ids.push(p.rowId);
        cells.push(p.fields[key] ?? '');
      }
    }
    const parts = splitCells(cells, by);
    const width = parts[0]?.length ?? 0;
    if (width < 2 || parts.every((p) => p.slice(1).every((c) => c === '')))
      throw new DomainError('invalid', `No value of ${column.name} has a second part; nothing was split.`);
    const columns: ListColumn[] = [];
    for (let i = 0; i < width; i++) {
      const name = by.kind === 'name' ? (['given name', 'family name'][i] as string) : `${column.name} ${i + 1}`;
      columns.push(newColumn(name, [...list.columns, ...columns], 'text', null));
    }
    putColumns(list, columns, key);
    const at = new Map(ids.map((id, i) => [id, parts[i] as string[]]));
    await patchRows(
      { ...list, columns: [...list.columns, ...columns] },
      rows,
      (p) => Object.fromEntries(columns.map((c, i) => [c.key, at.get(p.rowId)?.[i] ?? ''])),
      [],
    );
    return `${column.name} split in ${width}`;
  });
}

/** Takes a column out of a list, and its values out of the rows; both come back with an undo. */
export function removeColumn(db: Database, listId: number, key: string, nowMs: number): Promise<ListChanged> {
  return changeList(db, listId, nowMs, async (list) => {
    const column = requireColumn(list.columns, key);
    if (column.role === 'address')
      throw new DomainError('invalid', 'A list needs its addresses; hide the column instead.');
    list.setColumns(list.columns.filter((c) => c.key !== key));
    const rows = await allRowIds(list.tx, listId);
    await patchRows(
      { ...list, columns: list.columns.map((c) => (c.key === key ? { ...c, formula: null } : c)) },
      rows,
      (p) => (p.fields[key] === undefined ? {} : { [key]: '' }),
      [],
    );
    return `column ${column.name} deleted`;
  });
}

function newColumn(name: string, columns: readonly ListColumn[], kind: ColumnKind, formula: string | null): ListColumn {
  const free = freeName(name, columns);
  requireFieldName(free);
  return { name: free, key: fieldKey(free), role: 'field', kind, hidden: false, formula, verdicts: null };
}

function requireFieldName(name: string): void {
  if (!/^\p{L}/u.test(fieldKey(name)))
    throw new DomainError(
      'invalid',
      `A column's name begins with a letter, so that messages can use it; “${name}” does not.`,
    );
}

function putColumns(list: ListInChange, added: ListColumn[], after: string | null): void {
  const at = list.columns.findIndex((c) => c.key === after);
  const columns = [...list.columns];
  columns.splice(at < 0 ? columns.length : at + 1, 0, ...added);
  list.setColumns(columns);
}

function requireFormula(formula: string | null): void {
  const fault = formula === null ? null : findFault(formula);
  if (fault) throw new DomainError('template_invalid', `Column ${fault.column} of the formula: ${fault.message}.`);
}

function requireColumn(columns: readonly ListColumn[], key: string): ListColumn {
  const column = columns.find((c) => c.key === key);
  if (!column) throw new DomainError('not_found', 'There is no such column any more.');
  return column;
}
