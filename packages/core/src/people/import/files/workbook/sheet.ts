import type { TableRow } from '../table';

/** The sheets of a workbook by name, in the order of their tabs. */
export interface Workbook {
  sheets: string[];
  /**
   * One sheet's rows as they are shown: `line` is the sheet's own row number; cells of gaps are blank.
   *
   * @throws DomainError `too_large` past {@link MAX_SHEET_ROWS}; `invalid` when the sheet is damaged
   */
  rows(sheet: number): TableRow[];
}

/** As many rows as the largest sheets of spreadsheet programs have. */
export const MAX_SHEET_ROWS = 1_048_576;
/** A sheet wider than this is not a list of people; further cells are skipped. */
export const MAX_SHEET_COLUMNS = 600;
/** The most a cell of a spreadsheet program holds; the rest of a longer one is cut. */
export const MAX_CELL_LENGTH = 32_767;
