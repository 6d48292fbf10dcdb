import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { LiveUpdates } from '../live/live-updates';
import { Chart } from '../look/charts/chart';
import { Figures, type FigureTable } from '../look/charts/figures';
import type { ChartOption } from '../look/charts/picture';
import { MomentPipe, WorkspaceTime } from '../time/workspace-time';
import {
  daysToShow,
  hasAnything,
  HISTORY_HEIGHT,
  historyOption,
  historyWords,
  topOf,
  troubledOn,
  type HistoryDay,
} from './history-chart';
import { MailboxesService } from './mailboxes-service';
import { mailboxesTexts } from './texts';

const texts = mailboxesTexts.mailboxHistory;
const HEADS = [texts.day, ...Object.values(texts.columns)];

/** What left from a mailbox day by day, and what happened to it. */
@Component({
  selector: 'bt-mailbox-history',
  imports: [Chart, Figures, MomentPipe],
  templateUrl: './mailbox-history.html',
  styleUrl: './mailbox-history.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MailboxHistoryView {
  private readonly time = inject(WorkspaceTime);
  protected readonly texts = texts;
  protected readonly height = HISTORY_HEIGHT;
  private readonly service = inject(MailboxesService);
  readonly mailboxId = input.required<number>();
  readonly address = input.required<string>();
  protected readonly history = inject(LiveUpdates).viewOf(toObservable(this.mailboxId), ['mailboxes', 'today'], (id) =>
    this.service.history(id),
  );
  private readonly days = computed(() => daysToShow(this.history()?.days ?? []));
  protected readonly option = computed<ChartOption | null>(() => {
    const days = this.days();
    const dayWords = (day: string) => this.time.dayWords(day);
    return topOf(days) === 0 ? null : (theme) => historyOption(days, dayWords, theme);
  });
  protected readonly words = computed(() => historyWords(this.days()));
  protected readonly legend = computed(() => {
    const [days, top] = [this.days(), topOf(this.days())];
    return [
      texts.barIsWhatLeft,
      ...(days.some((d) => d.quota !== null && d.quota <= top) ? [texts.markIsTheQuota] : []),
      ...(days.some((d) => troubledOn(d) > 0) ? [texts.belowTheLine] : []),
    ].join('; ');
  });
  protected readonly file = computed(() => texts.file(this.address()));
  /** Days on which something left or might have, the newest first. */
  protected readonly table = computed(() =>
    tableOf(this.days().filter(hasAnything).reverse(), (day) => this.time.dayWords(day)),
  );
  protected readonly everyDay = computed(() => tableOf(this.days(), (day) => day));
}

const tableOf = (days: readonly HistoryDay[], dayOf: (iso: string) => string): FigureTable => ({
  heads: HEADS,
  rows: days.map(({ day, units, quota, health: h }) => [
    ...[dayOf(day), units, quota],
    ...(h ? [h.replies, h.bounces, h.refusals, h.complaints] : [null, null, null, null]),
  ]),
});
