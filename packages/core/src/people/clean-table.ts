import { nameCase, splitName, withoutLegalForm } from './clean-names';
import type { ColumnRole } from './column-roles';
import { repairText, tidySpaces } from './repair-text';
import type { Table, TableRow } from './table-of-rows';

/** What Baton offers to put right while it imports, in the order in which it is done. */
export const CLEANINGS = ['spaces', 'broken_letters', 'name_case', 'split_name', 'legal_form'] as const;
export type Cleaning = (typeof CLEANINGS)[number];

/** Done unless a person says otherwise: none of them loses anything. */
export const USUAL_CLEANINGS: readonly Cleaning[] = ['spaces', 'broken_letters', 'name_case', 'split_name'];

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
  /** One per column; two more where full names were split. */
  roles: ColumnRole[];
  found: CleaningFound[];
}

const EXAMPLES = 3;
const NAMES: readonly ColumnRole[] = ['given_name', 'family_name', 'full_name'];

/** Which cells a cleaning is for, and what it makes of one. */
const PER_CELL: Record<
  Exclude<Cleaning, 'split_name'>,
  { isFor(role: ColumnRole): boolean; clean(cell: string): string }
> = {
  spaces: { isFor: (role) => role !== 'ignore', clean: tidySpaces },
  broken_letters: { isFor: (role) => role !== 'ignore', clean: repairText },
  name_case: { isFor: (role) => NAMES.includes(role), clean: nameCase },
  legal_form: { isFor: (role) => role === 'company', clean: withoutLegalForm },
};

/**
 * Cleans the cells of a table; the table given is not changed.
 *
 * @param roles one per column
 * @param on which cleanings are done; the others are only counted
 */
export function cleanTable(table: Table, roles: readonly ColumnRole[], on: readonly Cleaning[]): CleanedTable {
  const found = new Map<Cleaning, CleaningFound>();
  for (const cleaning of CLEANINGS)
    found.set(cleaning, { cleaning, on: on.includes(cleaning), cells: 0, examples: [] });
  const note = (cleaning: Cleaning, line: number, before: string, after: string) => {
    const f = found.get(cleaning) as CleaningFound;
    f.cells++;
    if (f.examples.length < EXAMPLES && before.trim() !== after) f.examples.push({ line, before, after });
  };
  const rows = table.rows.map((row): TableRow => {
    const cells = row.cells.map((cell, i) =>
      cleanCell(cell, roles[i] ?? 'field', on, (c, b, a) => note(c, row.line, b, a)),
    );
    return { line: row.line, cells };
  });
  const cleaned: CleanedTable = { table: { ...table, rows }, roles: [...roles], found: [] };
  splitNames(cleaned, on.includes('split_name'), (line, before, after) => note('split_name', line, before, after));
  cleaned.found = [...found.values()].filter((f) => f.cells > 0);
  return cleaned;
}

function cleanCell(
  cell: string,
  role: ColumnRole,
  on: readonly Cleaning[],
  note: (cleaning: Cleaning, before: string, after: string) => void,
): string {
  if (cell === '') return cell;
  let value = cell;
  for (const cleaning of Object.keys(PER_CELL) as (keyof typeof PER_CELL)[]) {
    const { isFor, clean } = PER_CELL[cleaning];
    if (!isFor(role)) continue;
    const after = clean(value);
    if (after === value) continue;
    note(cleaning, value, after);
    if (on.includes(cleaning)) value = after;
  }
  return value;
}

/** Where a column of full names stands alone, its parts become columns beside it. */
function splitNames(
  cleaned: CleanedTable,
  isOn: boolean,
  note: (line: number, before: string, after: string) => void,
): void {
  const { table, roles } = cleaned;
  const at = roles.indexOf('full_name');
  if (at < 0 || roles.includes('given_name') || roles.includes('family_name')) return;
  const parts = table.rows.map((row) => splitName(row.cells[at] ?? ''));
  parts.forEach((p, i) => {
    const row = table.rows[i] as TableRow;
    if (p) note(row.line, row.cells[at] ?? '', `${p.given} | ${p.family}`);
  });
  if (!isOn || parts.every((p) => p === null)) return;
  const rows = table.rows.map((row, i) => ({
    line: row.line,
    cells: [...row.cells, parts[i]?.given ?? '', parts[i]?.family ?? ''],
  }));
  cleaned.table = { ...table, header: [...table.header, 'given name', 'family name'], rows };
  cleaned.roles = [...roles, 'given_name', 'family_name'];
}
