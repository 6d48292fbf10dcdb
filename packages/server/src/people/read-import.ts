import {
  addressCheck,
  cleanTable,
  guessColumns,
  parseAddress,
  readPeopleFile,
  sortRows,
  USUAL_CLEANINGS,
  type AddressNote,
  type CleaningFound,
  type ColumnGuess,
  type ColumnRole,
  type KnownPeople,
  type PeopleFile,
  type SortedRows,
  type Table,
} from '@baton/core';
import type { Queryable } from '../store/database';
import { allSuppressionKeys, knownKeys, type ImportRow } from '../store/people-rows';

/** An import as it stands: the file, what was mended by hand, cleaned, and sorted into taken and kept aside. */
export interface ReadImport {
  file: PeopleFile;
  /** The file's rows with what was mended by hand. */
  mended: Table;
  /** The same cleaned; may have columns more than the file. */
  cleaned: Table;
  guesses: ColumnGuess[];
  /** One per column of `cleaned`. */
  roles: ColumnRole[];
  found: CleaningFound[];
  sorted: SortedRows;
  /** What is worth a look about an address, by line. */
  notes: Map<number, AddressNote[]>;
}

/** @throws DomainError when the file cannot be read as people */
export async function readImportRow(db: Queryable, row: ImportRow): Promise<ReadImport> {
  const file = readPeopleFile(row.bytes, row.sheet);
  const mended = withEdits(file.table, row.edits ?? {});
  const guesses = guessColumns(mended);
  const chosen = row.roles ?? guesses.map((g) => g.role);
  const { table: cleaned, roles, found } = cleanTable(mended, chosen, row.cleanings ?? USUAL_CLEANINGS);
  const at = roles.indexOf('address');
  const sorted = at < 0 ? withoutAddresses(cleaned) : sortRows(cleaned, roles, await knownPeople(db, cleaned, at));
  return { file, mended, cleaned, guesses, roles, found, sorted, notes: at < 0 ? new Map() : notesOf(cleaned, at) };
}

function withEdits(table: Table, edits: NonNullable<ImportRow['edits']>): Table {
  if (Object.keys(edits).length === 0) return table;
  const rows = table.rows.map((row) => {
    const own = edits[row.line];
    return own ? { line: row.line, cells: row.cells.map((c, i) => own[i] ?? c) } : row;
  });
  return { ...table, rows };
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
  const suppressed = await allSuppressionKeys(db);
  return {
    isKnown: (key) => known.has(key),
    isSuppressed: (key, domain) => suppressed.has(key) || suppressed.has(domain),
  };
}

function notesOf(table: Table, at: number): Map<number, AddressNote[]> {
  const domains = new Map<string, number>();
  for (const row of table.rows) {
    const parsed = parseAddress(row.cells[at] ?? '');
    if (parsed.ok) domains.set(parsed.value.domain, (domains.get(parsed.value.domain) ?? 0) + 1);
  }
  const check = addressCheck(domains);
  const notes = new Map<number, AddressNote[]>();
  for (const row of table.rows) {
    const own = check(row.cells[at] ?? '');
    if (own.length > 0) notes.set(row.line, own);
  }
  return notes;
}
