import { fieldKey } from '../../messages/field-name';
import type { ColumnRole } from '../import/columns/column-roles';
import { dateReader } from '../import/columns/read-dates';
import { sendOnReader } from '../import/columns/read-send-on';
import type { Verdict } from '../address/verdict';

/** How a column's values are read, sorted and filtered. */
export const COLUMN_KINDS = ['text', 'number', 'date', 'tick', 'tags'] as const;
export type ColumnKind = (typeof COLUMN_KINDS)[number];

/** A column of a list. */
export interface ListColumn {
  name: string;
  /** {@link fieldKey} of the name. */
  key: string;
  role: Exclude<ColumnRole, 'ignore'>;
  kind: ColumnKind;
  hidden: boolean;
  /** Liquid that makes its values from the row's others; null where they are typed. */
  formula: string | null;
  /** Of a verifier's results: what a person has said of its words, in lower case; null where the usual holds. */
  verdicts: Record<string, Verdict> | null;
}

/** What is written for a tick; no tick is a blank. */
export const TICK = 'yes';
const TICKED = new Set([
  'yes',
  'y',
  'true',
  'x',
  '1',
  '✓',
  '✔',
  '☑',
  'ja',
  'j',
  'oui',
  'si',
  'sí',
  'sim',
  'wahr',
  'vrai',
]);
/** What says expressly, in lower case, that a cell is not ticked. */
export const UNTICKED_WORDS = ['no', 'n', 'false', '0', '☐', '-', 'nein', 'non', 'não', 'nee', 'falsch', 'faux'];
const UNTICKED: ReadonlySet<string> = new Set(UNTICKED_WORDS);
/** Numbers as {@link numberOf} reads them: with a decimal comma or point, or with both signs, the last the decimal one. */
const NUMBER = /^[+-]?(?:\d{1,3}(?:[ \u00a0\u202f'’]\d{3})+|\d+)(?:[.,]\d+)?$/;
const BOTH_SIGNS = /^[+-]?\d{1,3}(?:(?:,\d{3})+\.\d+|(?:\.\d{3})+,\d+|(?:,\d{3}){2,}|(?:\.\d{3}){2,})$/;
/** Share of a column's values that must be of a kind for the column to be. */
const SHARE = 0.9;

/** Reads `1234`, `12,5`, `1 234.50`, `1,234.50`, `1.234,50`; null for what is not a number. */
export function numberOf(cell: string): number | null {
  const text = cell.trim();
  if (NUMBER.test(text)) return Number(text.replace(/[ \u00a0\u202f'’]/g, '').replace(',', '.'));
  if (!BOTH_SIGNS.test(text)) return null;
  const decimal = Math.max(text.lastIndexOf(','), text.lastIndexOf('.'));
  // One sign alone, twice or more, parts thousands.
  const hasDecimals = text.indexOf(text[decimal] as string) === decimal;
  const whole = (hasDecimals ? text.slice(0, decimal) : text).replace(/[.,]/g, '');
  return Number(hasDecimals ? `${whole}.${text.slice(decimal + 1)}` : whole);
}

/** Whether a cell is a tick (true), expressly none (false), or neither (null). */
export function tickOf(cell: string): boolean | null {
  const text = cell.trim().toLowerCase();
  if (TICKED.has(text)) return true;
  return text === '' || UNTICKED.has(text) ? false : null;
}

/** The tags of a cell: between commas or semicolons, each once, in their order. */
export function tagsOf(cell: string): string[] {
  const seen = new Set<string>();
  return cell
    .split(/[,;]/)
    .map((t) => t.trim())
    .filter((t) => t !== '' && !seen.has(t.toLowerCase()) && seen.add(t.toLowerCase()));
}

/**
 * Guesses the kind of a column from its values. Numbers with a leading zero are post codes or telephone numbers, so
 * text.
 *
 * @param cells blanks do not count; a sample will do
 */
export function kindOfCells(name: string, cells: readonly string[]): ColumnKind {
  const filled = cells.map((c) => c.trim()).filter((c) => c !== '');
  const most = (test: (c: string) => boolean) =>
    filled.length > 0 && filled.filter(test).length >= SHARE * filled.length;
  if (/^(?:tags?|labels?|categories|stichworte|étiquettes)$/i.test(name.trim())) return 'tags';
  if (most((c) => tickOf(c) !== null && !/^\d$/.test(c))) return 'tick';
  if (most((c) => numberOf(c) !== null) && !filled.some((c) => /^[+]|^0\d/.test(c))) return 'number';
  const readDate = dateReader(filled);
  return most((c) => readDate(c) !== null) ? 'date' : 'text';
}

/**
 * Returns a function that writes a value as its kind keeps it: ticks as {@link TICK} or blank, dates as ISO, tags with
 * one comma between. What the kind cannot read is kept as it was typed: nothing is lost.
 *
 * @param column all values of the column, which tell the order of day and month
 */
export function cellWriter(kind: ColumnKind, column: readonly string[]): (cell: string) => string {
  if (kind === 'tick') {
    return (cell) => {
      const tick = tickOf(cell);
      return tick === null ? cell.trim() : tick ? TICK : '';
    };
  }
  if (kind === 'tags') return (cell) => tagsOf(cell).join(', ');
  if (kind !== 'date') return (cell) => cell.trim();
  const readDate = dateReader(column);
  return (cell) => readDate(cell) ?? cell.trim();
}

/**
 * Like {@link cellWriter}, for a column: one of days on which to send keeps the time too.
 */
export function columnWriter(
  { kind, role }: Pick<ListColumn, 'kind' | 'role'>,
  column: readonly string[],
): (cell: string) => string {
  if (role !== 'send_on') return cellWriter(kind, column);
  const read = sendOnReader(column);
  return (cell) => read(cell)?.replace('T', ' ') ?? cell.trim();
}

/** A name for a new column that no column of the list has; the name itself where it is free. */
export function freeName(name: string, columns: readonly Pick<ListColumn, 'key'>[]): string {
  const taken = new Set(columns.map((c) => c.key));
  const wanted = fieldKey(name) === '' ? 'column' : name.trim();
  let free = wanted;
  for (let n = 2; taken.has(fieldKey(free)); n++) free = `${wanted} ${n}`;
  return free;
}
