import { splitName } from '../import/cleaning/clean-names';

/** How one column becomes several. */
export type SplitBy = { kind: 'separator'; separator: string } | { kind: 'name' };

/** More parts than this from one cell is a mistake. */
export const MAX_PARTS = 10;

/**
 * Splits each cell into parts. What lies beyond the last part stays with it, so that nothing is lost.
 *
 * @returns one row of parts per cell, all as long as the longest; by name: given and family name, both blank where
 *   the two cannot be told apart
 */
export function splitCells(cells: readonly string[], by: SplitBy): string[][] {
  if (by.kind === 'name') {
    return cells.map((cell) => {
      const parts = splitName(cell);
      return parts ? [parts.given, parts.family] : ['', ''];
    });
  }
  const split = cells.map((cell) => partsOf(cell, by.separator));
  const width = Math.max(1, ...split.map((p) => p.length));
  return split.map((parts) => [...parts, ...Array<string>(width - parts.length).fill('')]);
}

function partsOf(cell: string, separator: string): string[] {
  if (cell.trim() === '') return [];
  const parts = (separator.trim() === '' ? cell.trim().split(/\s+/) : cell.split(separator)).map((p) => p.trim());
  if (parts.length <= MAX_PARTS) return parts;
  const glue = separator.trim() === '' ? ' ' : separator;
  return [...parts.slice(0, MAX_PARTS - 1), parts.slice(MAX_PARTS - 1).join(glue)];
}
