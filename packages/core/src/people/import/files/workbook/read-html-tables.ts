import { Parser } from 'htmlparser2';
import { MAX_CELL_LENGTH, MAX_SHEET_COLUMNS, RowCollector, type Workbook, MAX_CELLS } from './sheet';

/** Whether a text is a page with a table: what many programs export under the name of a workbook. */
export const isHtmlTable = (text: string): boolean =>
  /^\s*<(?:!doctype html|html|head|body|meta|table|\?xml)\b/i.test(text.slice(0, 500)) && /<table[\s>]/i.test(text);

interface HtmlRow {
  columns: number[];
  values: string[];
  links: { column: number; target: string }[];
}

/** Blanks in HTML are one, however many are written. */
const oneBlank = (text: string): string => text.replace(/[ \t\r\n]+/g, ' ').trim();

/** Reads the tables of a page as sheets, in their order; a table inside a cell is a table of its own. */
export function readHtmlTables(html: string): Workbook {
  const reader = new TableReader();
  const parser = new Parser({
    onopentag: (name, attributes) => reader.open(name, attributes),
    ontext: (text) => reader.write(text),
    onclosetag: (name) => reader.close(name),
  });
  parser.end(html);
  const filled = reader.tables.filter((rows) => rows.some((r) => r.columns.length > 0));
  return {
    sheets: filled.map((_, i) => ({ name: `table ${i + 1}`, isHidden: false })),
    read(index, withHidden) {
      const rows = new RowCollector(withHidden);
      filled[index]?.forEach(({ columns, values, links }, i) => {
        rows.add(i + 1, columns, values, false);
        for (const { column, target } of links) rows.link(i + 1, column, target);
      });
      return rows.end();
    },
  };
}

const BREAKS: ReadonlySet<string> = new Set(['br', 'p', 'div']);

class TableReader {
  readonly tables: HtmlRow[][] = [];
  private readonly inside: HtmlRow[][] = [];
  private row: HtmlRow | null = null;
  private column = 0;
  private span = 1;
  private rows = 1;
  private cell: string | null = null;
  private link = '';
  /** Cells that go on in the rows below, of each table that is open. */
  private readonly spanning: Map<number, { rows: number; value: string }>[] = [];
  private carried = 0;

  open(name: string, attributes: Readonly<Record<string, string>>): void {
    if (name === 'table') {
      const table: HtmlRow[] = [];
      this.tables.push(table);
      this.inside.push(table);
      this.spanning.push(new Map());
      [this.row, this.cell] = [null, null];
    } else if (name === 'tr') {
      this.endRow();
      this.row = { columns: [], values: [], links: [] };
      this.column = 0;
      this.inside.at(-1)?.push(this.row);
    } else if (name === 'td' || name === 'th') {
      this.endCell();
      this.span = spanOf(attributes['colspan'], MAX_SHEET_COLUMNS);
      this.rows = spanOf(attributes['rowspan'], MAX_ROW_SPAN);
      [this.cell, this.link] = ['', ''];
    } else if (name === 'a' && this.cell !== null) {
      this.link ||= attributes['href'] ?? '';
    } else if (BREAKS.has(name) && this.cell) this.cell += '\n';
  }

  write(text: string): void {
    // Line breaks of the source are blanks.
    if (this.cell !== null && this.cell.length < 2 * MAX_CELL_LENGTH) this.cell += text.replace(/[\r\n]+/g, ' ');
  }

  close(name: string): void {
    if (name !== 'td' && name !== 'th' && name !== 'tr' && name !== 'table') return;
    if (name === 'td' || name === 'th') this.endCell();
    else this.endRow();
    if (name !== 'table') return;
    this.inside.pop();
    this.spanning.pop();
  }

  private endCell(): void {
    const { row, cell } = this;
    this.cell = null;
    if (!row || cell === null) return;
    this.carryOn(row, this.column);
    const { column } = this;
    if (column >= MAX_SHEET_COLUMNS) return;
    const shown = cell.split('\n').map(oneBlank).join('\n').trim().slice(0, MAX_CELL_LENGTH);
    if (shown !== '') {
      row.columns.push(column);
      row.values.push(shown);
    }
    if (this.link !== '') row.links.push({ column, target: this.link });
    if (this.rows > 1)
      for (let i = 0; i < this.span; i++)
        this.spanning.at(-1)?.set(column + i, { rows: this.rows - 1, value: i === 0 ? shown : '' });
    this.column += this.span;
  }

  private endRow(): void {
    this.endCell();
    if (this.row) this.carryOn(this.row, MAX_SHEET_COLUMNS);
    this.row = null;
  }

  /** Puts cells of the rows above that go on in this one where no other stands, up to the first free column. */
  private carryOn(row: HtmlRow, last: number): void {
    const spanning = this.spanning.at(-1);
    if (!spanning || spanning.size === 0) return;
    for (; this.column < MAX_SHEET_COLUMNS && (this.column < last || spanning.has(this.column)); this.column++) {
      const above = spanning.get(this.column);
      if (!above) continue;
      if (--above.rows === 0) spanning.delete(this.column);
      if (above.value === '' || ++this.carried > MAX_CELLS) continue;
      row.columns.push(this.column);
      row.values.push(above.value);
    }
  }
}

/** Rows that a cell may span, as browsers have it. */
const MAX_ROW_SPAN = 65_534;

const spanOf = (written: string | undefined, most: number): number =>
  Math.min(most, Math.max(1, Math.floor(Number(written)) || 1));
