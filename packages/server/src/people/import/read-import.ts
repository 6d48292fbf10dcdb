import {
  addressCheck,
  cleanTable,
  dateQuestion,
  guessColumns,
  isMendable,
  kindOfCells,
  parseAddress,
  readHead,
  samenessKey,
  sortRows,
  USUAL_CLEANINGS,
  type Address,
  type AddressNote,
  type CleaningFound,
  type ColumnGuess,
  type ColumnKind,
  type ColumnRole,
  type DateQuestion,
  type DateReading,
  type KeptColumn,
  type KnownPeople,
  type RowAside,
  type PeopleFile,
  type SortedRows,
  type Table,
} from '@baton/core';
import type { Queryable } from '../../store/database';
import { knownKeys, suppressionReasons } from '../../store/people/person/people-rows';
import type { ImportRow } from '../../store/people/import/import-rows';
import { boundedReader } from '../../bounded/bounded-reader';
import { isThrowAway } from './throw-away';

/** An import: the file with its corrections, cleaned, and sorted into rows to import and rows set aside. */
export interface ReadImport {
  /** Of a large file, its head. */
  file: PeopleFile;
  /** The file's rows with the corrections made by hand. */
  mended: Table;
  /** The same cleaned; may have columns more than the file. */
  cleaned: Table;
  guesses: ColumnGuess[];
  /** One per column of `cleaned`. */
  roles: ColumnRole[];
  found: CleaningFound[];
  /** A date that could be read two ways; whether or not it has been answered. */
  question: DateQuestion | null;
  sorted: SortedRows;
  /** What is worth a look about an address, by line. */
  notes: Map<number, readonly AddressNote[]>;
}

/** Whether a file is read piece by piece, and only its head is shown before it is taken. */
export const isLarge = (row: Pick<ImportRow, 'size' | 'bytes'>): boolean => row.size > row.bytes.length;

/** Rows of a large file that tell what its columns hold. */
const SAMPLE = 1000;

/** @throws DomainError when the file cannot be read as people */
export async function readImportRow(db: Queryable, row: ImportRow): Promise<ReadImport> {
  const read = await readImportColumns(row);
  const { cleaned, roles } = read;
  const at = roles.indexOf('address');
  const sorted =
    at < 0 ? withoutAddresses(cleaned) : sortRows(cleaned, roles, await knownPeople(db, cleaned, at), datesOf(row));
  return { ...read, sorted, notes: at < 0 ? new Map() : notesOf(cleaned, at) };
}

/** As much of a file as is needed to take it: of a large one, its first rows are sorted, to tell what its columns hold. */
export async function readToTake(db: Queryable, row: ImportRow): Promise<ReadImport> {
  if (!isLarge(row)) return readImportRow(db, row);
  const read = await readImportColumns(row);
  const sample = { ...read.cleaned, rows: read.cleaned.rows.slice(0, SAMPLE) };
  const nobody = { isKnown: () => false, isSuppressed: () => false };
  const sorted = read.roles.includes('address')
    ? sortRows(sample, read.roles, nobody, datesOf(row))
    : withoutAddresses(sample);
  return sorted.taken.length > 0 ? { ...read, sorted, notes: new Map() } : readImportRow(db, row);
}

/** What a file's columns are, and its rows or those of its head. @throws DomainError when it cannot be read as people */
export async function readImportColumns(row: ImportRow): Promise<Omit<ReadImport, 'sorted' | 'notes'>> {
  const choices = { ...row.reading, sheet: row.sheet };
  const file = isLarge(row) ? readHead(row.bytes, choices) : await boundedReader.read('people', row.bytes, choices);
  const mended = withEdits(file.table, row.edits ?? {});
  const guesses = guessColumns(mended);
  const chosen = row.roles ?? guesses.map((g) => g.role);
  const { table: cleaned, roles, found } = cleanTable(mended, chosen, row.cleanings ?? USUAL_CLEANINGS, datesOf(row));
  return { file, mended, cleaned, guesses, roles, found, question: dateQuestion(mended, chosen) };
}

