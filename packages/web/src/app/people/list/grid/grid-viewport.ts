import { computed, signal, type Signal } from '@angular/core';
import type { CellPlace } from './grid-cursor';
import type { GridColumn } from './grid-columns';

/** Height of a row, and width of the column where rows are picked, in pixels. */
const ROW = 35;
const GUTTER = 72;
/** Rows drawn beyond what is seen, above and below. */
const SPARE = 8;
/** Chromium draws no element taller than about 33 million pixels; beyond, scrolling is scaled. */
const TALLEST = 30_000_000;

/** A row to draw: its element, its place in the order, and its distance from the top in pixels. */
export interface Slot {
  slot: number;
  index: number;
  y: number;
}

/** Which rows of a sheet are in view, and where; only those are drawn. */
export class GridViewport {
  private readonly top = signal(0);
  private readonly seen = signal(600);

  constructor(
    private readonly count: Signal<number>,
    private readonly columns: Signal<readonly GridColumn[]>,
  ) {}

  private readonly wanted = computed(() => (this.count() + 1) * ROW);
  readonly height = computed(() => Math.min(this.wanted(), TALLEST));
  /** How many pixels of rows one pixel of scrolling is; the end of scrolling is the end of the rows. */
  private readonly scale = computed(() =>
    this.wanted() > TALLEST ? (this.wanted() - this.seen()) / (TALLEST - this.seen()) : 1,
  );
  readonly width = computed(() => GUTTER + 40 + widthOf(this.columns()));
  /** Rows that a page key goes. */
  readonly page = computed(() => Math.max(1, Math.floor(this.seen() / ROW) - 2));
  readonly first = computed(() => Math.max(0, Math.floor((this.top() * this.scale()) / ROW) - SPARE));
  /** After the last row drawn, were there so many. */
  readonly end = computed(() => this.first() + this.drawn());
  private readonly drawn = computed(() => Math.ceil(this.seen() / ROW) + 2 * SPARE);
  private readonly shift = computed(() => (this.scale() - 1) * this.top());
  /** Rows to draw. Each keeps its element while it is in view, and hands it on when it leaves. */
  readonly slots = computed<Slot[]>(() => {
    const [first, drawn, shift] = [this.first(), this.drawn(), this.shift()];
    const last = Math.min(this.count(), first + drawn);
    const out: Slot[] = [];
    for (let index = first; index < last; index++)
      out.push({ slot: index % drawn, index, y: (index + 1) * ROW - shift });
    return out.sort((a, b) => a.slot - b.slot);
  });

  scrolled({ scrollTop, clientHeight }: HTMLElement): void {
    this.top.set(scrollTop);
    this.seen.set(clientHeight);
  }

  /** Scrolls as little as needed to bring a cell into view, clear of the head and the column that stays. */
  reveal(box: HTMLElement, { row, column }: CellPlace): void {
    const above = (row * ROW) / this.scale();
    const below = ((row + 2) * ROW - box.clientHeight) / this.scale();
    if (box.scrollTop > above) box.scrollTop = above;
    else if (box.scrollTop < below) box.scrollTop = below;
    const columns = this.columns();
    const left = GUTTER + widthOf(columns.slice(0, column));
    const kept = GUTTER + (columns[0]?.width ?? 0);
    if (column > 0 && box.scrollLeft > left - kept) box.scrollLeft = left - kept;
    const right = left + (columns[column]?.width ?? 0) - box.clientWidth;
    if (box.scrollLeft < right) box.scrollLeft = right;
  }
}

const widthOf = (columns: readonly GridColumn[]): number => columns.reduce((sum, c) => sum + c.width, 0);
