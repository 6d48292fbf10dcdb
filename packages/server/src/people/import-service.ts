import {
  DomainError,
  kindOfCells,
  readPeopleFile,
  type Cleaning,
  type ColumnRole,
  type KeptColumn,
  type ListColumn,
  type TakenRow,
} from '@baton/core';
import type { ImportView } from '@baton/contract';
import { announce } from '../store/changes';
import type { Database, Queryable } from '../store/database';
import { addImport, lockImport, readImport, removeImport, updateImport, type ImportRow } from '../store/people-rows';
import { addAside, addList, addRows } from '../store/list-rows';
import { readImportRow, type ReadImport } from './read-import';

const SAMPLE_ROWS = 200;
const ASIDE_SHOWN = 500;

/** @throws DomainError when the file cannot be read as people; nothing is kept then */
export async function beginImport(db: Database, name: string, bytes: Buffer, nowMs: number): Promise<ImportView> {
  // Reads before it keeps, so that a file that is no list leaves nothing behind.
  readPeopleFile(bytes);
  const id = await addImport(db, { name: name.slice(0, 200) || 'pasted rows', bytes, createdAt: nowMs });
  return viewImport(db, id);
}

export async function viewImport(db: Queryable, id: number): Promise<ImportView> {
  const row = await readImport(db, id);
  if (!row) throw over();
  return viewOf(row, await readImportRow(db, row));
}

function viewOf(row: ImportRow, read: ReadImport): ImportView {
  const { file, cleaned, mended, sorted, notes } = read;
  const asideAt = new Map(sorted.aside.map((a) => [a.line, a.reason]));
  const all = [...notes.values()].flat();
  return {
    id: row.id,
    name: row.name,
    kind: file.kind,
    sheets: file.sheets,
    sheet: file.sheet,
    encoding: file.encoding,
    otherLines: file.otherLines,
    delimiter: file.delimiter,
    headerLine: cleaned.headerLine,
    titleRows: cleaned.titleRows,
    rows: cleaned.rows.length + cleaned.aside.length,
    columns: columnsOf(read),
    sample: cleaned.rows.slice(0, SAMPLE_ROWS).map((r, i) => ({
      line: r.line,
      cells: r.cells,
      before: r.cells.map((c, j) => (mended.rows[i]?.cells[j] === c ? null : (mended.rows[i]?.cells[j] ?? ''))),
      note: asideAt.get(r.line) ?? '',
      checks: notes.get(r.line) ?? [],
    })),
    aside: sorted.aside.slice(0, ASIDE_SHOWN),
    counts: sorted.counts,
    cleanings: read.found,
    checks: {
      misspelt: all.filter((n) => n.kind === 'misspelt').length,
      shared: all.filter((n) => n.kind === 'shared').length,
    },
    obstacle: obstacleOf(read),
  };
}

function columnsOf({ cleaned, guesses, roles }: ReadImport): ImportView['columns'] {
  return cleaned.header.map((name, i) => {
    const guess = guesses[i];
    const role = roles[i] as ColumnRole;
    if (!guess) return { name, role, sureness: 1, because: 'split off the full name', derived: true };
    return role === guess.role
      ? { name, ...guess, derived: false }
      : { name, role, sureness: 1, because: 'as you said', derived: false };
  });
}

function obstacleOf({ roles, sorted, cleaned }: ReadImport): string {
  if (!roles.includes('address'))
    return `No column holds email addresses; the columns are ${cleaned.header.slice(0, 8).join(', ')}. Say which one is the address.`;
  return sorted.taken.length === 0 ? 'No row has an address that can be used.' : '';
}

/** Changes what was said of an import and shows it anew. */
async function change(db: Database, id: number, make: (row: ImportRow) => Partial<ImportRow>): Promise<ImportView> {
  return db.transaction(async (tx) => {
    const row = await lockImport(tx, id);
    if (!row) throw over();
    const changed = { ...row, ...make(row) };
    const read = await readImportRow(tx, changed);
    const { roles, sheet, cleanings, edits } = changed;
    await updateImport(tx, id, { roles, sheet, cleanings, edits });
    return viewOf(changed, read);
  });
}

