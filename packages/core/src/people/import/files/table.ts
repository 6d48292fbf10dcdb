/** One row as it is in the file. */
export interface TableRow {
  /** Line of the file on which the row begins, or row of the sheet; 1-based. */
  line: number;
  cells: string[];
}

/** Cells of some rows as the bytes that they are, each of them plain: see {@link PlainLines}. */
export interface PlainCells {
  bytes: Uint8Array;
  /** Where each cell begins and ends: two numbers a cell. */
  bounds: Int32Array;
}

/** A row that may be bytes still: then `cells` has only those that were wanted as text, and the others are empty. */
export interface PieceRow extends TableRow {
  /** Null where all cells are in `cells`. */
  plain: PlainCells | null;
  /** Where the bounds of the row's cells begin. */
  at: number;
}

export interface RowAside extends TableRow {
  /** Why the row cannot be used, in words. */
  reason: string;
  /** Its cells are what the line has, not cut. */
  isWhole?: boolean;
  /** Its values by field key, where it fits the columns and only its address cannot be used. */
  fields?: Record<string, string>;
}

export interface Table {
  header: string[];
  /** Line of the header; null when the first row already was a person, and the names are `Column 1`, `Column 2`, … */
  headerLine: number | null;
  /** Rows above the header, such as titles: skipped. */
  titleRows: number;
  /** Each row exactly as long as the header. */
  rows: TableRow[];
  aside: RowAside[];
}
