import { DomainError } from '../../../errors';
import { roleOfHeader } from '../columns/column-roles';
import { parseAddress } from '../../address/address';
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

/**
 * Makes a table of rows: finds the header, wherever it is near the top; fills short rows with blanks; takes longer
 * ones when the surplus is blank and keeps them aside otherwise; skips blank rows.
 *
 * @param rows without blank ones
 * @param isSheet whether the cells are a workbook's, where none can be two by a mistake of writing
 * @throws DomainError `empty_file` without any row; `too_many_columns`
 */
export function tableOfRows(rows: readonly TableRow[], aside: readonly RowAside[] = [], isSheet = false): Table {
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
  const people = rows.slice(at === null ? 0 : at + 1);
  // A column without a name is one where rows fill it: in a sheet always, in a text as far as the header's line goes.
  const reach = isSheet ? MAX_COLUMNS : head.cells.length;
  const filled = people.reduce((width, { cells }) => Math.max(width, filledWidth(cells, reach)), 1);
  const width = at === null ? head.cells.length : Math.max(filled, filledWidth(head.cells, head.cells.length));
  const header = nameColumns(Array.from({ length: width }, (_, i) => (at === null ? '' : (head.cells[i] ?? ''))));
  const table: Table = {
    header,
    headerLine: at === null ? null : head.line,
    titleRows: at ?? 0,
    rows: [],
    aside: [...aside],
  };
  const fit = rowFitter(header.length);
  for (const row of people) {
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
  const filled = (r: TableRow) => r.cells.filter((c) => c.trim() !== '').length;
  const known = top.map((r) =>
    r.cells.some(holdsAddress) ? 0 : r.cells.filter((c) => roleOfHeader(c) !== undefined).length,
  );
  // An address in the words of a title is nobody's: the header below it is wider.
  const header = known.indexOf(Math.max(0, ...known));
  if (person >= 0 && header > person && (known[header] as number) >= 2) {
    const usual = filled(top[header] as TableRow);
    const isTitle = (r: TableRow) => filled(r) < usual * TITLE_SHARE && !r.cells.some((c) => parseAddress(c).ok);
    if (top.slice(0, header).every(isTitle)) return header;
  }
  if (person === 0) return null;
  const above = top.slice(0, person < 0 ? top.length : person);
  // The row of the most known headers is the header, also where no address follows at once; of two, the lower one.
  const most = Math.max(0, ...known.slice(0, above.length));
  if (most >= 2) return known.lastIndexOf(most, above.length - 1);
  // Titles fill fewer cells than rows do.
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
    if (isPlain && row.cells.length === width && row.cells.every((c) => c.length <= MAX_CELL && !/^(?:="|')/.test(c)))
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
    : asText(cell)
        .replace(/^(?:(?![\t\n\r])\p{Cc})+|(?:(?![\t\n\r])\p{Cc})+$/gu, '')
        .replace(/(?:(?![\t\n\r])\p{Cc})+/gu, ' ');
/** `="0123"`, `'0123`: a text that spreadsheets are to leave as it is. */
function asText(cell: string): string {
  if (/^'[\d+=@-]/.test(cell) && !cell.endsWith("'")) return cell.slice(1);
  const text = /^="(.*)"$/s.exec(cell.trim())?.[1];
  return text === undefined ? cell : text.replaceAll('""', '"');
}

/** Whether a text has no control characters but tabs and line breaks. */
export const isPlainText = (text: string): boolean => !/[^\t\n\r -\u007e\u00a0-\uffff]/.test(text);
/** Most cells: nothing in them that could be a control character. */
const PLAIN = /^(?!'|\s*=")[\x20-\x7e]*$/;

/** Cells up to the last one that is filled, of the first so many. */
function filledWidth(cells: readonly string[], reach: number): number {
  let n = Math.min(cells.length, reach);
  while (n > 0 && (cells[n - 1] as string).trim() === '') n--;
  return n;
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