/** @throws DomainError `invalid` unless there is one role per column and at most one of each but `field` and `ignore` */
export async function chooseRoles(db: Database, id: number, roles: ColumnRole[]): Promise<ImportView> {
  return change(db, id, (row) => {
    const { header } = readPeopleFile(row.bytes, row.sheet).table;
    if (roles.length !== header.length)
      throw new DomainError('invalid', `Expected ${header.length} columns, got ${roles.length}.`);
    const twice = roles.find((r, i) => r !== 'field' && r !== 'ignore' && roles.indexOf(r) !== i);
    if (twice) throw new DomainError('invalid', `Two columns are said to be ${twice.replace('_', ' ')}; expected one.`);
    return { roles };
  });
}

/** Another sheet of the workbook; what was said of the first does not hold for it. */
export function chooseSheet(db: Database, id: number, sheet: number): Promise<ImportView> {
  return change(db, id, () => ({ sheet, roles: null, edits: null }));
}

export function chooseCleanings(db: Database, id: number, cleanings: Cleaning[]): Promise<ImportView> {
  return change(db, id, () => ({ cleanings }));
}

/** Mends one cell by hand. @throws DomainError `not_found` for a row or column that the file has not */
export function mendCell(
  db: Database,
  id: number,
  cell: { line: number; column: number; value: string },
): Promise<ImportView> {
  return change(db, id, (row) => {
    const { table } = readPeopleFile(row.bytes, row.sheet);
    const known = table.rows.some((r) => r.line === cell.line) && cell.column < table.header.length;
    if (!known)
      throw new DomainError('not_found', `There is no cell ${cell.column + 1} in line ${cell.line} of this file.`);
    return { edits: { ...row.edits, [cell.line]: { ...row.edits?.[cell.line], [cell.column]: cell.value } } };
  });
}

/** Takes every proposal for a misspelt domain. */
export async function mendDomains(db: Database, id: number): Promise<ImportView> {
  const before = await readImport(db, id);
  if (!before) throw over();
  const { notes, roles } = await readImportRow(db, before);
  const column = roles.indexOf('address');
  return change(db, id, (row) => {
    const edits = { ...row.edits };
    for (const [line, own] of notes) {
      const mend = own.find((n) => n.mend !== null)?.mend;
      if (mend != null) edits[line] = { ...edits[line], [column]: mend };
    }
    return { edits };
  });
}

/** Rows that tell a column's kind. */
const KIND_SAMPLE = 400;

/** The columns of a list to be, each with the kind that its values show. */
export function listColumns(columns: readonly KeptColumn[], people: readonly TakenRow[]): ListColumn[] {
  const sample = people.slice(0, KIND_SAMPLE);
  return columns.map(({ name, key, role }) => ({
    name,
    key,
    role,
    kind:
      role === 'field'
        ? kindOfCells(
            name,
            sample.map((p) => p.fields[key] ?? ''),
          )
        : 'text',
    hidden: false,
    formula: null,
  }));
}

/** Makes a list of an import, whole or not at all. @returns the list's id */
export async function keepImport(db: Database, id: number, listName: string, nowMs: number): Promise<number> {
  return db.transaction(async (tx) => {
    const row = await readImport(tx, id);
    if (!row || !(await removeImport(tx, id))) throw over();
    const read = await readImportRow(tx, row);
    const obstacle = obstacleOf(read);
    if (obstacle !== '') throw new DomainError('no_address_column', obstacle);
    const name = listName.trim() || row.name.replace(/\.[^.]+$/, '');
    const { columns, taken, aside } = read.sorted;
    const listId = await addList(tx, { name, source: row.name, createdAt: nowMs }, listColumns(columns, taken));
    const withNotes = taken.map((p) => ({ ...p, notes: (read.notes.get(p.line) ?? []).map((n) => n.kind) }));
    await addRows(tx, listId, withNotes, nowMs);
    await addAside(tx, listId, aside);
    await announce(tx, 'people');
    return listId;
  });
}

const over = () => new DomainError('not_found', 'This import is over: it was kept or dropped.');
