import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import { NO_RESULTS, rateRange, reachedOf, sumOfResults } from '@baton/core';
import { LiveUpdates } from '../live/live-updates';
import { CountPipe } from '../look/count-pipe';
import { WorkspaceTime } from '../time/workspace-time';
import { lineName } from './charts/replies-over-time';
import { messageWords, rangeWords, rateLines } from './results-words';
import { ResultsService } from './results-service';
import { resultsTexts } from './texts';

/** How a message has done, in the campaigns that have sent it; nothing before one has. */
@Component({
  selector: 'bt-message-results',
  host: { '[class.sheet]': 'lines().length > 0' },
  imports: [CountPipe, RouterLink],
  template: `
    @if (lines().length > 0) {
      <details>
        <summary>{{ words() }}</summary>
        <table>
          <thead>
            <tr>
              <th scope="col">{{ texts.campaign }}</th>
              <th scope="col">{{ texts.place }}</th>
              <th scope="col" class="num">{{ texts.reached }}</th>
              <th scope="col" class="num">{{ rates.replied }}</th>
              <th scope="col">{{ texts.range }}</th>
            </tr>
          </thead>
          <tbody>
            @for (l of lines(); track l.key) {
              <tr>
                <th scope="row">
                  <a [routerLink]="['/results', l.campaignId]">{{ l.name }}</a>
                </th>
                <td class="as">{{ l.as }}</td>
                <td class="num">{{ l.range.of | count }}</td>
                <td class="num">{{ l.share }}</td>
                <td>{{ rangeWords(l.range) }}</td>
              </tr>
            }
          </tbody>
        </table>
      </details>
    }
  `,
  styles: `
    summary {
      padding: 8px 12px;
      cursor: pointer;
    }
    table {
      width: 100%;
      border-collapse: collapse;
    }
    th,
    td {
      padding: 5px 8px;
      border-top: 1px solid var(--hairline);
      font-weight: 400;
      text-align: left;
    }
    th:first-child {
      padding-left: 12px;
    }
    td,
    .num {
      white-space: nowrap;
    }
    .num {
      text-align: right;
    }
    thead th::first-letter {
      text-transform: uppercase;
    }
    td.as {
      white-space: normal;
    }
    thead th {
      color: var(--ink-2);
      font-size: 13px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MessageResultsLine {
  protected readonly texts = resultsTexts.message;
  protected readonly rates = resultsTexts.rates;
  protected readonly rangeWords = rangeWords;
  private readonly time = inject(WorkspaceTime);
  private readonly service = inject(ResultsService);
  readonly messageId = input.required<number>();

  private readonly results = inject(LiveUpdates).viewOf(
    toObservable(this.messageId),
    ['progress', 'replies', 'campaigns'],
    (id) => this.service.message(id),
  );
  private readonly uses = computed(() => this.results()?.uses ?? []);
  protected readonly lines = computed(() => {
    const uses = this.uses();
    const lines = rateLines(
      uses.map(({ name, counts }, i) => ({ key: String(i), name, counts })),
      'replied',
    );
    return uses.map(({ campaignId, place, until }, i) => ({
      ...(lines[i] as (typeof lines)[number]),
      campaignId,
      as: until === null ? lineName(place) : this.texts.earlierText(lineName(place), this.time.day(until)),
    }));
  });
  protected readonly words = computed(() => {
    const uses = this.uses();
    const counts = uses.reduce((sum, u) => sumOfResults(sum, u.counts), NO_RESULTS);
    return messageWords(rateRange(counts.replied, reachedOf(counts)), new Set(uses.map((u) => u.campaignId)).size);
  });
}
