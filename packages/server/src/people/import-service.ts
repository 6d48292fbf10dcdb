import {
  DomainError,
  guessColumns,
  parseAddress,
  readPeopleFile,
  sortRows,
  type ColumnRole,
  type KnownPeople,
  type PeopleFile,
  type SortedRows,
  type Table,
} from '@baton/core';
import type { ImportView } from '@baton/contract';
import { announce } from '../store/changes';
import type { Database, Queryable } from '../store/database';
import {
  addImport,
  addList,
  allSuppressionKeys,
  knownKeys,
  readImport,
  removeImport,
  setImportRoles,
  setImportSheet,
  type ImportRow,
} from '../store/people-rows';

/** Largest file taken in one piece. */
export const MAX_IMPORT_BYTES = 32 * 1024 * 1024;
const SAMPLE_ROWS = 200;
const ASIDE_SHOWN = 500;

interface Sorted {
  table: Table;
  roles: ColumnRole[];
  sorted: SortedRows;
  file: PeopleFile;
  columns: ImportView['columns'];
}

/** @throws DomainError when the file cannot be read as a sheet; nothing is kept then */
export async function beginImport(db: Database, name: string, bytes: Buffer, nowMs: number): Promise<ImportView> {
  // Reads before it keeps, so that a file that is no sheet leaves nothing behind.
  readPeopleFile(bytes);
  const id = await addImport(db, { name: name.slice(0, 200) || 'pasted rows', bytes, createdAt: nowMs });
  return viewImport(db, id);
}

export async function viewImport(db: Queryable, id: number): Promise<ImportView> {
  const row = await readImport(db, id);
  if (!row) throw new DomainError('not_found', 'This import is over: it was kept or dropped.');
  const s = await sortImport(db, row);
  const asideAt = new Map(s.sorted.aside.map((a) => [a.line, a.reason]));
  return {
    id,
    name: row.name,
    kind: s.file.kind,
    sheets: s.file.sheets,
    sheet: s.file.sheet,
    encoding: s.file.encoding,
    otherLines: s.file.otherLines,
    delimiter: s.file.delimiter,
    headerLine: s.table.headerLine,
    titleRows: s.table.titleRows,
    rows: s.table.rows.length + s.table.aside.length,
    columns: s.columns,
    sample: s.table.rows
      .slice(0, SAMPLE_ROWS)
      .map((r) => ({ line: r.line, cells: r.cells, note: asideAt.get(r.line) ?? '' })),
    aside: s.sorted.aside.slice(0, ASIDE_SHOWN),
    counts: s.sorted.counts,
    obstacle: obstacleOf(s),
  };
}

function obstacleOf({ roles, sorted, table }: Sorted): string {
  if (!roles.includes('address'))
    return `No column holds email addresses; the columns are ${table.header.slice(0, 8).join(', ')}. Say which one is the address.`;
  return sorted.taken.length === 0 ? 'No row has an address that can be used.' : '';
}

async function sortImport(db: Queryable, row: ImportRow): Promise<Sorted> {
  const file = readPeopleFile(row.bytes, row.sheet);
  const { table } = file;
  const guesses = guessColumns(table);
  const roles = row.roles ?? guesses.map((g) => g.role);
  const sorted = roles.includes('address')
    ? sortRows(table, roles, await knownPeople(db, table, roles))
    : withoutAddresses(table);
  const columns = table.header.map((name, i) => {
    const guess = guesses[i] as (typeof guesses)[number];
    const chosen = roles[i] as ColumnRole;
    return chosen === guess.role ? { name, ...guess } : { name, role: chosen, sureness: 1, because: 'as you said' };
  });
  return { table, roles, sorted, file, columns };
}

function withoutAddresses(table: Table): SortedRows {
  return {
    columns: [],
    taken: [],
    aside: table.aside,
    counts: { new: 0, known: 0, doubled: 0, invalid: table.rows.length + table.aside.length, suppressed: 0 },
  };
}

async function knownPeople(db: Queryable, table: Table, roles: ColumnRole[]): Promise<KnownPeople> {
  const at = roles.indexOf('address');
  const keys = table.rows.flatMap((r) => {
    const parsed = parseAddress(r.cells[at] ?? '');
    return parsed.ok ? [parsed.value.key] : [];
  });
  const known = await knownKeys(db, keys);
  const suppressed = await allSuppressionKeys(db);
  return {
    isKnown: (key) => known.has(key),
    isSuppressed: (key, domain) => suppressed.has(key) || suppressed.has(domain),
  };
}

/** @throws DomainError `invalid` unless there is one role per column and at most one of each but `field` and `ignore` */
export async function chooseRoles(db: Database, id: number, roles: ColumnRole[]): Promise<ImportView> {
  const view = await viewImport(db, id);
  if (roles.length !== view.columns.length)
    throw new DomainError('invalid', `Expected ${view.columns.length} columns, got ${roles.length}.`);
  const twice = roles.find((r, i) => r !== 'field' && r !== 'ignore' && roles.indexOf(r) !== i);
  if (twice) throw new DomainError('invalid', `Two columns are said to be ${twice.replace('_', ' ')}; expected one.`);
  await setImportRoles(db, id, roles);
  return viewImport(db, id);
}

/** Another sheet of the workbook; what was said of the columns of the first does not hold for it. */
export async function chooseSheet(db: Database, id: number, sheet: number): Promise<ImportView> {
  const row = await readImport(db, id);
  if (!row) throw new DomainError('not_found', 'This import is over: it was kept or dropped.');
  readPeopleFile(row.bytes, sheet);
  await setImportSheet(db, id, sheet);
  return viewImport(db, id);
}

/** Makes a list of an import, whole or not at all. @returns the list's id */
export async function keepImport(db: Database, id: number, listName: string, nowMs: number): Promise<number> {
  return db.transaction(async (tx) => {
    const row = await readImport(tx, id);
    if (!row || !(await removeImport(tx, id)))
      throw new DomainError('not_found', 'This import is over: it was kept or dropped.');
    const s = await sortImport(tx, row);
    const obstacle = obstacleOf(s);
    if (obstacle !== '') throw new DomainError('no_address_column', obstacle);
    const name = listName.trim() || row.name.replace(/\.[^.]+$/, '');
    const listId = await addList(
      tx,
      { name, source: row.name, createdAt: nowMs },
      s.sorted.columns,
      s.sorted.taken,
      s.sorted.aside,
    );
    await announce(tx, 'people');
    return listId;
  });
}
