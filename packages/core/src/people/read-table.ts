import Papa from 'papaparse';
import { DomainError } from '../errors';
import { parseAddress } from './address';

/** One row as it stands in the file. */
export interface TableRow {
  /** Line of the file on which the row begins, 1-based. */
  line: number;
  cells: string[];
}

export interface RowAside extends TableRow {
  /** Why the row cannot be used, in words. */
  reason: string;
}

export interface Table {
  header: string[];
  /** False when the first row already was a person, and the names are `Column 1`, `Column 2`, … */
  hasHeader: boolean;
  /** Each row exactly as long as the header. */
  rows: TableRow[];
  aside: RowAside[];
  delimiter: string;
}

/** A sheet with more columns than this is a mistake (a transposed one, or a delimiter gone wrong). */
export const MAX_COLUMNS = 500;

/**
 * Splits delimited text (comma, semicolon, tab or bar; RFC 4180 quoting) into a header and rows.
 * Rows shorter than the header are filled with blanks; longer ones are taken when the surplus is blank
 * and kept aside otherwise; blank rows are passed over.
 *
 * @throws DomainError `empty_file` without any row; `too_many_columns`; `unclosed_quote` with the line
 */
export function readTable(text: string): Table {
  const parsed = parseRows(text.startsWith('\ufeff') ? text.slice(1) : text);
  const first = parsed.rows[0];
  if (!first)
    throw new DomainError('empty_file', 'There is no row in this. Expected a header row and one row per person.');
  if (first.cells.length > MAX_COLUMNS) {
    throw new DomainError(
      'too_many_columns',
      `Line ${first.line} has ${first.cells.length.toLocaleString('en-GB')} columns; Baton takes up to ${MAX_COLUMNS}. Are rows and columns swapped?`,
    );
  }
  const hasHeader = !first.cells.some((c) => parseAddress(c).ok);
  const header = nameColumns(hasHeader ? trimEnd(first.cells) : first.cells.map(() => ''));
  const table: Table = { header, hasHeader, rows: [], aside: parsed.aside, delimiter: parsed.delimiter };
  for (const row of hasHeader ? parsed.rows.slice(1) : parsed.rows) fit(row, table);
  table.aside.sort((a, b) => a.line - b.line);
  return table;
}

function parseRows(text: string): { rows: TableRow[]; aside: RowAside[]; delimiter: string } {
  const rows: TableRow[] = [];
  const aside: RowAside[] = [];
  let line = 1;
  let cursor = 0;
  let delimiter = ',';
  Papa.parse<string[]>(text, {
    delimitersToGuess: [',', ';', '\t', '|'],
    step: (result) => {
      const start = line;
      delimiter = result.meta.delimiter;
      for (; cursor < result.meta.cursor; cursor++) if (text.charCodeAt(cursor) === 10) line++;
      const cells = result.data;
      const quote = result.errors.find((e) => e.type === 'Quotes');
      if (quote?.code === 'MissingQuotes') throw unclosed(start, cells);
      if (quote) aside.push({ line: start, cells, reason: 'A quotation mark stands in the middle of a quoted cell' });
      else if (cells.some((c) => c.trim() !== '')) rows.push({ line: start, cells });
    },
  });
  return { rows, aside, delimiter };
}

function unclosed(line: number, cells: string[]): DomainError {
  const last = cells.at(-1) ?? '';
  return new DomainError(
    'unclosed_quote',
    `A quotation mark opened in the row that begins on line ${line} is never closed (near “${last.slice(0, 40).replace(/\s+/g, ' ')}”). Close it, or double it if it belongs to the text; nothing has been taken.`,
  );
}

function fit(row: TableRow, table: Table): void {
  const width = table.header.length;
  if (row.cells.length > width && row.cells.slice(width).some((c) => c.trim() !== '')) {
    table.aside.push({ ...row, reason: `The row has ${row.cells.length} cells, the header ${width}` });
    return;
  }
  const cells = row.cells.slice(0, width);
  while (cells.length < width) cells.push('');
  table.rows.push({ line: row.line, cells });
}

function trimEnd(cells: string[]): string[] {
  let n = cells.length;
  while (n > 1 && (cells[n - 1] ?? '').trim() === '') n--;
  return cells.slice(0, n);
}

/** Gives every column a name of its own: blanks are numbered, doubles get ` 2`, ` 3`, … */
function nameColumns(cells: string[]): string[] {
  const taken = new Set<string>();
  return cells.map((cell, i) => {
    const base = cell.replace(/\s+/g, ' ').trim().slice(0, 200) || `Column ${i + 1}`;
    let name = base;
    for (let n = 2; taken.has(name.toLowerCase()); n++) name = `${base} ${n}`;
    taken.add(name.toLowerCase());
    return name;
  });
}
