import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { toObservable } from '@angular/core/rxjs-interop';
import { dayNumber, NO_RESULTS, type Period, type RateName } from '@baton/core';
import { LiveUpdates } from '../live/live-updates';
import { WorkspaceTime } from '../time/workspace-time';
import { Comparison } from './comparison';
import { PeriodChoice } from './period-choice';
import { RateChoice } from './rate-choice';
import { overviewWords, pastLine, rateLines, type ComparedLine } from './results-words';
import { ResultsService } from './results-service';
import { resultsTexts } from './texts';

const texts = resultsTexts.overview;

/** Campaigns side by side, on one scale. */
@Component({
  selector: 'bt-results',
  imports: [Comparison, MatButton, PeriodChoice, RateChoice, RouterLink],
  templateUrl: './results.html',
  styleUrl: './report.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Results {
  protected readonly texts = texts;
  protected readonly file = resultsTexts.files.campaigns;
  protected readonly periodTexts = resultsTexts.period;
  private readonly service = inject(ResultsService);
  private readonly time = inject(WorkspaceTime);
  protected readonly period = signal<Period | null>(null);
  private readonly asked = computed(() => ({ period: this.period() }));
  protected readonly overview = inject(LiveUpdates).viewOf(
    toObservable(this.asked),
    ['progress', 'replies', 'campaigns'],
    ({ period }) => this.service.all(period),
  );
  protected readonly rate = signal<RateName>('replied');

  private readonly together = computed(() => this.overview()?.together ?? NO_RESULTS);
  protected readonly lines = computed<ComparedLine[]>(() => {
    const [rate, campaigns] = [this.rate(), this.overview()?.campaigns ?? []];
    const lines = rateLines(
      campaigns.map((c) => ({ key: String(c.id), name: c.name, counts: c.counts, isUnderWay: c.toCome > 0 })),
      rate,
    );
    return [
      ...lines.map((line, i) => ({
        ...line,
        link: `/results/${line.key}`,
        second: this.time.day(campaigns[i]?.firstSentAt ?? 0),
        secondInFile: this.time.isoDay(campaigns[i]?.firstSentAt ?? 0),
      })),
      ...(lines.length > 1 ? [pastLine('together', texts.together, this.together(), rate)] : []),
      ...this.before(),
    ];
  });
  protected readonly headline = computed(() =>
    overviewWords(this.overview() ?? { campaigns: [], together: NO_RESULTS }),
  );
  /** As many days before those that are shown; none where they are all. */
  private readonly before = computed(() => {
    const [period, counts] = [this.period(), this.overview()?.before];
    if (!period || !counts) return [];
    const days = dayNumber(period.to) - dayNumber(period.from) + 1;
    return [pastLine('before', resultsTexts.period.before(days), counts, this.rate())];
  });
}