/** How dates are read that could be read two ways. */
export const datesOf = ({ reading }: Pick<ImportRow, 'reading'>): DateReading => ({
  monthFirst: reading?.monthFirst ?? null,
});

/** Rows that tell a column's kind. */
const KIND_SAMPLE = 400;

/** How the values of a column are read: as was said, or as they show. Only fields are anything but text. */
export function kindsOf(
  { kinds }: Pick<ImportRow, 'kinds'>,
  { taken }: SortedRows,
): (column: KeptColumn) => ColumnKind {
  const sample = taken.slice(0, KIND_SAMPLE);
  return ({ name, key, role, position }) => {
    if (role !== 'field') return 'text';
    const cells = sample.map((p) => p.fields[key] ?? '');
    return kinds?.[position] ?? kindOfCells(name, cells);
  };
}

function withEdits(table: Table, edits: NonNullable<ImportRow['edits']>): Table {
  if (Object.keys(edits).length === 0) return table;
  const { header, aside } = table;
  const rows = table.rows.map((row) => withEdit(row, edits));
  const mended = aside.filter((row) => isMended(row, header, edits));
  if (mended.length === 0) return { ...table, rows };
  rows.push(...mended.map((row) => withEdit({ line: row.line, cells: row.cells }, edits)));
  return {
    ...table,
    rows: rows.sort((a, b) => a.line - b.line),
    aside: aside.filter((row) => !mended.includes(row)),
  };
}

/** Whether a row that could not be read can be used since it was corrected by hand. */
export const isMended = (row: RowAside, header: readonly string[], edits: NonNullable<ImportRow['edits']>): boolean =>
  edits[row.line] !== undefined && isMendable(row, header);

/** A row with its corrections. */
export function withEdit(row: Table['rows'][number], edits: NonNullable<ImportRow['edits']>): Table['rows'][number] {
  const own = edits[row.line];
  return own ? { line: row.line, cells: row.cells.map((c, i) => own[i] ?? c) } : row;
}

function withoutAddresses(table: Table): SortedRows {
  const invalid = table.rows.length + table.aside.length;
  return {
    columns: [],
    taken: [],
    aside: table.aside,
    counts: { new: 0, known: 0, doubled: 0, invalid, suppressed: 0 },
  };
}

async function knownPeople(db: Queryable, table: Table, at: number): Promise<KnownPeople> {
  const keys = table.rows.flatMap((r) => {
    const parsed = parseAddress(r.cells[at] ?? '');
    return parsed.ok ? [parsed.value.key] : [];
  });
  const known = await knownKeys(db, keys);
  const suppressed = await suppressionReasons(db);
  return {
    isKnown: (key) => known.has(key),
    isSuppressed: (key, domain) => suppressed.has(key) || suppressed.has(domain),
  };
}

function notesOf(table: Table, at: number): Map<number, readonly AddressNote[]> {
  const domains = new Map<string, number>();
  const same = new Map<string, number>();
  const seen = new Set<string>();
  const read: { line: number; address: Address }[] = [];
  const add = (counts: Map<string, number>, key: string) => counts.set(key, (counts.get(key) ?? 0) + 1);
  for (const row of table.rows) {
    const parsed = parseAddress(row.cells[at] ?? '');
    if (!parsed.ok) continue;
    read.push({ line: row.line, address: parsed.value });
    if (seen.has(parsed.value.key)) continue;
    seen.add(parsed.value.key);
    add(domains, parsed.value.domain);
    add(same, samenessKey(parsed.value.key));
  }
  const check = addressCheck({ domains, same, isThrowAway });
  const notes = new Map<number, readonly AddressNote[]>();
  for (const { line, address } of read) {
    const own = check(address);
    if (own.length > 0) notes.set(line, own);
  }
  return notes;
}
