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
  const form = guessForm(text);
  const reader = new DelimitedRows(form);
  const read = reader.push(text);
  const last = reader.end();
  return { rows: [...read.rows, ...last.rows], aside: [...read.aside, ...last.aside], delimiter: form.delimiter };
}

/** Rows that could be read, and those that could not; blank ones are passed over. */
export interface RowsRead {
  rows: TableRow[];
  aside: RowAside[];
}

/** A row longer than this has a quotation mark that is never closed. */
const LONGEST_ROW = 16 * 1024 * 1024;

/** Reads delimited text piece by piece; a row that a piece cuts waits for the next. */
export class DelimitedRows {
  private line = 1;
  private rest = '';

  constructor(private readonly form: DelimitedForm) {}

  /** Whether a row has begun that has not ended yet. */
  get isWaiting(): boolean {
    return this.rest !== '';
  }

  /** The line on which the next row begins. */
  get nextLine(): number {
    return this.line;
  }

  /** Passes over lines that somebody else has read. */
  skip(lines: number): void {
    this.line += lines;
  }

  /** @throws DomainError `unclosed_quote` when a row never seems to end */
  push(text: string): RowsRead {
    return this.read(this.rest + text, false);
  }

  /** What still waited. @throws DomainError `unclosed_quote` */
  end(): RowsRead {
    return this.read(this.rest, true);
  }

  private read(text: string, isLast: boolean): RowsRead {
    const out: RowsRead = { rows: [], aside: [] };
    this.rest = '';
    if (text === '') return out;
    const { data, errors, meta } = new Parser(this.form).parse(text, 0, !isLast);
    const hasQuotes = text.includes('"');
    const badAt = new Map(errors.map((e) => [e.row ?? 0, e]));
    data.forEach((cells, i) => {
      const start = this.line;
      this.line += 1 + (hasQuotes ? breaksIn(cells, this.form.newline.slice(-1)) : 0);
      const quote = errors.length === 0 ? undefined : badAt.get(i);
      if (quote?.code === 'MissingQuotes') throw unclosed(start, cells);
      if (quote?.type === 'Quotes')
        out.aside.push({ line: start, cells, reason: 'A quotation mark stands in the middle of a quoted cell' });
      else if (cells.some((c) => c !== '' && c.trim() !== '')) out.rows.push({ line: start, cells });
    });
    if (!isLast) this.rest = text.slice(meta.cursor);
    if (this.rest.length > LONGEST_ROW) throw unclosed(this.line, [this.rest.slice(0, 80)]);
    return out;
  }
}

function breaksIn(cells: readonly string[], newline: string): number {
  let n = 0;
  for (const cell of cells) for (let at = cell.indexOf(newline); at >= 0; at = cell.indexOf(newline, at + 1)) n++;
  return n;
}

/** Papa's own parser under its chunks and workers; its types leave it out. */
const { Parser } = Papa as unknown as {
  Parser: new (config: DelimitedForm) => {
    parse(text: string, start: number, ignoreLastRow: boolean): Papa.ParseResult<string[]>;
  };
};

/** What stands between the cells of a row, and between rows. */
export interface DelimitedForm {
  delimiter: string;
  newline: string;
}

/** Apart from the reading, so that blank lines do not weigh in the guess. */
export function guessForm(text: string): DelimitedForm {
  const { meta } = Papa.parse(text.slice(0, GUESS_LETTERS), {
    delimitersToGuess: [',', ';', '\t', '|'],
    preview: 50,
    skipEmptyLines: true,
  });
  return { delimiter: meta.delimiter, newline: meta.linebreak };
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
