import { CdkDrag, CdkDragHandle, CdkDropList, moveItemInArray, type CdkDragDrop } from '@angular/cdk/drag-drop';
import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  Injector,
  input,
  output,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import type { PlanBoard, PlanCampaignRow } from '@baton/contract';
import { sharesInOrder, type PlanChange, type SharedCampaign } from '@baton/core';
import { CountPipe } from '../look/count-pipe';
import { gridOf, linesOf, monthsOf, percent, type Zoom } from './board-grid';
import { planTexts } from './texts';
import type { WhatIfAnswer } from './what-if-answer';

const texts = planTexts.campaignBoard;

/** Campaigns against one another, by day: a row each, the one that comes first at the top; dragged into another order. */
@Component({
  selector: 'bt-campaign-board',
  imports: [CdkDrag, CdkDragHandle, CdkDropList, CountPipe, RouterLink],
  templateUrl: './campaign-board.html',
  styleUrls: ['./board.scss', './campaign-board.scss'],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CampaignBoard {
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly injector = inject(Injector);
  protected readonly texts = texts;
  protected readonly ofBoard = planTexts.board;
  protected readonly percent = percent;
  readonly board = input.required<PlanBoard>();
  readonly answer = input.required<WhatIfAnswer | null>();
  /** Changes that are tried out. */
  readonly changes = input.required<readonly PlanChange[]>();
  readonly from = input.required<string>();
  readonly zoom = input.required<Zoom>();
  /** Shares that campaigns are to have. */
  readonly share = output<SharedCampaign[]>();

  private readonly tried = computed(
    () => new Map(this.changes().flatMap((c) => (c.kind === 'share' ? [[c.campaign, c.to] as const] : []))),
  );
  protected readonly grid = computed(() => gridOf(this.board(), this.answer(), this.from(), this.zoom()));
  protected readonly months = computed(() => monthsOf(this.grid().columns, this.board().today));
  protected readonly isByDay = computed(() => this.zoom().step === 1);
  /** Those that run or are held, the largest share first. */
  protected readonly open = computed(() =>
    this.board()
      .campaigns.filter((c) => c.state !== 'finished')
      .map((c) => ({ ...c, share: this.tried().get(c.id) ?? c.share }))
      .sort((a, b) => b.share - a.share || a.id - b.id),
  );
  protected readonly last = computed(() => this.open().length - 1);
  /** Columns of the table, with that of the names. */
  protected readonly width = computed(() => this.grid().columns.length + 1);
  /** With those that have ended, as far as they have sent something in these days. */
  protected readonly lines = computed(() => {
    const ended = this.board().campaigns.filter((c) => c.state === 'finished');
    const all = linesOf(this.board(), this.answer(), this.grid().columns, [...this.open(), ...ended]);
    return all.filter((l) => l.campaign.state !== 'finished' || l.cells.some((c) => c.load > 0));
  });

  protected note({ state, share }: PlanCampaignRow): string {
    if (state === 'finished') return texts.ended;
    return share === 1 ? texts.asOftenAsOthers : texts.startsForOne(share);
  }

  protected drop(event: CdkDragDrop<unknown>): void {
    this.move(event.previousIndex, event.currentIndex);
  }

  /** Puts a campaign into another place; the keyboard stays with it, in the row that is drawn there. */
  protected step(index: number, by: -1 | 1): void {
    const id = this.open()[index]?.id;
    this.move(index, index + by);
    const wanted = by < 0 ? 'up' : 'down';
    const focus = () => {
      const buttons = this.host.querySelectorAll<HTMLElement>(`tr[data-campaign="${id}"] button:not(:disabled)`);
      ([...buttons].find((b) => b.dataset['step'] === wanted) ?? buttons[0])?.focus();
    };
    afterNextRender(focus, { injector: this.injector });
  }

  private move(from: number, to: number): void {
    const order = [...this.open()];
    const moved = order[from];
    if (!moved || from === to || to < 0) return;
    moveItemInArray(order, from, Math.min(to, order.length - 1));
    const changes = sharesInOrder(order, moved.id);
    if (changes.length > 0) this.share.emit(changes);
  }
}
