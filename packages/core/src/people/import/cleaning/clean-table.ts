import { givenNameFirst, nameCase, splitName, withoutLegalForm } from './clean-names';
import type { ColumnRole } from '../columns/column-roles';
import { CLEANINGS, type Cleaning } from './cleanings';
import { firstAddress, namedAddress, nameTaker } from './named-address';
import { dateOrder, dateReader, type DateReading } from '../columns/read-dates';
import { repairText, tidySpaces } from './repair-text';
import type { Table, TableRow } from '../files/table';

/** What one cleaning would change, whether or not it is switched on. */
export interface CleaningFound {
  cleaning: Cleaning;
  on: boolean;
  cells: number;
  /** The first few, each before and after. */
  examples: { line: number; before: string; after: string }[];
}

export interface CleanedTable {
  table: Table;
  /** One per column; more where names were taken out of the cells of addresses, or full names were split. */
  roles: ColumnRole[];
  found: CleaningFound[];
}

const EXAMPLES = 3;
/**
 * ASCII with single spaces inside and without signs of HTML: what most cells are, and no cleaning of spaces and letters
 * changes.
 */
const PLAIN = /^(?:[!-%'-~]|&(?![a-z\d#]))+(?: (?:[!-%'-~]|&(?![a-z\d#]))+)*$/i;
const NAMES: readonly ColumnRole[] = ['given_name', 'family_name', 'full_name'];

/** Which cells a cleaning is for, what it makes of one, and whether it leaves {@link PLAIN} ones as they are. */
const PER_CELL: Record<
  Exclude<Cleaning, 'named_address' | 'split_name' | 'dates'>,
  { isFor(role: ColumnRole): boolean; clean(cell: string, role: ColumnRole): string; leavesPlain: boolean }
> = {
  spaces: { isFor: () => true, clean: (cell) => (PLAIN.test(cell) ? cell : tidySpaces(cell)), leavesPlain: true },
  broken_letters: {
    isFor: () => true,
    clean: (cell) => (PLAIN.test(cell) ? cell : repairText(cell)),
    leavesPlain: true,
  },
  first_address: { isFor: (role) => role === 'address', clean: firstAddress, leavesPlain: false },
  name_case: { isFor: (role) => NAMES.includes(role), clean: caseOfName, leavesPlain: false },
  legal_form: { isFor: (role) => role === 'company', clean: withoutLegalForm, leavesPlain: false },
};

function caseOfName(cell: string, role: ColumnRole): string {
  // A text that a spreadsheet was told to leave as it is; not the Dutch article.
  const name = /^'(?![a-z]\b)/.test(cell) && !cell.endsWith("'") ? cell.slice(1) : cell;
  return nameCase(role === 'full_name' ? givenNameFirst(name) : name);
}

/**
 * Cleans the cells of a table; the table given is not changed.
 *
 * @param roles one per column
 * @param on which cleanings are done; the others are only counted
 * @param reading how dates are read that could be read two ways
 */
export function cleanTable(
  table: Table,
  roles: readonly ColumnRole[],
  on: readonly Cleaning[],
  reading: DateReading = {},
): CleanedTable {
  const found = new Map<Cleaning, CleaningFound>();
  for (const cleaning of CLEANINGS)
    found.set(cleaning, { cleaning, on: on.includes(cleaning), cells: 0, examples: [] });
  const note: Note = (cleaning, line, before, after) => {
    const f = found.get(cleaning) as CleaningFound;
    f.cells++;
    if (f.examples.length < EXAMPLES && before.trim() !== after) f.examples.push({ line, before, after });
  };
  const rows = table.rows.map(rowCleaner(roles, on, dateColumns(table, roles, reading), note));
  const named = takeNames({ header: table.header, roles: [...roles], rows }, on, note);
  const split = splitNames(named, on, note);
  return {
    table: { ...table, header: split.header, rows: split.rows },
    roles: split.roles,
    found: [...found.values()].filter((f) => f.cells > 0),
  };
}

/** The columns of a table, which may become more. */
interface Columns {
  header: string[];
  roles: ColumnRole[];
  rows: TableRow[];
}

/** The header of the column of names that was beside addresses. */
export const FULL_NAME_HEADER = 'full name';

function takeNames({ header, roles, rows }: Columns, on: readonly Cleaning[], note: Note): Columns {
  const taker = nameTaker(roles, on);
  if (!taker) return { header, roles, rows };
  const at = roles.indexOf('address');
  const apart = rows.map(taker);
  apart.forEach(({ found }, i) => {
    const { line, cells } = rows[i] as TableRow;
    if (found) note('named_address', line, cells[at] as string, `${found.name} | ${found.address}`);
  });
  if (!on.includes('named_address')) return { header, roles, rows };
  if (apart.every(({ name }) => name === '')) return { header, roles, rows: apart.map(({ row }) => row) };
  return {
    header: [...header, FULL_NAME_HEADER],
    roles: [...roles, 'full_name'],
    rows: apart.map(({ row, name }) => ({ line: row.line, cells: [...row.cells, name] })),
  };
}

function splitNames({ header, roles, rows }: Columns, on: readonly Cleaning[], note: Note): Columns {
  const splitter = nameSplitter(roles, rows, note);
  if (!splitter?.splitsAny || !on.includes('split_name')) return { header, roles, rows };
  return { header: [...header, ...SPLIT_HEADER], roles: [...roles, ...SPLIT_ROLES], rows: rows.map(splitter.split) };
}

type Note = (cleaning: Cleaning, line: number, before: string, after: string) => void;

interface CellCleaning {
  cleaning: Cleaning;
  isOn: boolean;
  clean(cell: string): string;
  /** Whether it changes no plain cell ({@link PLAIN}). */
  leavesPlain: boolean;
}

/** What is done to the cells of one column, in order. */
interface ColumnCleaner {
  steps: CellCleaning[];
  /** Whether plain cells ({@link PLAIN}) are changed by none of the steps. */
  leavesPlain: boolean;
}

/**
 * Returns a function that cleans one row's cells; splitting names, which makes columns, is apart.
 *
 * @param note told of each change, of those not switched on too; without it only those that are on are tried
 */
export function rowCleaner(
  roles: readonly ColumnRole[],
  on: readonly Cleaning[],
  dates: ReadonlyMap<number, (cell: string) => string | null>,
  note: Note | null = null,
): (row: TableRow) => TableRow {
  const cleaners = roles.map((role, i) => columnCleaner(role, on, dates.get(i), note !== null));
  const unnamed = columnCleaner('field', on, undefined, note !== null);
  return (row) => {
    // Most rows are clean: a new one is made only where a cell changes.
    let cells: string[] | null = null;
    for (let i = 0; i < row.cells.length; i++) {
      const cell = row.cells[i] as string;
      const cleaner = cleaners[i] ?? unnamed;
      if (cell === '' || cleaner.steps.length === 0 || (cleaner.leavesPlain && PLAIN.test(cell))) continue;
      const after = cleanCell(cell, cleaner.steps, row.line, note);
      if (after === cell) continue;
      cells ??= [...row.cells];
      cells[i] = after;
    }
    return cells === null ? row : { line: row.line, cells };
  };
}

/**
 * The same for rows whose cells are all plain ({@link PLAIN}): only columns are looked at whose cleaning may change
 * such.
 */
export function plainRowCleaner(
  roles: readonly ColumnRole[],
  on: readonly Cleaning[],
  dates: ReadonlyMap<number, (cell: string) => string | null>,
): (row: TableRow) => TableRow {
  const looked = roles.flatMap((role, at) => {
    const steps = columnCleaner(role, on, dates.get(at), false).steps.filter((step) => !step.leavesPlain);
    return steps.length === 0 ? [] : [{ at, steps }];
  });
  return (row) => {
    let cells: string[] | null = null;
    for (const { at, steps } of looked) {
      const cell = row.cells[at] as string;
      const after = cell === '' ? cell : cleanCell(cell, steps, row.line, null);
      if (after === cell) continue;
      cells ??= [...row.cells];
      cells[at] = after;
    }
    return cells === null ? row : { line: row.line, cells };
  };
}

/**
 * Whether the cleaning of a column leaves all its plain cells as they are: printable ASCII with single spaces inside.
 *
 * @param isDate whether it is one of {@link dateColumns}
 */
export function leavesPlainCells(role: ColumnRole, on: readonly Cleaning[], isDate: boolean): boolean {
  return columnCleaner(role, on, isDate ? (cell) => cell : undefined, false).leavesPlain;
}

function columnCleaner(
  role: ColumnRole,
  on: readonly Cleaning[],
  readDate: ((cell: string) => string | null) | undefined,
  isNoted: boolean,
): ColumnCleaner {
  const isWanted = (cleaning: Cleaning) => isNoted || on.includes(cleaning);
  const steps: CellCleaning[] = [];
  if (role === 'ignore') return { steps, leavesPlain: true };
  for (const cleaning of Object.keys(PER_CELL) as (keyof typeof PER_CELL)[]) {
    const { isFor, clean, leavesPlain } = PER_CELL[cleaning];
    if (!isFor(role) || !isWanted(cleaning)) continue;
    steps.push({ cleaning, isOn: on.includes(cleaning), clean: (cell) => clean(cell, role), leavesPlain });
  }
  if (readDate && isWanted('dates')) {
    const clean = (cell: string) => readDate(cell) ?? cell;
    steps.push({ cleaning: 'dates', isOn: on.includes('dates'), clean, leavesPlain: false });
  }
  return { steps, leavesPlain: steps.every((step) => step.leavesPlain) };
}

function cleanCell(cell: string, steps: readonly CellCleaning[], line: number, note: Note | null): string {
  let value = cell;
  for (const { cleaning, isOn, clean } of steps) {
    const after = clean(value);
    if (after === value) continue;
    note?.(cleaning, line, value, after);
    if (isOn) value = after;
  }
  return value;
}

/** Rows that tell whether a column holds dates, and how they are written. */
const DATE_SAMPLE = 400;
/** Share of a column's values that must be dates. */
const DATE_SHARE = 0.9;

/** What reads the dates of each column that is kept as a field and holds little else. */
export function dateColumns(
  table: Table,
  roles: readonly ColumnRole[],
  reading: DateReading = {},
): Map<number, (cell: string) => string | null> {
  const out = new Map<number, (cell: string) => string | null>();
  const sample = table.rows.slice(0, DATE_SAMPLE);
  roles.forEach((role, i) => {
    if (role !== 'field') return;
    const cells = sample.map((r) => r.cells[i] ?? '').filter((c) => c.trim() !== '');
    const read = dateReader(cells, reading);
    const dates = cells.filter((c) => read(c) !== null).length;
    if (dates > 0 && dates >= DATE_SHARE * cells.length) out.set(i, read);
  });
  return out;
}

/** A date that could be read two ways, where the column does not tell. */
export interface DateQuestion {
  column: number;
  cell: string;
  /** ISO dates. */
  dayFirst: string;
  monthFirst: string;
}

/** The first column of dates that could all be read two ways, that of dates on which to send before others. */
export function dateQuestion(table: Table, roles: readonly ColumnRole[]): DateQuestion | null {
  const dates = dateColumns(table, roles);
  const columns = [roles.indexOf('send_on'), ...dates.keys()].filter((column) => column >= 0);
  for (const column of columns) {
    const { either } = dateOrder(table.rows.map((r) => r.cells[column] ?? ''));
    if (either) return { column, ...either };
  }
  return null;
}

const SPLIT_HEADER = ['given name', 'family name'];
const SPLIT_ROLES: ColumnRole[] = ['given_name', 'family_name'];

/**
 * What gives rows the parts of their full name beside them, where a column of full names stands alone; null where none
 * does.
 *
 * @param rows all, or enough to tell whether any name can be split
 */
export function nameSplitter(
  roles: readonly ColumnRole[],
  rows: readonly TableRow[],
  note: Note | null = null,
): { splitsAny: boolean; split: (row: TableRow) => TableRow } | null {
  const at = roles.indexOf('full_name');
  if (at < 0 || roles.includes('given_name') || roles.includes('family_name')) return null;
  let splitsAny = false;
  for (const row of rows) {
    const parts = splitName(row.cells[at] ?? '');
    if (!parts) continue;
    splitsAny = true;
    note?.('split_name', row.line, row.cells[at] ?? '', `${parts.given} | ${parts.family}`);
  }
  return {
    splitsAny,
    split: (row) => {
      const parts = splitName(row.cells[at] ?? '');
      return { line: row.line, cells: [...row.cells, parts?.given ?? '', parts?.family ?? ''] };
    },
  };
}

/** Gives rows one by one the columns that {@link cleanTable} made for those of a sample. */
export interface RowExtender {
  /** Whether every row gets columns more. */
  extendsAll: boolean;
  /** Whether a row may be left as it is; `false` only where its address has a name beside it. */
  leaves(address: string): boolean;
  /** `name`: one beside the address for which the sample has no column; ''. */
  extend(row: TableRow): { row: TableRow; name: string };
}

/**
 * @param roles of the columns of the file
 * @param shown roles of the sample's columns: the same, and those that were made
 */
export function rowExtender(
  roles: readonly ColumnRole[],
  shown: readonly ColumnRole[],
  on: readonly Cleaning[],
): RowExtender {
  const take = on.includes('named_address') ? nameTaker(roles, on) : null;
  const hasNames = shown.length > roles.length && shown[roles.length] === 'full_name';
  const before: readonly ColumnRole[] = hasNames ? [...roles, 'full_name'] : roles;
  const splitter = shown.length > before.length ? nameSplitter(before, []) : null;
  return {
    extendsAll: splitter !== null,
    leaves: (address) => take === null || namedAddress(address) === null,
    extend: (row) => {
      const apart = take?.(row) ?? { row, name: '' };
      const named = hasNames ? { line: row.line, cells: [...apart.row.cells, apart.name] } : apart.row;
      return { row: splitter ? splitter.split(named) : named, name: hasNames ? '' : apart.name };
    },
  };
}
