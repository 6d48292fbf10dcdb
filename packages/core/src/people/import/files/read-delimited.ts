import Papa from 'papaparse';
import type { RowAside, Table, TableRow } from './table';
import { tableOfRows } from './table-of-rows';

/**
 * Splits delimited text (comma, semicolon, tab, bar, `~` or `^`; RFC 4180 quoting) or columns set apart by blanks into a table. A row with a quotation mark that
 * is never closed is set aside, and the rows after it are read.
 *
 * @throws DomainError `empty_file` without any row; `too_many_columns`
 */
export function readDelimited(text: string): Table & { delimiter: string } {
  const { rows, aside, delimiter } = likeliestRows(withOneLineEnd(text.startsWith('\ufeff') ? text.slice(1) : text));
  return { ...tableOfRows(rows, aside), delimiter };
}

/** Line ends of several kinds in one text become one. */
export const withOneLineEnd = (text: string): string => (hasMixedEnds(text) ? text.replace(/\r\n?/g, '\n') : text);

/** Whether a text has line ends of several kinds. */
export function hasMixedEnds(text: string): boolean {
  if (!text.includes('\r')) return false;
  return /\r(?!\n)/.test(text) ? text.includes('\n') : /(?:^|[^\r])\n/.test(text);
}

/** A way of writing quotation marks other than RFC 4180's. */
interface OtherQuotes {
  /** Whether the first rows are written so. */
  isIn(firstRows: string, delimiter: string): boolean;
  /** The same text as RFC 4180 would have it. */
  rewrite(text: string, delimiter: string): string;
}

const signOf = (delimiter: string): string => (delimiter === '\t' ? '\\t' : delimiter.replace(/[|^]/, '\\$&'));

const OTHER_QUOTES: readonly OtherQuotes[] = [
  {
    // Blanks around them.
    isIn: (rows, delimiter) =>
      new RegExp(`(?:^|${signOf(delimiter)})[ \\u00a0]+"|"[ \\u00a0]+${signOf(delimiter)}`, 'm').test(rows),
    rewrite: (text, delimiter) => {
      const edge = `[${signOf(delimiter)}\\r\\n]`;
      return text
        .replace(new RegExp(`(^|${edge})[ \\u00a0]+(?=")`, 'g'), '$1')
        .replace(new RegExp(`"[ \\u00a0]+(?=${edge}|$)`, 'g'), '"');
    },
  },
  {
    // A backslash before those inside.
    isIn: (rows) => rows.includes('\\"'),
    rewrite: (text) => text.replaceAll('\\"', '""'),
  },
  {
    // Single ones: an apostrophe inside of a word is none.
    isIn: (rows, delimiter) =>
      !rows.includes('"') &&
      new RegExp(`(?:^|${signOf(delimiter)})'[^'\\n]*'(?:${signOf(delimiter)}|$)`, 'm').test(rows),
    rewrite: (text) => text.replaceAll('"', '""').replace(/(?<![\p{L}\p{N}])'|'(?![\p{L}\p{N}])/gu, '"'),
  },
];

type ParsedRows = ReturnType<typeof parseRows>;

/** Columns of a text are set apart by two blanks and more. */
const GAP = /\S {2,}\S/;

/**
 * Rows whose columns stand one below another, as terminals and reports show them: each begins where its header does.
 * Null for another text.
 */
function alignedRows(text: string): ParsedRows | null {
  if (text.length > GUESS_LETTERS) return null;
  const lines = text.split(/\r\n?|\n/).map((shown, i) => ({ line: i + 1, shown: shown.trimEnd() }));
  const filled = lines.filter(({ shown }) => shown !== '' && !isRule([shown]));
  const header = filled.find(({ shown }) => GAP.test(shown));
  if (!header) return null;
  const starts = [...header.shown.matchAll(/(?<=^| {2})\S/g)].map((m) => m.index);
  const fits = ({ shown }: { shown: string }) => starts.every((at) => at === 0 || (shown[at - 1] ?? ' ') === ' ');
  if (starts.length < 2 || filled.filter(fits).length < ALIGNED_SHARE * filled.length) return null;
  const [rows, aside]: [TableRow[], RowAside[]] = [[], []];
  for (const one of filled) {
    const { line, shown } = one;
    if (fits(one)) rows.push({ line, cells: starts.map((at, i) => shown.slice(at, starts[i + 1]).trim()) });
    else aside.push({ line, cells: [shown], reason: 'The line does not keep to the columns of the header' });
  }
  return { rows, aside, delimiter: ' ' };
}

