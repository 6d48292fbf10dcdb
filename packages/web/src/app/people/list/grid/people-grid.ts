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
import type { CellEdit, PersonRow } from '@baton/contract';
import { NOTES_KEY, outcomeColumn } from '@baton/core';
import type { SortBy } from '@baton/core';
import { Notices } from '../../../live/notices';
import { cellText, type GridColumn } from './grid-columns';
import { clamped, moved, rangeOf, type CellPlace, type CellRange, type Cursor, type GridSize } from './grid-cursor';
import { GridHead } from './grid-head';
import { cellId, GridRow } from './grid-row';
import type { GridRows } from './grid-rows';
import { GridViewport } from './grid-viewport';
import type { PickedRows } from './picked-rows';
import { SheetCells, type WrittenCell } from './sheet-cells';
import { peopleListTexts } from '../texts';

const texts = peopleListTexts.peopleGrid;

/** A list's people as a sheet: seen, marked, written into, copied and pasted; only what is in view is drawn. */
@Component({
  selector: 'bt-people-grid',
  imports: [GridHead, GridRow],
  templateUrl: './people-grid.html',
  styleUrl: './people-grid.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PeopleGrid {
  protected readonly texts = texts;
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
  private readonly editing = signal<WrittenCell | null>(null);
  private dragging = false;

  protected readonly count = computed(() => this.rows().ids().length);
  /** With the head, and with the column of ticks: what a screen reader counts. */
  protected readonly rowCount = computed(() => this.count() + 1);
  protected readonly columnCount = computed(() => this.columns().length + 1);
  protected readonly downBy = (px: number): string => `translateY(${px}px)`;
  protected readonly viewport = new GridViewport(this.count, this.columns);
  readonly size = computed<GridSize>(() => ({
    rows: this.count(),
    columns: this.columns().length,
    page: this.viewport.page(),
  }));
  private readonly cells = new SheetCells(this, this.notices, (edits) => {
    this.edited.emit(edits);
  });
  /** The cursor stays where it was as long as there is such a place. */
  private readonly cursor = linkedSignal<GridSize, Cursor | null>({
    source: this.size,
    computation: (size, before) => {
      const start = { row: 0, column: 0 };
      return clamped(before?.value ?? { anchor: start, focus: start }, size);
    },
  });
  private readonly range = computed(() => {
    const cursor = this.cursor();
    return cursor && rangeOf(cursor);
  });
  protected readonly activeCell = computed(() => {
    const focus = this.cursor()?.focus;
    return focus ? cellId(focus.row, focus.column) : null;
  });
  protected readonly share = computed(() => {
    const picked = this.picked().count();
    if (picked === 0) return 'none';
    return picked === this.count() ? 'all' : 'some';
  });

  constructor() {
    effect(() => {
      const [first, end] = this.shownRange();
      const rows = this.rows();
      rows.ids();
      untracked(() => rows.want(first, end));
    });
    const release = (): void => {
      this.dragging = false;
    };
    window.addEventListener('mouseup', release);
    inject(DestroyRef).onDestroy(() => window.removeEventListener('mouseup', release));
  }

  protected rowAt(index: number): PersonRow | undefined {
    return this.rows().row(index);
  }

  protected isPicked(index: number): boolean {
    return this.picked().has(this.rows().ids()[index] ?? -1);
  }

  protected markIn(index: number): CellRange | null {
    const range = this.range();
    return range && index >= range.top && index <= range.bottom ? range : null;
  }

  protected focusIn(index: number): number | null {
    const focus = this.cursor()?.focus;
    return focus?.row === index ? focus.column : null;
  }

  protected editingIn(index: number): WrittenCell | null {
    const editing = this.editing();
    return editing?.row === index ? editing : null;
  }

  /** The first and last row in view, for what is to be asked again. */
  shownRange(): [number, number] {
    return [this.viewport.first(), this.viewport.end()];
  }

  focus(): void {
    this.grid().nativeElement.focus({ preventScroll: true });
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
    else if (key === 'd') this.onRange((range) => this.cells.fillDown(range));
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
    if (event.key === 'Enter' && event.altKey)
      document.getElementById(cellId(focus.row, focus.column))?.querySelector('a')?.click();
    else if (event.key === ' ' && (ctrl || event.shiftKey))
      this.picked().press(focus.row, { ctrl: true, shift: event.shiftKey });
    else if ((event.key === ' ' || event.key === 'Enter') && column?.kind === 'tick') void this.cells.toggleTick(focus);
    else if (event.key === 'Enter' || event.key === 'F2') this.edit(null);
    else if (event.key === 'Escape') this.picked().clear();
    else if (event.key === 'Delete' || event.key === 'Backspace') this.onRange((range) => this.cells.clear(range));
    else if (event.key.length === 1 && !ctrl && !event.altKey) this.edit(event.key);
    else return false;
    return true;
  }

  private go(cursor: Cursor): void {
    this.cursor.set(cursor);
    this.viewport.reveal(this.grid().nativeElement, cursor.focus);
  }

  private askColumn(column: number): void {
    const key = this.columns()[column]?.key;
    const at = this.grid().nativeElement.querySelectorAll<HTMLElement>('.head .column')[column];
    if (key !== undefined && at) this.columnAsked.emit({ key, at });
  }

  /** @param begun what the first key wrote; null to edit the value that is there */
  private edit(begun: string | null): void {
    const focus = this.cursor()?.focus;
    const column = focus && this.columns()[focus.column];
    const row = focus && this.rowAt(focus.row);
    if (!focus || !column || !row || this.readonly()) return;
    if (!column.writable) {
      this.notices.say(
        column.key === NOTES_KEY
          ? texts.notesAreWrittenByBaton
          : outcomeColumn(column.key)
            ? texts.outcomesAreWrittenByBaton
            : texts.isComputedChangeItsFormula(column.name),
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
    if (edit) this.cells.write([edit]);
  }

  protected pressTick(row: number, column: number): void {
    if (!this.readonly()) void this.cells.toggleTick({ row, column });
  }

  protected copy(event: ClipboardEvent): void {
    if (this.isOnSheet(event)) this.onRange((range) => this.cells.copy(range, event));
  }

  protected cut(event: ClipboardEvent): void {
    if (!this.isOnSheet(event)) return;
    this.onRange(async (range) => {
      if (await this.cells.copy(range, event)) await this.cells.clear(range);
    });
  }

  protected paste(event: ClipboardEvent): void {
    if (this.isOnSheet(event) && !this.readonly()) this.onRange((range) => this.cells.paste(range, event));
  }

  /** Whether a clipboard's event is the sheet's, not that of a cell being written. */
  private isOnSheet(event: ClipboardEvent): boolean {
    return event.target === this.grid().nativeElement;
  }

  private onRange(act: (range: CellRange) => Promise<unknown>): void {
    const range = this.range();
    if (range) void act(range);
  }
}

function placeOf(target: EventTarget | null): CellPlace | null {
  const cell = (target as HTMLElement | null)?.closest<HTMLElement>('[data-column]');
  const row = cell?.dataset['row'];
  const column = cell?.dataset['column'];
  return row === undefined || column === undefined ? null : { row: Number(row), column: Number(column) };
}
