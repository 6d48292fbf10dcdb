import { CdkDrag, type CdkDragEnd } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input, output, signal } from '@angular/core';
import type { PlanBoard } from '@baton/contract';
import { dayNumber, isoDate } from '@baton/core';
import { WorkspaceTime } from '../time/workspace-time';
import { shortAddress } from '../look/short-address';
import { DayDrag } from './day-drag';
import { gridOf, monthsOf, percent, type Column, type Zoom } from './board-grid';
import type { WhatIfAnswer } from './what-if-answer';
import { planTexts } from './texts';
import { CountPipe } from '../look/count-pipe';

const texts = planTexts.board;

/** How a cell is found by its place. */
const cellId = (row: number, column: number): string => `${row}/${column}`;

/** A row per mailbox, a column per day: the load against what it may. A table, worked with arrow keys. */
@Component({
  selector: 'bt-board',
  imports: [CdkDrag, CountPipe],
  host: { '(keydown)': 'key($event)' },
  templateUrl: './board.html',
  styleUrl: './board.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Board {
  private readonly time = inject(WorkspaceTime);
  protected readonly texts = texts;
  protected readonly cellId = cellId;
  protected readonly percent = percent;
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  readonly board = input.required<PlanBoard>();
  readonly answer = input<WhatIfAnswer | null>(null);
  readonly from = input.required<string>();
  readonly zoom = input.required<Zoom>();
  /** ISO date and mailbox of the batch that is open. */
  readonly opened = input<{ day: string; mailbox: number } | null>(null);
  readonly open = output<{ day: string; mailbox: number }>();
  /** A week is to be seen day by day: its first day, and the row that it was asked from. */
  readonly look = output<{ day: string; row: number }>();
  readonly moveStart = output<{ campaign: number; day: string }>();

  protected readonly shortAddress = shortAddress;
  protected readonly grid = computed(() => gridOf(this.board(), this.answer(), this.from(), this.zoom()));
  protected readonly months = computed(() => monthsOf(this.grid().columns, this.board().today));
  protected readonly isByDay = computed(() => this.zoom().step === 1);
  protected readonly rowHeight = computed(() => {
    const n = this.board().mailboxes.length;
    return n <= 6 ? 78 : n <= 12 ? 54 : n <= 25 ? 38 : 28;
  });
  /** The cell that Tab reaches. */
  private readonly at = signal({ row: 0, column: 0 });
  protected readonly drag = inject(DayDrag);

  /** Starts that are still to come, by the column they fall in. */
  protected readonly starts = computed(() => {
    const { columns } = this.grid();
    return columns.map((c) => {
      const end = isoDate(dayNumber(c.day) + c.days);
      return this.board().campaigns.filter(
        (o) => !o.hasBegun && o.state !== 'finished' && o.startDate >= c.day && o.startDate < end,
      );
    });
  });
  protected readonly anyStart = computed(() => this.starts().some((s) => s.length > 0));

  protected note(row: number): string {
    const m = this.grid().rows[row]?.mailbox;
    if (!m) return '';
    if (m.note !== '') return m.note;
    return m.ramps ? texts.rampToADay(m.dailyQuota) : texts.aDay(m.dailyQuota);
  }

  protected isTabStop(row: number, column: number): boolean {
    const { row: r, column: c } = this.at();
    return r === row && c === column;
  }

  protected isOpen(row: number, column: Column): boolean {
    const opened = this.opened();
    return opened?.mailbox === this.grid().rows[row]?.mailbox.id && opened?.day === column.day && this.isByDay();
  }

  protected press(row: number, column: number): void {
    const { rows, columns } = this.grid();
    this.at.set({ row, column });
    const [mailbox, day] = [rows[row]?.mailbox.id, columns[column]?.day];
    if (mailbox === undefined || day === undefined) return;
    if (this.isByDay()) this.open.emit({ day, mailbox });
    else this.look.emit({ day, row });
  }

  /** The keyboard goes to the first day of a row. */
  focusRow(row: number): void {
    const first = this.grid().columns.findIndex((c) => !c.shut);
    this.focus(row, Math.max(0, first));
  }

  private focus(row: number, column: number): void {
    this.at.set({ row, column });
    this.host.nativeElement.querySelector<HTMLElement>(`[data-cell="${cellId(row, column)}"]`)?.focus();
  }

  /** Arrow keys, Home and End go from cell to cell; narrow bands are skipped. */
  protected key(event: KeyboardEvent): void {
    const { rows, columns } = this.grid();
    let { row, column } = this.at();
    const step = (from: number, by: number) => {
      let to = from + by;
      while (columns[to]?.shut) to += by;
      if (columns[to]) column = to;
    };
    if (event.key === 'ArrowRight') step(column, 1);
    else if (event.key === 'ArrowLeft') step(column, -1);
    else if (event.key === 'ArrowDown') row = Math.min(rows.length - 1, row + 1);
    else if (event.key === 'ArrowUp') row = Math.max(0, row - 1);
    else if (event.key === 'Home') step(-1, 1);
    else if (event.key === 'End') step(columns.length, -1);
    else return;
    event.preventDefault();
    this.focus(row, column);
  }

  protected focused(row: number, column: number): void {
    this.at.set({ row, column });
  }

  /** A start is a button: left and right move it by a day. */
  protected startKey(event: KeyboardEvent, campaign: number, day: string): void {
    const by = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
    if (by === 0) return;
    event.preventDefault();
    event.stopPropagation();
    this.moveStart.emit({ campaign, day: isoDate(dayNumber(day) + by * this.zoom().step) });
  }

  /** The day onto which something can be dragged; null by the week. */
  protected dayOf(column: Column): string | null {
    return this.isByDay() ? column.day : null;
  }

  protected drop(event: CdkDragEnd, campaign: number): void {
    const day = this.drag.ended(event);
    if (day !== null) this.moveStart.emit({ campaign, day });
  }

  protected startWords(name: string, day: string): string {
    return texts.startsMoveItWithThe(name, this.time.dayWords(day));
  }
}
