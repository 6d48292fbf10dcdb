import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { toObservable } from '@angular/core/rxjs-interop';
import { dayNumber, NO_RESULTS, rateOf, type Period, type RateName } from '@baton/core';
import { LiveUpdates } from '../live/live-updates';
import { CountPipe } from '../look/count-pipe';
import { MomentPipe } from '../time/workspace-time';
import { PeriodChoice } from './period-choice';
import { RateChoice } from './rate-choice';
import { RateDots } from './rate-dots';
import { RateScale } from './rate-scale';
import { overviewWords, percentOf, rangeWords, rateLines, scaleEnd, scaleWords } from './results-words';
import { ResultsService } from './results-service';
import { resultsTexts } from './texts';

const texts = resultsTexts.overview;

/** Campaigns side by side, on one scale. */
@Component({
  selector: 'bt-results',
  imports: [CountPipe, MatButton, MomentPipe, PeriodChoice, RateChoice, RateDots, RateScale, RouterLink],
  templateUrl: './results.html',
  styleUrls: ['./report.scss', './result-tables.scss', './results.scss'],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Results {
  protected readonly texts = texts;
  protected readonly rateNames = resultsTexts.rates;
  protected readonly periodTexts = resultsTexts.period;
  private readonly service = inject(ResultsService);
  protected readonly period = signal<Period | null>(null);
  private readonly asked = computed(() => ({ period: this.period() }));
  protected readonly overview = inject(LiveUpdates).viewOf(
    toObservable(this.asked),
    ['progress', 'replies', 'campaigns'],
    ({ period }) => this.service.all(period),
  );
  protected readonly rate = signal<RateName>('replied');
  protected readonly scale = computed(() => scaleWords(this.rate()));
  protected readonly percentOf = percentOf;
  protected readonly rangeWords = rangeWords;

  protected readonly lines = computed(() => {
    const campaigns = this.overview()?.campaigns ?? [];
    const lines = rateLines(
      campaigns.map((c) => ({ key: String(c.id), name: c.name, counts: c.counts, isUnderWay: c.toCome > 0 })),
      this.rate(),
    );
    return lines.map((line, i) => ({ ...line, firstSentAt: campaigns[i]?.firstSentAt ?? 0 }));
  });
  protected readonly together = computed(() => {
    const counts = this.overview()?.together ?? NO_RESULTS;
    return rateOf(this.rate(), counts);
  });
  protected readonly headline = computed(() =>
    overviewWords(this.overview() ?? { campaigns: [], together: NO_RESULTS }),
  );
  /** As many days before those that are shown; null where they are all. */
  protected readonly before = computed(() => {
    const [period, counts] = [this.period(), this.overview()?.before];
    if (!period || !counts) return null;
    const days = dayNumber(period.to) - dayNumber(period.from) + 1;
    return { name: resultsTexts.period.before(days), range: rateOf(this.rate(), counts) };
  });
  protected readonly end = computed(() =>
    scaleEnd([
      ...this.lines().map((l) => l.range.high),
      this.before()?.range.of ? (this.before()?.range.high ?? 0) : 0,
    ]),
  );
}
