import { DomainError } from '../../../../errors';
import type { TableRow } from '../table';

/** A sheet of a workbook. */
export interface Sheet {
  name: string;
  isHidden: boolean;
}

/** What a sheet holds. */
export interface SheetRows {
  /** `line` is the sheet's own row number; cells of gaps are blank, columns with nothing in them are left out. */
  rows: TableRow[];
  /** How many of them the sheet does not show: hidden by hand or by a filter. */
  hidden: number;
}

/** The sheets of a workbook in the order of their tabs. */
export interface Workbook {
  sheets: readonly Sheet[];
  /**
   * One sheet's rows, their values as they are shown; a date as ISO writes it, whatever its look.
   *
   * @param withHidden whether rows that the sheet does not show come too
   * @throws DomainError `too_large` past {@link MAX_SHEET_ROWS} or {@link MAX_CELLS}; `invalid` when it is damaged
   */
  read(sheet: number, withHidden: boolean): SheetRows;
}

/** As many rows as the largest sheets of spreadsheet programs have. */
export const MAX_SHEET_ROWS = 1_048_576;
/** A sheet wider than this is not a list of people; further cells are skipped. */
export const MAX_SHEET_COLUMNS = 600;
/** The most a cell of a spreadsheet program holds; the rest of a longer one is cut. */
export const MAX_CELL_LENGTH = 32_767;
/** Cells of a sheet that are kept in memory, and letters in them. */
export const MAX_CELLS = 3_000_000;
export const MAX_LETTERS = 60_000_000;

const SAVE_AS_CSV = 'Save the sheet as CSV, which is read piece by piece; nothing has been imported.';

interface StoredRow {
  line: number;
  /** Increasing. */
  columns: number[];
  values: string[];
}

/**
 * Collects the rows of a sheet, each costing what it holds: a row with its first and its 590th cell alone has two. In the
 * end, columns that are blank in all rows are left out.
 */
export class RowCollector {
  private readonly rows: StoredRow[] = [];
  private readonly used = new Set<number>();
  private readonly links: { line: number; column: number; address: string }[] = [];
  private readonly spans: { column: number; from: number; to: number }[] = [];
  private hidden = 0;
  private cells = 0;
  private letters = 0;

  constructor(private readonly withHidden: boolean) {}

  /** @param columns of the values, increasing; blank values need not be given */
  add(line: number, columns: readonly number[], values: readonly string[], isHidden: boolean): void {
    const filled = columns.flatMap((column, i) => (values[i] === '' || column >= MAX_SHEET_COLUMNS ? [] : [i]));
    if (filled.length === 0) return;
    if (isHidden) this.hidden++;
    if (isHidden && !this.withHidden) return;
    if (this.rows.length >= MAX_SHEET_ROWS)
      throw new DomainError(
        'too_large',
        `The sheet has more than ${MAX_SHEET_ROWS.toLocaleString('en-GB')} rows, more than a spreadsheet program holds. Nothing has been imported.`,
      );
    const row = { line, columns: filled.map((i) => columns[i]!), values: filled.map((i) => values[i]!) };
    this.cells += filled.length;
    for (const value of row.values) this.letters += value.length;
    this.check(this.cells, this.letters);
    for (const column of row.columns) this.used.add(column);
    this.rows.push(row);
  }

  private check(cells: number, letters: number): void {
    if (cells > MAX_CELLS)
      throw new DomainError(
        'too_large',
        `The sheet has more than ${MAX_CELLS.toLocaleString('en-GB')} cells. ${SAVE_AS_CSV}`,
      );
    if (letters > MAX_LETTERS)
      throw new DomainError(
        'too_large',
        `The sheet has more than ${MAX_LETTERS.toLocaleString('en-GB')} letters. ${SAVE_AS_CSV}`,
      );
  }

  /**
   * Says that a cell goes on in the rows below it: it has its value in each.
   *
   * @param from the line that has the value
   * @param to the last line of the span
   */
  span(column: number, from: number, to: number): void {
    this.check(this.spans.push({ column, from, to }), 0);
  }

  private fillSpans(): void {
    let steps = 0;
    for (const { column, from, to } of this.spans) {
      const value = this.valueAt(from, column);
      if (value === '' || column >= MAX_SHEET_COLUMNS) continue;
      for (let at = this.indexOf(from) + 1; (this.rows[at]?.line ?? Infinity) <= to; at++) {
        this.check(++steps, 0);
        if (this.valueAt((this.rows[at] as StoredRow).line, column) === '') this.put(at, column, value);
      }
    }
  }

  /** Says where a cell links to; what it shows stays, and the address comes beside it where its row shows none. */
  link(line: number, column: number, target: string): void {
    const address = /^mailto:([^?\s]*@[^?\s]*)/i.exec(target)?.[1];
    if (address !== undefined && column < MAX_SHEET_COLUMNS) this.check(this.links.push({ line, column, address }), 0);
  }

  private followLinks(): void {
    // A word that stands on several of them, such as *Write*, is nobody's name.
    const shownBy = new Map<string, number>();
    const shownOf = this.links.map(({ line, column }) => this.valueAt(line, column));
    for (const shown of shownOf) shownBy.set(shown, (shownBy.get(shown) ?? 0) + 1);
    this.links.forEach(({ line, column, address }, i) => {
      const at = this.indexOf(line);
      const row = this.rows[at];
      const shown = shownOf[i] as string;
      if (row?.line !== line || row.values.some((value) => value.includes('@'))) return;
      this.put(at, column, shown === '' || (shownBy.get(shown) ?? 0) > 1 ? address : `${shown} <${address}>`);
    });
  }

  /** Of the first row at or below a line; lines increase, as sheets have them. */
  private indexOf(line: number): number {
    let [low, high] = [0, this.rows.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((this.rows[middle] as StoredRow).line < line) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  private valueAt(line: number, column: number): string {
    const row = this.rows[this.indexOf(line)];
    return row?.line === line ? (row.values[row.columns.indexOf(column)] ?? '') : '';
  }

  private put(at: number, column: number, value: string): void {
    const row = this.rows[at] as StoredRow;
    const found = row.columns.indexOf(column);
    if (found >= 0) row.values[found] = value;
    else {
      const next = row.columns.findIndex((c) => c > column);
      const place = next < 0 ? row.columns.length : next;
      row.columns.splice(place, 0, column);
      row.values.splice(place, 0, value);
      this.cells++;
      this.used.add(column);
    }
    this.letters += value.length;
    this.check(this.cells, this.letters);
  }

  end(): SheetRows {
    this.fillSpans();
    this.followLinks();
    const at = new Map([...this.used].sort((a, b) => a - b).map((column, i) => [column, i]));
    this.check(
      this.rows.reduce((sum, { columns }) => sum + 1 + (at.get(columns.at(-1)!) ?? 0), 0),
      0,
    );
    const rows = this.rows.map(({ line, columns, values }): TableRow => {
      const cells = new Array<string>(1 + at.get(columns.at(-1)!)!).fill('');
      columns.forEach((column, i) => (cells[at.get(column)!] = values[i]!));
      return { line, cells };
    });
    return { rows, hidden: this.hidden };
  }
}
