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

/**
 * Collects the rows of a sheet, each costing what it holds: a row with its first and its 590th cell alone has two. In the
 * end, columns that are blank in all rows are left out.
 */
export class RowCollector {
  private readonly rows: { line: number; columns: number[]; values: string[] }[] = [];
  private readonly used = new Set<number>();
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

  end(): SheetRows {
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
