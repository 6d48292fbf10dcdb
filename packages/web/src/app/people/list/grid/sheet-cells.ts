import type { CellEdit, PersonRow } from '@baton/contract';
import { ADDRESS_KEY, cellsFromClipboard, cellsToClipboard, TICK } from '@baton/core';
import type { Notices } from '../../../live/notices';
import { cellText, type GridColumn } from './grid-columns';
import { cellsIn, pasted, type CellPlace, type CellRange, type GridSize } from './grid-cursor';
import type { GridRows } from './grid-rows';
import { peopleListTexts } from '../texts';

const texts = peopleListTexts.sheetCells;

/** More cells than this are not copied or written at once. */
const MOST_CELLS = 200_000;

/** A cell and its new value. */
export type WrittenCell = CellPlace & { value: string };

/** The sheet whose cells are worked on, as it is at the moment. */
export interface Sheet {
  rows(): GridRows;
  columns(): readonly GridColumn[];
  size(): GridSize;
  readonly(): boolean;
}

/** What is done to many cells at once: written, cleared, filled, copied and pasted. */
export class SheetCells {
  constructor(
    private readonly sheet: Sheet,
    private readonly notices: Notices,
    private readonly edited: (edits: CellEdit[]) => void,
  ) {}

  /** Writes the values that differ from those there. */
  write(cells: readonly WrittenCell[]): void {
    if (this.sheet.readonly()) return;
    const ids = this.sheet.rows().ids();
    const edits: CellEdit[] = [];
    for (const { row, column, value } of cells) {
      const into = this.sheet.columns()[column];
      const rowId = ids[row];
      const person = this.sheet.rows().row(row);
      if (!into?.writable || rowId === undefined) continue;
      if (person && cellText(person, into.key) === value) continue;
      edits.push({ rowId, key: into.key, value });
    }
    if (edits.length > 0) this.edited(edits);
  }

  async toggleTick({ row, column }: CellPlace): Promise<void> {
    const [person] = await this.sheet.rows().load(row, row + 1);
    const key = this.keyAt(column);
    if (person && key !== undefined) this.write([{ row, column, value: person.fields[key] === TICK ? '' : TICK }]);
  }

  /** Empties the marked cells; addresses stay. */
  async clear(range: CellRange): Promise<void> {
    if (!this.isFew(cellsIn(range))) return;
    await this.sheet.rows().load(range.top, range.bottom + 1);
    this.write(this.filled(range, range.top, () => ''));
  }

  /** Writes the first marked row into those below it; addresses stay. */
  async fillDown(range: CellRange): Promise<void> {
    if (range.top === range.bottom || !this.isFew(cellsIn(range))) return;
    const [first] = await this.sheet.rows().load(range.top, range.bottom + 1);
    if (first) this.write(this.filled(range, range.top + 1, (key) => cellText(first, key)));
  }

  private filled({ left, right, bottom }: CellRange, top: number, value: (key: string) => string): WrittenCell[] {
    const cells: WrittenCell[] = [];
    for (let column = left; column <= right; column++) {
      const key = this.keyAt(column);
      if (key === undefined || key === ADDRESS_KEY) continue;
      for (let row = top; row <= bottom; row++) cells.push({ row, column, value: value(key) });
    }
    return cells;
  }

  /** @returns whether the clipboard has them */
  async copy(range: CellRange, event: ClipboardEvent): Promise<boolean> {
    if (!this.isFew(cellsIn(range))) return false;
    event.preventDefault();
    const columns = this.sheet.columns().slice(range.left, range.right + 1);
    const text = (rows: PersonRow[]) => cellsToClipboard(rows.map((r) => columns.map((c) => cellText(r, c.key))));
    const rows: PersonRow[] = [];
    for (let i = range.top; i <= range.bottom; i++) {
      const row = this.sheet.rows().row(i);
      if (row) rows.push(row);
    }
    // Rows that are loaded go onto the clipboard at once; others must be fetched first.
    if (rows.length === range.bottom - range.top + 1) event.clipboardData?.setData('text/plain', text(rows));
    else await navigator.clipboard.writeText(text(await this.sheet.rows().load(range.top, range.bottom + 1)));
    return true;
  }

  async paste(range: CellRange, event: ClipboardEvent): Promise<void> {
    event.preventDefault();
    const copied = cellsFromClipboard(event.clipboardData?.getData('text/plain') ?? '');
    const { cells, beyond } = pasted(copied, range, this.sheet.size());
    if (!this.isFew(cells.length)) return;
    await this.sheet.rows().load(range.top, cells.reduce((last, c) => Math.max(last, c.row), range.top) + 1);
    this.write(cells);
    if (beyond > 0) this.notices.say(texts.pastedBeyondTheEnd(beyond));
  }

  private keyAt(column: number): string | undefined {
    return this.sheet.columns()[column]?.key;
  }

  private isFew(cells: number): boolean {
    if (cells <= MOST_CELLS) return true;
    this.notices.say(texts.thatIsCellsAtMost(cells, MOST_CELLS));
    return false;
  }
}
