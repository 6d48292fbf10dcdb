import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { LiveUpdates } from '../live/live-updates';
import { Chart } from '../look/charts/chart';
import type { ChartOption } from '../look/charts/picture';
import { chartTexts } from '../look/charts/texts';
import { CountPipe } from '../look/count-pipe';
import { saveTable } from '../look/save-table';
import { MomentPipe, WorkspaceTime } from '../time/workspace-time';
import {
  daysToShow,
  hasAnything,
  HISTORY_HEIGHT,
  historyOption,
  historyWords,
  topOf,
  troubledOn,
} from './history-chart';
import { MailboxesService } from './mailboxes-service';
import { mailboxesTexts } from './texts';

const texts = mailboxesTexts.mailboxHistory;

/** What left from a mailbox day by day, and what happened to it. */
@Component({
  selector: 'bt-mailbox-history',
  imports: [Chart, CountPipe, MatButton, MomentPipe],
  templateUrl: './mailbox-history.html',
  styleUrls: ['../look/charts/drawn.scss', './mailbox-history.scss'],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MailboxHistoryView {
  private readonly time = inject(WorkspaceTime);
  protected readonly texts = texts;
  protected readonly chartTexts = chartTexts;
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
  protected readonly columns = Object.values(texts.columns);
  /** Days on which something left or might have, the newest first. */
  protected readonly rows = computed(() =>
    this.days()
      .filter(hasAnything)
      .map(({ day, units, quota, health }) => ({
        day: this.time.dayWords(day),
        figures: [units, quota, health?.replies, health?.bounces, health?.refusals, health?.complaints],
      }))
      .reverse(),
  );

  protected saveNumbers(): void {
    const rows = this.days().map(({ day, units, quota, health }) => [
      ...[day, units, quota ?? ''],
      ...[health?.replies ?? 0, health?.bounces ?? 0, health?.refusals ?? 0, health?.complaints ?? 0],
    ]);
    saveTable(this.file(), [[texts.day, ...this.columns], ...rows]);
  }
}
