import Papa from 'papaparse';
import { DomainError } from '../errors';
import { tableOfRows, type RowAside, type Table, type TableRow } from './table-of-rows';

/**
 * Splits delimited text (comma, semicolon, tab or bar; RFC 4180 quoting) into a table.
 *
 * @throws DomainError `empty_file` without any row; `too_many_columns`; `unclosed_quote` with the line
 */
export function readDelimited(text: string): Table & { delimiter: string } {
  const { rows, aside, delimiter } = parseRows(text.startsWith('\ufeff') ? text.slice(1) : text);
  return { ...tableOfRows(rows, aside), delimiter };
}

function parseRows(text: string): { rows: TableRow[]; aside: RowAside[]; delimiter: string } {
  const rows: TableRow[] = [];
  const aside: RowAside[] = [];
  let line = 1;
  let cursor = 0;
  const delimiter = guessDelimiter(text);
  Papa.parse<string[]>(text, {
    delimiter,
    step: (result) => {
      const start = line;
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

/** Apart from the reading, so that blank lines do not weigh in the guess. */
function guessDelimiter(text: string): string {
  const top = Papa.parse(text.slice(0, GUESS_LETTERS), {
    delimitersToGuess: [',', ';', '\t', '|'],
    preview: 50,
    skipEmptyLines: true,
  });
  return top.meta.delimiter;
}

/** What is looked at for the guess. */
const GUESS_LETTERS = 200_000;

function unclosed(line: number, cells: string[]): DomainError {
  const last = cells.at(-1) ?? '';
  return new DomainError(
    'unclosed_quote',
    `A quotation mark opened in the row that begins on line ${line} is never closed (near “${last.slice(0, 40).replace(/\s+/g, ' ')}”). Close it, or double it if it belongs to the text; nothing has been taken.`,
  );
}
