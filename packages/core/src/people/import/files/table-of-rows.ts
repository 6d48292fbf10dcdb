import { DomainError } from '../../../errors';
import { HEADERS } from '../columns/column-roles';
import { fieldKey } from '../../../messages/field-name';
import { holdsAddress } from '../cleaning/named-address';
import type { RowAside, Table, TableRow } from './table';

/** A sheet with more columns than this is a mistake (a transposed one, or a delimiter gone wrong). */
export const MAX_COLUMNS = 500;
/** A cell longer than this holds a document, not a value. */
const MAX_CELL = 100_000;
/** Rows from the top among which the header is looked for: titles and notes may come above it. */
const HEADER_SEARCH_ROWS = 30;

/** A row that fills less than this share of the cells of a person's row is a title, not the header. */
const TITLE_SHARE = 0.6;

const KNOWN_HEADERS = new Set(Object.values(HEADERS).flat());

/**
 * Makes a table of rows: finds the header, wherever it is near the top; fills short rows with blanks; takes longer
 * ones when the surplus is blank and keeps them aside otherwise; skips blank rows.
 *
 * @param rows without blank ones
 * @throws DomainError `empty_file` without any row; `too_many_columns`
 */
export function tableOfRows(rows: readonly TableRow[], aside: readonly RowAside[] = []): Table {
  const first = rows[0];
  if (!first)
    throw new DomainError('empty_file', 'There is no row in this. Expected a header row and one row per person.');
  const at = findHeader(rows);
  const head = rows[at ?? 0] as TableRow;
  if (head.cells.length > MAX_COLUMNS) {
    throw new DomainError(
      'too_many_columns',
      `Line ${head.line} has ${head.cells.length.toLocaleString('en-GB')} columns; Baton imports up to ${MAX_COLUMNS}. Are rows and columns swapped?`,
    );
  }
  const header = nameColumns(at === null ? head.cells.map(() => '') : trimEnd(head.cells));
  const table: Table = {
    header,
    headerLine: at === null ? null : head.line,
    titleRows: at ?? 0,
    rows: [],
    aside: [...aside],
  };
  const fit = rowFitter(header.length);
  for (const row of rows.slice(at === null ? 0 : at + 1)) {
    const fitted = fit(row);
    if ('reason' in fitted) table.aside.push(fitted);
    else table.rows.push(fitted);
  }
  table.aside.sort((a, b) => a.line - b.line);
  return table;
}

/** Index of the header row; null when there is none. */
function findHeader(rows: readonly TableRow[]): number | null {
  const top = rows.slice(0, HEADER_SEARCH_ROWS);
  const person = top.findIndex((r) => r.cells.some(holdsAddress));
  if (person === 0) return null;
  const above = top.slice(0, person < 0 ? top.length : person);
  // The row of the most known headers is the header, also where no address follows at once; of two, the lower one.
  const known = above.map((r) => r.cells.filter((c) => KNOWN_HEADERS.has(fieldKey(c))).length);
  const most = Math.max(0, ...known);
  if (most >= 2) return known.lastIndexOf(most);
  // Titles fill fewer cells than rows do.
  const filled = (r: TableRow) => r.cells.filter((c) => c.trim() !== '').length;
  const usual = person < 0 ? Math.max(...top.map(filled)) : filled(top[person] as TableRow);
  const wide = above.findIndex((r) => filled(r) >= usual * TITLE_SHARE);
  return wide >= 0 ? wide : Math.max(0, person - 1);
}

/**
 * Returns a function that brings rows to the width of the header, or says why one cannot be taken. A row of {@link
 * isPlainText} has no control character.
 */
export function rowFitter(width: number): (row: TableRow, isPlain?: boolean) => TableRow | RowAside {
  return (row, isPlain = false) => {
    if (isPlain && row.cells.length === width && row.cells.every((c) => c.length <= MAX_CELL && !c.startsWith('="')))
      return row;
    if (row.cells.length > width && row.cells.slice(width).some((c) => c.trim() !== ''))
      return { ...row, reason: `The row has ${row.cells.length} cells, the header ${width}` };
    const long = row.cells.find((c) => c.length > MAX_CELL);
    if (long !== undefined) {
      const cells = row.cells.map((c) => (c.length > MAX_CELL ? `${c.slice(0, 200)}…` : c));
      const reason = `A cell has ${long.length.toLocaleString('en-GB')} letters; a value has at most ${MAX_CELL.toLocaleString('en-GB')}`;
      return { line: row.line, cells, reason };
    }
    const cells = row.cells.length === width ? row.cells.map(withoutControls) : fitted(row.cells, width);
    return { line: row.line, cells };
  };
}

function fitted(cells: readonly string[], width: number): string[] {
  const out = cells.slice(0, width).map(withoutControls);
  while (out.length < width) out.push('');
  return out;
}

/**
 * Control characters that no keyboard writes go at the edges of a cell, where programs pad with them; inside they part
 * words, so that no two become one. Tabs and line breaks stay.
 */
const withoutControls = (cell: string): string =>
  PLAIN.test(cell)
    ? cell
    : withoutFormula(cell)
        .replace(/^(?:(?![\t\n\r])\p{Cc})+|(?:(?![\t\n\r])\p{Cc})+$/gu, '')
        .replace(/(?:(?![\t\n\r])\p{Cc})+/gu, ' ');
/** `="0123"`: a text that spreadsheets are to leave as it is. */
function withoutFormula(cell: string): string {
  const text = /^="(.*)"$/s.exec(cell.trim())?.[1];
  return text === undefined ? cell : text.replaceAll('""', '"');
}

/** Whether a text has no control characters but tabs and line breaks. */
export const isPlainText = (text: string): boolean => !/[^\t\n\r -\u007e\u00a0-\uffff]/.test(text);
/** Most cells: nothing in them that could be a control character. */
const PLAIN = /^(?!\s*=")[\x20-\x7e]*$/;

function trimEnd(cells: string[]): string[] {
  let n = cells.length;
  while (n > 1 && (cells[n - 1] ?? '').trim() === '') n--;
  return cells.slice(0, n);
}

/** Gives every column a name of its own: blanks are numbered, doubles get ` 2`, ` 3`, … */
function nameColumns(cells: string[]): string[] {
  const taken = new Set<string>();
  return cells.map((cell, i) => {
    const base = withoutControls(cell).replace(/\s+/g, ' ').trim().slice(0, 200) || `Column ${i + 1}`;
    let name = base;
    for (let n = 2; taken.has(name.toLowerCase()); n++) name = `${base} ${n}`;
    taken.add(name.toLowerCase());
    return name;
  });
}
