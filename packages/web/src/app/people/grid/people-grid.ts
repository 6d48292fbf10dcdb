import {
  ChangeDetectionStrategy,
  ChangeDetectorRef,
  Component,
  computed,
  DestroyRef,
  effect,
  type ElementRef,
  inject,
  input,
  linkedSignal,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import type { CellEdit, PersonRow } from '@baton/contract';
import { ADDRESS_KEY, cellsFromClipboard, cellsToClipboard, NOTES_KEY, noteWords, TICK, tagsOf } from '@baton/core';
import type { SortBy } from '@baton/core';
import { Notices } from '../../live/notices';
import { cellText, LEAST_WIDTH, type GridColumn } from './grid-columns';
import { cellsIn, clamped, isIn, moved, pasted, rangeOf, type CellPlace, type Cursor } from './grid-cursor';
import type { GridRows } from './grid-rows';
import type { PickedRows } from './picked-rows';

/** Height of a row, and width of the column where rows are picked. */
const ROW = 35;
const GUTTER = 72;
/** Rows drawn beyond what is seen, above and below. */
const SPARE = 8;
/** Chromium draws no element taller than about 33 million pixels; beyond, scrolling is scaled. */
const TALLEST = 30_000_000;
/** More cells than this are not copied or written at once. */
const MOST_CELLS = 200_000;

/** A list's people as a sheet: seen, marked, written into, copied and pasted; only what is in view is drawn. */
@Component({
  selector: 'bt-people-grid',
  imports: [RouterLink],
  templateUrl: './people-grid.html',
  styleUrl: './people-grid.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PeopleGrid {
  private readonly notices = inject(Notices);
  private readonly view = inject(ChangeDetectorRef);
  readonly rows = input.required<GridRows>();
  readonly columns = input.required<GridColumn[]>();
  readonly sort = input.required<SortBy[]>();
  readonly picked = input.required<PickedRows>();
  readonly readonly = input(false);
  readonly edited = output<CellEdit[]>();
  readonly sorted = output<SortBy[]>();
  readonly columnAsked = output<{ key: string; at: HTMLElement }>();
  readonly columnAdded = output<HTMLElement>();
  readonly columnMoved = output<{ key: string; before: string | null }>();
  readonly resized = output<{ key: string; width: number }>();
  readonly undone = output<'undo' | 'redo'>();

  private readonly grid = viewChild.required<ElementRef<HTMLElement>>('grid');
  private readonly scroller = viewChild.required<ElementRef<HTMLElement>>('scroller');
  private readonly top = signal(0);
  private readonly seen = signal(600);
  protected readonly editing = signal<(CellPlace & { value: string }) | null>(null);
  protected readonly carried = signal<string | null>(null);
  private dragging = false;

  protected readonly count = computed(() => this.rows().ids().length);
  protected readonly size = computed(() => ({
    rows: this.count(),
    columns: this.columns().length,
    page: Math.max(1, Math.floor(this.seen() / ROW) - 2),
  }));
  /** The cursor stays where it was as long as there is such a place. */
  protected readonly cursor = linkedSignal<{ rows: number; columns: number; page: number }, Cursor | null>({
    source: this.size,
    computation: (size, before) => {
      const start = { row: 0, column: 0 };
      return clamped(before?.value ?? { anchor: start, focus: start }, size);
    },
  });
  protected readonly range = computed(() => {
    const cursor = this.cursor();
    return cursor && rangeOf(cursor);
  });
  private readonly scale = computed(() => Math.max(1, (this.count() * ROW) / TALLEST));
  protected readonly height = computed(() => ((this.count() + 1) * ROW) / this.scale());
  protected readonly width = computed(() => GUTTER + 40 + this.columns().reduce((sum, c) => sum + c.width, 0));
  private readonly first = computed(() => Math.max(0, Math.floor((this.top() * this.scale()) / ROW) - SPARE));
  private readonly drawn = computed(() => Math.ceil(this.seen() / ROW) + 2 * SPARE);
  /** Rows to draw. Each keeps its element while it is in view, and hands it on when it leaves. */
  protected readonly slots = computed(() => {
    const [first, drawn] = [this.first(), this.drawn()];
    const last = Math.min(this.count(), first + drawn);
    const out: { slot: number; index: number; y: number }[] = [];
    for (let index = first; index < last; index++)
      out.push({ slot: index % drawn, index, y: (index + 1) * ROW - (this.scale() - 1) * this.top() });
    return out.sort((a, b) => a.slot - b.slot);
  });

  constructor() {
    effect(() => {
      const [first, drawn] = [this.first(), this.drawn()];
      const rows = this.rows();
      rows.ids();
      untracked(() => rows.want(first, first + drawn));
    });
    const release = (): void => {
      this.dragging = false;
    };
    window.addEventListener('mouseup', release);
    inject(DestroyRef).onDestroy(() => window.removeEventListener('mouseup', release));
  }

  protected readonly address = ADDRESS_KEY;
  protected readonly notes = NOTES_KEY;
  protected readonly noteWords = noteWords;
  protected readonly tagsOf = tagsOf;
  protected readonly tick = TICK;

  protected rowAt(index: number): PersonRow | undefined {
    return this.rows().row(index);
  }

  protected text(row: PersonRow, column: GridColumn): string {
    return cellText(row, column.key);
  }

  protected isMarked(row: number, column: number): boolean {
    const range = this.range();
    return range !== null && isIn(range, row, column);
  }

  protected isFocus(row: number, column: number): boolean {
    const focus = this.cursor()?.focus;
    return focus?.row === row && focus.column === column;
  }

  protected isPicked(index: number): boolean {
    return this.picked().has(this.rows().ids()[index] ?? -1);
  }

  protected sortOf(key: string): { at: number; descending: boolean } | null {
    const at = this.sort().findIndex((s) => s.key === key);
    return at < 0 ? null : { at, descending: this.sort()[at]?.descending ?? false };
  }

  protected scrolled(): void {
    const { scrollTop, clientHeight } = this.scroller().nativeElement;
    this.top.set(scrollTop);
    this.seen.set(clientHeight);
  }

  /** The first and last row in view, for what is to be asked again. */
  shownRange(): [number, number] {
    return [this.first(), this.first() + this.drawn()];
  }

  focus(): void {
    this.grid().nativeElement.focus({ preventScroll: true });
  }

  protected pressHeader(key: string, event: MouseEvent): void {
    const own = this.sortOf(key);
    const next: SortBy[] = own?.descending ? [] : [{ key, descending: own !== null }];
    const others = this.sort().filter((s) => s.key !== key);
    this.sorted.emit(event.shiftKey ? [...others, ...next] : next);
  }

  protected pressGutter(index: number, event: MouseEvent): void {
    event.preventDefault();
    this.picked().press(index, { ctrl: true, shift: event.shiftKey });
    const at = { row: index, column: 0 };
    this.cursor.set({ anchor: at, focus: at });
    this.focus();
  }

  protected pressAll(): void {
    const picked = this.picked();
    if (picked.count() > 0) picked.clear();
    else picked.pick(this.rows().ids());
  }

  protected pressCell(event: MouseEvent): void {
    const place = placeOf(event.target);
    if (!place || event.button !== 0 || (event.target as HTMLElement).closest('a, input')) return;
    event.preventDefault();
    this.commit();
    const cursor = this.cursor();
    if (event.ctrlKey || event.metaKey) this.picked().press(place.row, { ctrl: true, shift: false });
    this.cursor.set({ anchor: event.shiftKey && cursor ? cursor.anchor : place, focus: place });
    this.dragging = true;
    this.focus();
  }

  protected dragOver(event: MouseEvent): void {
    const place = this.dragging ? placeOf(event.target) : null;
    if (place) this.cursor.update((c) => c && { ...c, focus: place });
  }

  protected pressTwice(event: MouseEvent): void {
    if (placeOf(event.target)) this.edit(null);
  }

  protected onKey(event: KeyboardEvent): void {
    const cursor = this.cursor();
    if (event.target !== this.grid().nativeElement || !cursor) return;
    const ctrl = event.ctrlKey || event.metaKey;
    if (event.altKey && event.key === 'ArrowDown') this.askColumn(cursor.focus.column);
    else if (ctrl && this.control(event.key.toLowerCase(), event.shiftKey)) {
      // Done.
    } else if (!this.move(event, cursor, ctrl) && !this.act(event, cursor, ctrl)) return;
    event.preventDefault();
  }

  /** What a key does together with ctrl. @returns whether it does anything */
  private control(key: string, shift: boolean): boolean {
    if (key === 'z') this.undone.emit(shift ? 'redo' : 'undo');
    else if (key === 'y') this.undone.emit('redo');
    else if (key === 'd') void this.fillDown();
    else if (key === 'a') this.picked().pick(this.rows().ids());
    else return false;
    return true;
  }

  private move(event: KeyboardEvent, cursor: Cursor, ctrl: boolean): boolean {
    if (event.altKey) return false;
    const tab: Record<string, string> = { Tab: event.shiftKey ? 'ArrowLeft' : 'ArrowRight' };
    // Tab leaves the sheet from its last column, so that nobody is caught in it.
    const column = cursor.focus.column + (event.shiftKey ? -1 : 1);
    if (event.key === 'Tab' && (column < 0 || column >= this.columns().length)) return false;
    const key = tab[event.key] ?? event.key;
    const next = moved(cursor, key, event.shiftKey && event.key !== 'Tab', ctrl, this.size());
    if (next) this.go(next);
    return next !== null;
  }

  private act(event: KeyboardEvent, { focus }: Cursor, ctrl: boolean): boolean {
    const column = this.columns()[focus.column];
    if (event.key === 'Enter' && event.altKey) document.getElementById(this.cellId(focus))?.querySelector('a')?.click();
    else if (event.key === ' ' && (ctrl || event.shiftKey))
      this.picked().press(focus.row, { ctrl: true, shift: event.shiftKey });
    else if ((event.key === ' ' || event.key === 'Enter') && column?.kind === 'tick') void this.toggleTick(focus);
    else if (event.key === 'Enter' || event.key === 'F2') this.edit(null);
    else if (event.key === 'Escape') this.picked().clear();
    else if (event.key === 'Delete' || event.key === 'Backspace') void this.clearMarked();
    else if (event.key.length === 1 && !ctrl && !event.altKey) this.edit(event.key);
    else return false;
    return true;
  }

  private go(cursor: Cursor): void {
    this.cursor.set(cursor);
    const box = this.scroller().nativeElement;
    const { row, column } = cursor.focus;
    const above = (row * ROW) / this.scale();
    const below = ((row + 2) * ROW) / this.scale() - box.clientHeight;
    if (box.scrollTop > above) box.scrollTop = above;
    else if (box.scrollTop < below) box.scrollTop = below;
    const left =
      GUTTER +
      this.columns()
        .slice(0, column)
        .reduce((sum, c) => sum + c.width, 0);
    const frozen = GUTTER + (this.columns()[0]?.width ?? 0);
    if (column > 0 && box.scrollLeft > left - frozen) box.scrollLeft = left - frozen;
    const right = left + (this.columns()[column]?.width ?? 0) - box.clientWidth;
    if (box.scrollLeft < right) box.scrollLeft = right;
  }

  protected cellId({ row, column }: CellPlace): string {
    return `cell-${row}-${column}`;
  }

  private askColumn(column: number): void {
    const key = this.columns()[column]?.key;
    const at = this.grid().nativeElement.querySelectorAll<HTMLElement>('.head .column')[column];
    if (key !== undefined && at) this.columnAsked.emit({ key, at });
  }

  /** @param begun what the first key wrote; null to go on with what stands there */
  private edit(begun: string | null): void {
    const focus = this.cursor()?.focus;
    const column = focus && this.columns()[focus.column];
    const row = focus && this.rowAt(focus.row);
    if (!focus || !column || !row || this.readonly()) return;
    if (!column.writable) {
      this.notices.say(
        column.key === NOTES_KEY
          ? 'Notes are Baton’s own; they follow what it knows of the address.'
          : `${column.name} is computed; change its formula in the column’s menu.`,
      );
      return;
    }
    this.editing.set({ ...focus, value: begun ?? cellText(row, column.key) });
    // At once: the next key must already go into the cell.
    this.view.detectChanges();
    const input = this.grid().nativeElement.querySelector<HTMLInputElement>('.editor');
    input?.focus();
    if (begun === null) input?.select();
  }

  protected editKey(event: KeyboardEvent): void {
    const onward: Record<string, string> = { Enter: 'ArrowDown', Tab: event.shiftKey ? 'ArrowLeft' : 'ArrowRight' };
    const key = onward[event.key];
    event.stopPropagation();
    if (event.key === 'Escape') this.editing.set(null);
    else if (key === undefined) return;
    else this.commit();
    event.preventDefault();
    this.focus();
    const cursor = this.cursor();
    const next = key !== undefined && cursor ? moved(cursor, key, false, false, this.size()) : null;
    if (next) this.go(next);
  }

  protected typed(value: string): void {
    this.editing.update((e) => e && { ...e, value });
  }

  protected commit(): void {
    const edit = this.editing();
    this.editing.set(null);
    if (edit) this.write([edit]);
  }

  /** Writes what differs from what stands there. */
  private write(cells: readonly (CellPlace & { value: string })[]): void {
    if (this.readonly()) return;
    const edits: CellEdit[] = [];
    for (const { row, column, value } of cells) {
      const key = this.columns()[column];
      const rowId = this.rows().ids()[row];
      const person = this.rowAt(row);
      if (!key?.writable || rowId === undefined) continue;
      if (person && cellText(person, key.key) === value) continue;
      edits.push({ rowId, key: key.key, value });
    }
    if (edits.length > 0) this.edited.emit(edits);
  }

  private async toggleTick({ row, column }: CellPlace): Promise<void> {
    const [person] = await this.rows().load(row, row + 1);
    const key = this.columns()[column]?.key;
    if (person && key !== undefined) this.write([{ row, column, value: person.fields[key] === TICK ? '' : TICK }]);
  }

  protected pressTick(index: number, column: number): void {
    if (!this.readonly()) void this.toggleTick({ row: index, column });
  }

  private async clearMarked(): Promise<void> {
    const range = this.range();
    if (!range || !this.isFew(cellsIn(range))) return;
    await this.rows().load(range.top, range.bottom + 1);
    const cells: (CellPlace & { value: string })[] = [];
    for (let row = range.top; row <= range.bottom; row++)
      for (let column = range.left; column <= range.right; column++)
        if (this.columns()[column]?.key !== ADDRESS_KEY) cells.push({ row, column, value: '' });
    this.write(cells);
  }

  private async fillDown(): Promise<void> {
    const range = this.range();
    if (!range || range.top === range.bottom || !this.isFew(cellsIn(range))) return;
    const rows = await this.rows().load(range.top, range.bottom + 1);
    const first = rows[0];
    if (!first) return;
    const cells: (CellPlace & { value: string })[] = [];
    for (let column = range.left; column <= range.right; column++) {
      const key = this.columns()[column]?.key;
      if (key === undefined || key === ADDRESS_KEY) continue;
      for (let row = range.top + 1; row <= range.bottom; row++)
        cells.push({ row, column, value: cellText(first, key) });
    }
    this.write(cells);
  }

  protected async copy(event: ClipboardEvent, cut: boolean): Promise<void> {
    const range = this.range();
    if (!range || event.target !== this.grid().nativeElement || !this.isFew(cellsIn(range))) return;
    event.preventDefault();
    const columns = this.columns().slice(range.left, range.right + 1);
    const text = (rows: PersonRow[]) => cellsToClipboard(rows.map((r) => columns.map((c) => cellText(r, c.key))));
    const rows: PersonRow[] = [];
    for (let i = range.top; i <= range.bottom; i++) {
      const row = this.rowAt(i);
      if (row) rows.push(row);
    }
    // What is there goes onto the clipboard at once; what is not must be asked for first.
    if (rows.length === range.bottom - range.top + 1) event.clipboardData?.setData('text/plain', text(rows));
    else await navigator.clipboard.writeText(text(await this.rows().load(range.top, range.bottom + 1)));
    if (cut) await this.clearMarked();
  }

  protected async paste(event: ClipboardEvent): Promise<void> {
    const range = this.range();
    if (!range || event.target !== this.grid().nativeElement || this.readonly()) return;
    event.preventDefault();
    const copied = cellsFromClipboard(event.clipboardData?.getData('text/plain') ?? '');
    const { cells, beyond } = pasted(copied, range, this.size());
    if (!this.isFew(cells.length)) return;
    await this.rows().load(range.top, Math.max(...cells.map((c) => c.row)) + 1);
    this.write(cells);
    if (beyond > 0)
      this.notices.say(
        `${beyond} pasted ${beyond === 1 ? 'row lies' : 'rows lie'} beyond the end of the list; use “Bring in people” to add them.`,
      );
  }

  private isFew(cells: number): boolean {
    if (cells <= MOST_CELLS) return true;
    this.notices.say(
      `These are ${cells.toLocaleString('en')} cells; at most ${MOST_CELLS.toLocaleString('en')} are taken at once.`,
    );
    return false;
  }

  protected beginResize(column: GridColumn, event: PointerEvent): void {
    event.preventDefault();
    event.stopPropagation();
    const from = event.clientX;
    const handle = event.target as HTMLElement;
    handle.setPointerCapture(event.pointerId);
    handle.onpointermove = (e) =>
      this.resized.emit({ key: column.key, width: Math.max(LEAST_WIDTH, column.width + e.clientX - from) });
    handle.onpointerup = () => (handle.onpointermove = null);
  }

  protected dropOn(key: string | null): void {
    const carried = this.carried();
    this.carried.set(null);
    if (carried !== null && carried !== key) this.columnMoved.emit({ key: carried, before: key });
  }
}

function placeOf(target: EventTarget | null): CellPlace | null {
  const cell = (target as HTMLElement | null)?.closest<HTMLElement>('[data-column]');
  const row = cell?.dataset['row'];
  const column = cell?.dataset['column'];
  return row === undefined || column === undefined ? null : { row: Number(row), column: Number(column) };
}