/** Of the lines of a text, those that must keep to its columns. */
const ALIGNED_SHARE = 0.9;

/** The rows as they are written, or with other quotation marks where that leaves less amiss. */
function likeliestRows(text: string): ParsedRows {
  const asWritten = parseRows(text);
  if (asWritten.rows.every(({ cells }) => cells.length === 1)) return alignedRows(text) ?? asWritten;
  let [best, least] = [asWritten, amissIn(asWritten)];
  if (least === 0) return best;
  const { delimiter } = asWritten;
  // The header and the first person: how a file is written shows there.
  const firstRows = text
    .slice(0, WINDOW)
    .split(/\r\n?|\n/, 2)
    .join('\n');
  for (const { isIn, rewrite } of OTHER_QUOTES) {
    if (!isIn(firstRows, delimiter)) continue;
    const rows = parseRows(rewrite(text, delimiter));
    const amiss = amissIn(rows);
    if (amiss < least) [best, least] = [rows, amiss];
  }
  return best;
}

/** Rows that could not be read or are of another width than most, and cells with stray marks around them. */
function amissIn({ rows, aside }: ParsedRows): number {
  const widths = new Map<number, number>();
  for (const { cells } of rows) widths.set(cells.length, (widths.get(cells.length) ?? 0) + 1);
  const usual = Math.max(0, ...widths.values());
  let stray = 0;
  for (const { cells } of rows)
    for (const cell of cells) {
      const text = cell.trim();
      if (text.length > 2 && /^["']/.test(text) && /["']$/.test(text)) stray++;
    }
  return aside.length + rows.length - usual + stray;
}

function parseRows(text: string): { rows: TableRow[]; aside: RowAside[]; delimiter: string } {
  const form = guessForm(text);
  const reader = new DelimitedRows(form);
  const [rows, aside]: [TableRow[], RowAside[]] = [[], []];
  const take = (read: RowsRead) => {
    for (const row of read.rows) rows.push(row);
    for (const row of read.aside) aside.push(row);
  };
  for (let at = 0; at < text.length; at += MORSEL) take(reader.push(text.slice(at, at + MORSEL)));
  take(reader.end());
  return { rows, aside, delimiter: form.delimiter };
}

/** Characters read at once. */
const MORSEL = 128 * 1024;
/**
 * After a row whose quotation marks are odd this many characters are read, and twice as many each time that all are
 * even.
 */
const WINDOW = 2048;

/** Rows that could be read, and those that could not; blank ones are skipped. */
export interface RowsRead {
  rows: TableRow[];
  aside: RowAside[];
}

/** A row longer than this has a quotation mark that is never closed. */
const LONGEST_ROW = 16 * 1024 * 1024;
const NEVER_CLOSED = 'A quotation mark that opens in this row is never closed';

/** Reads delimited text piece by piece; a row that a piece cuts waits for the next. */
export class DelimitedRows {
  private line = 1;
  /** What was read of a row that has not ended, and what has come since. */
  private rest = '';
  private since = '';

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

  push(text: string): RowsRead {
    this.since += text;
    // What waits is read again when as much has come: a long row costs its length, not its square.
    if (this.since.length < this.rest.length) return { rows: [], aside: [] };
    return this.readOn(false);
  }

  /** What still waited. */
  end(): RowsRead {
    return this.readOn(true);
  }

  private readOn(isLast: boolean): RowsRead {
    const out: RowsRead = { rows: [], aside: [] };
    let text = this.rest + this.since;
    this.since = '';
    for (;;) {
      this.rest = text.slice(this.readRows(text, isLast, out));
      if (this.rest.length <= LONGEST_ROW) return out;
      // Its first line goes aside, whatever comes.
      text = this.rest.slice(this.takeOdd(oddRow(this.rest, 0, this.form, true) as OddRow, this.rest, 0, out));
    }
  }

  /** @returns where the row begins that has not ended */
  private readRows(text: string, isLast: boolean, out: RowsRead): number {
    const { newline } = this.form;
    const lastOfBreak = newline.slice(-1);
    let [from, window] = [0, text.length];
    while (from < text.length) {
      const part = text.slice(from, from + window);
      const isEnd = isLast && from + window >= text.length;
      const { data, errors } = Papa.parse<string[]>(part, this.form);
      // The last row may go on in what comes.
      if (!isEnd) data.pop();
      const oddAt = errors.find((e) => e.type === 'Quotes' && (e.row ?? 0) < data.length)?.row;
      const mayBreak = newline.length > 1 || part.includes('"');
      const before = this.line;
      for (const cells of oddAt === undefined ? data : data.slice(0, oddAt)) {
        const start = this.line;
        this.line += 1 + (mayBreak ? breaksIn(cells, lastOfBreak) : 0);
        if (!isBlank(cells)) out.rows.push({ line: start, cells });
      }
      if (oddAt === undefined) {
        const isWhole = from + window >= text.length;
        from = isEnd ? from + part.length : afterBreaks(text, from, this.line - before, lastOfBreak);
        if (isWhole) return from;
        window *= 2;
        continue;
      }
      const at = afterBreaks(text, from, this.line - before, lastOfBreak);
      const odd = oddRow(text, at, this.form, isLast);
      if (odd === null) return at;
      from = this.takeOdd(odd, text, at, out);
      window = WINDOW;
    }
    return from;
  }

  /** @returns where the next row begins */
  private takeOdd({ cells, end, reason }: OddRow, text: string, at: number, out: RowsRead): number {
    const { line } = this;
    if (reason !== null) out.aside.push({ line, cells, reason, isWhole: true });
    else if (!isBlank(cells)) out.rows.push({ line, cells });
    this.line += breaksIn([text.slice(at, end)], this.form.newline.slice(-1));
    return end;
  }
}

/** A row whose quotation marks stand elsewhere than RFC 4180 (2.5 to 2.7) has them. */
interface OddRow {
  cells: string[];
  /** Where the next row begins. */
  end: number;
  /** Why it cannot be used. */
  reason: string | null;
}

/**
 * Reads a row of odd quotation marks: a cell such as `"Bo Lind" <bo@lindgardens.example>` is taken as it is written,
 * up to the next delimiter. Where a quotation mark is never closed, or on a later line only by one that is itself odd,
 * the row ends with its line and is of no use.
 *
 * @param at where the row begins
 * @returns null where what comes next will tell
 */
function oddRow(text: string, at: number, form: DelimitedForm, isLast: boolean): OddRow | null {
  const { delimiter, newline } = form;
  const next = (what: string, from: number) => {
    const found = text.indexOf(what, from);
    return found < 0 ? text.length : found;
  };
  const cells: string[] = [];
  for (let from = at; ;) {
    let end = Math.min(next(delimiter, from), next(newline, from));
    if (text[from] === '"') {
      const { mark, after } = closingMark(text, from, form);
      if (mark < 0 && !isLast) return null;
      if (after !== null) {
        cells.push(text.slice(from + 1, mark).replaceAll('""', '"'));
        end = after;
      } else if (mark >= 0 && mark < next(newline, from)) cells.push(text.slice(from, end));
      else {
        const lineEnd = next(newline, at);
        if (lineEnd === text.length && !isLast) return null;
        const own = text.slice(at, lineEnd).split(delimiter);
        return { cells: own, end: Math.min(text.length, lineEnd + newline.length), reason: NEVER_CLOSED };
      }
    } else cells.push(text.slice(from, end));
    if (end === text.length && !isLast) return null;
    if (!text.startsWith(delimiter, end))
      return { cells, end: Math.min(text.length, end + newline.length), reason: null };
    from = end + delimiter.length;
  }
}

/**
 * The mark that closes a cell, or the first that neither closes it nor is doubled; −1 where none comes.
 *
 * @returns `after`: where the cell ends; null where the mark does not close it
 */
function closingMark(text: string, from: number, form: DelimitedForm): { mark: number; after: number | null } {
  for (let mark = text.indexOf('"', from + 1); mark >= 0; mark = text.indexOf('"', mark + 2)) {
    if (text[mark + 1] === '"') continue;
    let after = mark + 1;
    while (text[after] === ' ') after++;
    const closes =
      after === text.length || text.startsWith(form.delimiter, after) || text.startsWith(form.newline, after);
    return { mark, after: closes ? after : null };
  }
  return { mark: -1, after: null };
}

const isBlank = (cells: readonly string[]): boolean => cells.every((c) => c === '' || c.trim() === '') || isRule(cells);

/** A line that a program draws between a table's rows: `+----+----+`, `|---|:--:|`, `====`. */
function isRule(cells: readonly string[]): boolean {
  const first = cells.find((c) => c !== '')?.trimStart() ?? '';
  if (!/^[-+=:|]/.test(first)) return false;
  const line = cells.join('');
  return /^[-+=:|\s]*$/.test(line) && /-{3}|={3}/.test(line);
}

/** Where a text goes on after so many of a letter. */
function afterBreaks(text: string, from: number, breaks: number, letter: string): number {
  let at = from;
  for (let n = 0; n < breaks; n++) at = text.indexOf(letter, at) + 1;
  return at;
}

function breaksIn(cells: readonly string[], newline: string): number {
  let n = 0;
  for (const cell of cells) for (let at = cell.indexOf(newline); at >= 0; at = cell.indexOf(newline, at + 1)) n++;
  return n;
}

/** What separates the cells of a row, and rows. */
export interface DelimitedForm {
  delimiter: string;
  newline: '\n' | '\r\n' | '\r';
}

const DELIMITERS = [',', ';', '\t', '|', '~', '^'];
/** What is looked at to tell the form of a text. */
const GUESS_LETTERS = 200_000;
const GUESS_ROWS = 200;

/**
 * The delimiter at which the most cells of the first rows stand in rows of one width, and the line break; blank lines
 * and rows of odd quotation marks do not weigh in it.
 */
export function guessForm(text: string): DelimitedForm {
  const { delimiter, newline } = evenestRows(text);
  return { delimiter, newline };
}

/** The first rows of a text, split at the delimiter that makes the most of them equally wide. */
export interface EvenRows extends DelimitedForm {
  rows: TableRow[];
  /** Cells of most of them. */
  width: number;
  /** Of all, those that have so many. */
  share: number;
}

export function evenestRows(text: string): EvenRows {
  const head = text.slice(0, GUESS_LETTERS);
  const newline = Papa.parse(head, { delimiter: ',', preview: 1 }).meta.linebreak as DelimitedForm['newline'];
  let best: EvenRows = { delimiter: ',', newline, rows: [], width: 1, share: 0 };
  for (const delimiter of DELIMITERS) {
    const even = evenRows(head, { delimiter, newline });
    if (evenness(even) > evenness(best)) best = even;
  }
  return best;
}

/** The more the wider the rows are: 0 where that is one cell. */
const evenness = ({ width, share }: EvenRows): number => share * (1 - 1 / width);

function evenRows(head: string, form: DelimitedForm): EvenRows {
  const reader = new DelimitedRows(form);
  const rows = [...reader.push(head).rows, ...reader.end().rows].slice(0, GUESS_ROWS);
  const widths = new Map<number, number>();
  for (const { cells } of rows) widths.set(cells.length, (widths.get(cells.length) ?? 0) + 1);
  let best: EvenRows = { ...form, rows, width: 1, share: 0 };
  for (const [width, n] of widths) {
    const even = { ...form, rows, width, share: n / rows.length };
    if (evenness(even) > evenness(best)) best = even;
  }
  return best;
}
