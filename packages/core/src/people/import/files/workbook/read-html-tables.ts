import { Parser } from 'htmlparser2';
import { MAX_CELL_LENGTH, MAX_SHEET_COLUMNS, RowCollector, type Workbook } from './sheet';

/** Whether a text is a page with a table: what many programs export under the name of a workbook. */
export const isHtmlTable = (text: string): boolean =>
  /^\s*<(?:!doctype html|html|head|body|meta|table|\?xml)\b/i.test(text.slice(0, 500)) && /<table[\s>]/i.test(text);

interface HtmlRow {
  columns: number[];
  values: string[];
}

/** Blanks in HTML are one, however many are written. */
const oneBlank = (text: string): string => text.replace(/[ \t\r\n]+/g, ' ').trim();

/** Reads the tables of a page as sheets, in their order; a table inside a cell is a table of its own. */
export function readHtmlTables(html: string): Workbook {
  const reader = new TableReader();
  const parser = new Parser({
    onopentag: (name, attributes) => reader.open(name, attributes['colspan']),
    ontext: (text) => reader.write(text),
    onclosetag: (name) => reader.close(name),
  });
  parser.end(html);
  const filled = reader.tables.filter((rows) => rows.some((r) => r.columns.length > 0));
  return {
    sheets: filled.map((_, i) => ({ name: `table ${i + 1}`, isHidden: false })),
    read(index, withHidden) {
      const rows = new RowCollector(withHidden);
      filled[index]?.forEach(({ columns, values }, i) => rows.add(i + 1, columns, values, false));
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
  private cell: string | null = null;

  open(name: string, colspan: string | undefined): void {
    if (name === 'table') {
      const table: HtmlRow[] = [];
      this.tables.push(table);
      this.inside.push(table);
      [this.row, this.cell] = [null, null];
    } else if (name === 'tr') {
      this.endCell();
      this.row = { columns: [], values: [] };
      this.column = 0;
      this.inside.at(-1)?.push(this.row);
    } else if (name === 'td' || name === 'th') {
      this.endCell();
      this.span = Math.min(MAX_SHEET_COLUMNS, Math.max(1, Math.floor(Number(colspan)) || 1));
      this.cell = '';
    } else if (BREAKS.has(name) && this.cell) this.cell += '\n';
  }

  write(text: string): void {
    // Line breaks of the source are blanks.
    if (this.cell !== null && this.cell.length < 2 * MAX_CELL_LENGTH) this.cell += text.replace(/[\r\n]+/g, ' ');
  }

  close(name: string): void {
    if (name !== 'td' && name !== 'th' && name !== 'tr' && name !== 'table') return;
    this.endCell();
    if (name === 'table') this.inside.pop();
    if (name === 'tr' || name === 'table') this.row = null;
  }

  private endCell(): void {
    const { row, cell, column } = this;
    this.cell = null;
    if (!row || cell === null || column >= MAX_SHEET_COLUMNS) return;
    const value = cell.split('\n').map(oneBlank).join('\n').trim().slice(0, MAX_CELL_LENGTH);
    if (value !== '') {
      row.columns.push(column);
      row.values.push(value);
    }
    this.column += this.span;
  }
}
