/** A cell of the grid by its place, both 0-based. */
export interface CellPlace {
  row: number;
  column: number;
}

/** Cells from one corner to the other, both included. */
export interface CellRange {
  top: number;
  left: number;
  bottom: number;
  right: number;
}

/** Where the cursor is and what is marked from it: the anchor stays while the focus moves. */
export interface Cursor {
  anchor: CellPlace;
  focus: CellPlace;
}

export interface GridSize {
  rows: number;
  columns: number;
  /** Rows that a page key goes. */
  page: number;
}

export function rangeOf({ anchor, focus }: Cursor): CellRange {
  return {
    top: Math.min(anchor.row, focus.row),
    bottom: Math.max(anchor.row, focus.row),
    left: Math.min(anchor.column, focus.column),
    right: Math.max(anchor.column, focus.column),
  };
}

export const cellsIn = (r: CellRange): number => (r.bottom - r.top + 1) * (r.right - r.left + 1);

export const isIn = (r: CellRange, row: number, column: number): boolean =>
  row >= r.top && row <= r.bottom && column >= r.left && column <= r.right;

/** Keeps a cursor inside a grid whose rows or columns have become fewer; null for an empty one. */
export function clamped(cursor: Cursor, size: GridSize): Cursor | null {
  if (size.rows === 0 || size.columns === 0) return null;
  const inside = ({ row, column }: CellPlace): CellPlace => ({
    row: Math.min(row, size.rows - 1),
    column: Math.min(column, size.columns - 1),
  });
  return { anchor: inside(cursor.anchor), focus: inside(cursor.focus) };
}

/**
 * Where a key takes the cursor.
 *
 * @param mark with shift: the anchor stays
 * @param far with ctrl: to the edge
 * @returns null for a key that moves nothing
 */
export function moved(cursor: Cursor, key: string, mark: boolean, far: boolean, size: GridSize): Cursor | null {
  const step = stepOf(key, far, size);
  if (!step) return null;
  const focus = {
    row: clamp(cursor.focus.row + step.row, size.rows),
    column: clamp(cursor.focus.column + step.column, size.columns),
  };
  return { anchor: mark ? cursor.anchor : focus, focus };
}

function stepOf(key: string, far: boolean, size: GridSize): CellPlace | null {
  const all = Number.MAX_SAFE_INTEGER / 4;
  switch (key) {
    case 'ArrowUp':
      return { row: far ? -all : -1, column: 0 };
    case 'ArrowDown':
      return { row: far ? all : 1, column: 0 };
    case 'ArrowLeft':
      return { row: 0, column: far ? -all : -1 };
    case 'ArrowRight':
      return { row: 0, column: far ? all : 1 };
    case 'PageUp':
      return { row: -size.page, column: 0 };
    case 'PageDown':
      return { row: size.page, column: 0 };
    case 'Home':
      return { row: far ? -all : 0, column: -all };
    case 'End':
      return { row: far ? all : 0, column: all };
    default:
      return null;
  }
}

const clamp = (n: number, count: number): number => Math.max(0, Math.min(count - 1, n));

/**
 * What a paste puts where: the copied cells from the top left corner on; a single one, or a single row or column, is
 * repeated over a larger mark.
 *
 * @returns cells inside the grid, and how many rows lay beyond its end
 */
export function pasted(
  copied: readonly (readonly string[])[],
  mark: CellRange,
  size: GridSize,
): { cells: (CellPlace & { value: string })[]; beyond: number } {
  const height = copied.length;
  const width = Math.max(...copied.map((r) => r.length));
  const repeats = (marked: number, given: number) => (marked > given && marked % given === 0 ? marked : given);
  const rows = repeats(mark.bottom - mark.top + 1, height);
  const columns = repeats(mark.right - mark.left + 1, width);
  const cells: (CellPlace & { value: string })[] = [];
  for (let i = 0; i < rows; i++) {
    for (let j = 0; j < columns; j++) {
      const row = mark.top + i;
      const column = mark.left + j;
      if (row < size.rows && column < size.columns)
        cells.push({ row, column, value: copied[i % height]?.[j % width] ?? '' });
    }
  }
  return { cells, beyond: Math.max(0, mark.top + rows - size.rows) };
}
