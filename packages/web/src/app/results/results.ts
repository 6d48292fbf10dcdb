import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { NO_RESULTS, rateRange, reachedOf, type RateName } from '@baton/core';
import { LiveUpdates } from '../live/live-updates';
import { CountPipe } from '../look/count-pipe';
import { MomentPipe } from '../time/workspace-time';
import { RateChoice } from './rate-choice';
import { RateDots } from './rate-dots';
import { RateScale } from './rate-scale';
import { overviewWords, percentOf, rangeWords, rateLines, scaleEnd } from './results-words';
import { ResultsService } from './results-service';
import { resultsTexts } from './texts';

const texts = resultsTexts.overview;

/** Campaigns side by side, on one scale. */
@Component({
  selector: 'bt-results',
  imports: [CountPipe, MatButton, MomentPipe, RateChoice, RateDots, RateScale, RouterLink],
  templateUrl: './results.html',
  styleUrls: ['./report.scss', './result-tables.scss', './results.scss'],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Results {
  protected readonly texts = texts;
  protected readonly rateNames = resultsTexts.rates;
  private readonly service = inject(ResultsService);
  protected readonly overview = inject(LiveUpdates).view(['progress', 'replies', 'campaigns'], () =>
    this.service.all(),
  );
  protected readonly rate = signal<RateName>('replied');
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
    return rateRange(counts[this.rate()], reachedOf(counts));
  });
  protected readonly headline = computed(() =>
    overviewWords(this.overview() ?? { campaigns: [], together: NO_RESULTS }),
  );
  protected readonly end = computed(() => scaleEnd(this.lines().map((l) => l.range.high)));
}
