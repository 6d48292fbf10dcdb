import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { NO_RESULTS, rateRange, reachedOf, sumOfResults } from '@baton/core';
import { LiveUpdates } from '../live/live-updates';
import { WorkspaceTime } from '../time/workspace-time';
import { lineName } from './charts/replies-over-time';
import { Comparison } from './comparison';
import { messageWords, rateLines, type ComparedLine } from './results-words';
import { ResultsService } from './results-service';
import { resultsTexts } from './texts';

/** How a message has done, in the campaigns that have sent it; nothing before one has. */
@Component({
  selector: 'bt-message-results',
  host: { '[class.sheet]': 'lines().length > 0' },
  imports: [Comparison],
  template: `
    @if (lines().length > 0) {
      <details>
        <summary>{{ words() }}</summary>
        <bt-comparison
          rate="replied"
          [lines]="lines()"
          [what]="texts.campaign"
          [second]="texts.place"
          [name]="files.message(name())"
        />
      </details>
    }
  `,
  styles: `
    summary {
      padding: 8px 12px;
      cursor: pointer;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MessageResultsLine {
  protected readonly texts = resultsTexts.message;
  protected readonly files = resultsTexts.files;
  private readonly time = inject(WorkspaceTime);
  private readonly service = inject(ResultsService);
  readonly messageId = input.required<number>();
  readonly name = input.required<string>();

  private readonly results = inject(LiveUpdates).viewOf(
    toObservable(this.messageId),
    ['progress', 'replies', 'campaigns'],
    (id) => this.service.message(id),
  );
  private readonly uses = computed(() => this.results()?.uses ?? []);
  protected readonly lines = computed<ComparedLine[]>(() => {
    const uses = this.uses();
    const lines = rateLines(
      uses.map(({ name, counts }, i) => ({ key: String(i), name, counts })),
      'replied',
    );
    return lines.map((line, i) => {
      const { campaignId, place, until } = uses[i] as (typeof uses)[number];
      return {
        ...line,
        link: `/results/${campaignId}`,
        second: until === null ? lineName(place) : this.texts.earlierText(lineName(place), this.time.day(until)),
      };
    });
  });
  protected readonly words = computed(() => {
    const uses = this.uses();
    const counts = uses.reduce((sum, u) => sumOfResults(sum, u.counts), NO_RESULTS);
    return messageWords(rateRange(counts.replied, reachedOf(counts)), new Set(uses.map((u) => u.campaignId)).size);
  });
}
