import { CdkVirtualScrollViewport, ScrollingModule } from '@angular/cdk/scrolling';
import { ChangeDetectionStrategy, Component, computed, inject, input, output, viewChild } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { MOST_REPLIES, type IncomingView, type ReplyChange, type ReplyFilter } from '@baton/contract';
import { INCOMING_HEADINGS, incomingEntry } from '@baton/core';
import { firstValueFrom, switchMap } from 'rxjs';
import { Notices } from '../live/notices';
import { CountPipe } from '../look/count-pipe';
import { typedText } from '../look/event-input';
import { Ticks } from '../look/ticks';
import { MomentPipe, WorkspaceTime } from '../time/workspace-time';
import { ChangeMany } from './change-many';
import { outcomeWords } from './outcomes';
import { RepliesService } from './replies-service';
import { ReplyPages } from './reply-pages';
import { repliesTexts } from './texts';

const texts = repliesTexts.replies;

export const FILTERS: readonly { kind: ReplyFilter; words: string }[] = [
  { kind: 'without_outcome', words: texts.withoutOutcome },
  { kind: 'later', words: texts.comesBack },
  ...INCOMING_HEADINGS,
  { kind: 'unmatched', words: texts.unmatched },
  { kind: 'all', words: texts.all },
];

/** Messages that came in, newest first, by what they are; of any number. */
@Component({
  selector: 'bt-reply-list',
  imports: [ChangeMany, CountPipe, MomentPipe, ScrollingModule],
  templateUrl: './reply-list.html',
  styleUrl: './reply-list.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ReplyList {
  protected readonly texts = texts;
  protected readonly typedText = typedText;
  protected readonly pages = inject(ReplyPages);
  private readonly service = inject(RepliesService);
  private readonly notices = inject(Notices);
  private readonly time = inject(WorkspaceTime);
  /** What is open, also where the list no longer has it: setting an outcome must not take it from under the eye. */
  readonly open = input<IncomingView>();
  readonly opened = output<number>();
  readonly chosen = output<ReplyFilter>();
  private readonly viewport = viewChild(CdkVirtualScrollViewport);

  protected readonly filters = computed(() => FILTERS.map((f) => ({ ...f, n: this.pages.counts()[f.kind] ?? 0 })));
  protected readonly filter = computed(() => this.pages.asked().show);
  /** By their ids. */
  private readonly ticks = new Ticks();
  protected readonly ticked = this.ticks.ids;

  readonly rows = computed(() => {
    const listed = this.pages.rows();
    const open = this.open();
    const rows = open ? withOpen(listed, open) : listed;
    return rows.map((r, i) => (r === null ? { id: -i - 1, isLoaded: false as const } : this.rowOf(r)));
  });

  constructor() {
    toObservable(this.viewport)
      .pipe(
        switchMap((viewport) => viewport?.renderedRangeStream ?? []),
        takeUntilDestroyed(),
      )
      .subscribe(({ start, end }) => this.pages.look(start, end));
  }

  private rowOf(r: IncomingView) {
    const { words, tone } = incomingEntry(r.kind);
    const marks = [
      outcomeWords(r.outcome),
      r.isAnswered ? texts.answered : '',
      r.assignedTo,
      r.remindOn === null ? '' : texts.on(this.time.dayWords(r.remindOn)),
    ];
    return {
      ...r,
      isLoaded: true as const,
      ...{ words, tone },
      said: r.own || r.subject,
      marks: marks.filter((m) => m !== '').join(' · '),
    };
  }

  protected readonly byId = (_: number, row: { id: number }): number => row.id;

  protected choose(show: ReplyFilter): void {
    this.untick();
    this.chosen.emit(show);
  }

  protected find(event: Event): void {
    this.pages.choose({ search: typedText(event) });
  }

  protected assigned(event: Event): void {
    this.pages.choose({ assigned: typedText(event) });
  }

  /** Ticks one, or all from the one ticked before. */
  protected tick(id: number, event: MouseEvent): void {
    this.ticks.press(id, event, this.loadedIds());
  }

  /** Ticks what is open, or takes the tick away. */
  tickOpen(): void {
    const open = this.open();
    if (open) this.ticks.put([open.id], !this.ticked().has(open.id));
  }

  /** Ticks all that are loaded. */
  protected tickAll(): void {
    this.ticks.put(this.loadedIds(), true);
  }

  protected untick(): void {
    this.ticks.clear();
  }

  protected async change(change: ReplyChange): Promise<void> {
    const ids = [...this.ticked()];
    try {
      let changed = 0;
      for (let i = 0; i < ids.length; i += MOST_REPLIES)
        changed += (await firstValueFrom(this.service.change(ids.slice(i, i + MOST_REPLIES), change))).changed;
      this.notices.say(texts.changed(changed));
      this.untick();
    } catch (error) {
      this.notices.failure(error);
    }
  }

  /** The message so many places below one, or above; undefined where there is none, or none is loaded. */
  beside(id: number, by: number): number | undefined {
    const rows = this.rows();
    const row = rows[rows.findIndex((r) => r.id === id) + by];
    return row?.isLoaded ? row.id : undefined;
  }

  /** Brings a message into view. */
  reveal(id: number): void {
    const at = this.rows().findIndex((r) => r.id === id);
    const viewport = this.viewport();
    if (at < 0 || !viewport) return;
    const top = at * ROW;
    const from = viewport.measureScrollOffset();
    const height = viewport.getViewportSize();
    if (top < from) viewport.scrollToOffset(top);
    else if (top + ROW > from + height) viewport.scrollToOffset(top + ROW - height);
  }

  private loadedIds(): number[] {
    return this.rows().flatMap((r) => (r.isLoaded ? [r.id] : []));
  }
}

/** Pixels of one row, as its style has it. */
const ROW = 60;

/** Rows with the open message in its place, where that is among those that are loaded. */
function withOpen(rows: (IncomingView | null)[], open: IncomingView): (IncomingView | null)[] {
  if (rows.some((r) => r?.id === open.id)) return rows;
  const isBefore = (r: IncomingView) => open.receivedAt - r.receivedAt || open.id - r.id;
  const at = rows.findIndex((r) => r !== null && isBefore(r) > 0);
  const place = at >= 0 ? at : rows.at(-1) === null ? -1 : rows.length;
  // Before what is loaded there may be others, among which it belongs.
  return place < 0 || (place > 0 && rows[place - 1] === null) ? rows : rows.toSpliced(place, 0, open);
}
