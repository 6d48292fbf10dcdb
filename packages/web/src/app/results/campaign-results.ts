import { ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject, input } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { MOST_ANSWERS } from '@baton/contract';
import { NO_RESULTS } from '@baton/core';
import { LiveUpdates } from '../live/live-updates';
import { Chart } from '../look/charts/chart';
import type { ChartOption } from '../look/charts/picture';
import { chartTexts } from '../look/charts/texts';
import { CountPipe } from '../look/count-pipe';
import { saveTable } from '../look/save-table';
import { ShellState } from '../shell/shell-state';
import { MomentPipe, WorkspaceTime } from '../time/workspace-time';
import { lineName, messagesByDay, repliesHeight, repliesOption, repliesWords } from './charts/replies-over-time';
import { silenceOption, silenceWords } from './charts/silence';
import { STREAM_HEIGHT, streamOption, streamWords } from './charts/stream';
import { ResultGroupsTable } from './result-groups';
import { figuresOf, headlineOf, lostWords, namedGroups, percentOf, rangeWords } from './results-words';
import { ResultsService } from './results-service';
import { RowsBack } from './rows-back';
import { resultsTexts } from './texts';

const texts = resultsTexts.campaign;
const HOUR_MS = 3_600_000;
const HOURS_A_DAY = 24;

/** What became of one campaign, as a report: the sentence, the picture that bears it out, then the tables. */
@Component({
  selector: 'bt-campaign-results',
  imports: [Chart, CountPipe, MatButton, MomentPipe, ResultGroupsTable, RouterLink, RowsBack],
  templateUrl: './campaign-results.html',
  styleUrls: ['./report.scss', './result-tables.scss', '../look/charts/drawn.scss', './campaign-results.scss'],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CampaignResultsPage {
  protected readonly texts = texts;
  protected readonly saveNumbers = chartTexts.saveNumbers;
  protected readonly files = resultsTexts.files;
  protected readonly lineName = lineName;
  protected readonly rangeWords = rangeWords;
  protected readonly streamHeight = STREAM_HEIGHT;
  private readonly service = inject(ResultsService);
  private readonly time = inject(WorkspaceTime);
  private readonly shell = inject(ShellState);
  readonly campaignId = input.required<string>();

  private readonly live = inject(LiveUpdates);
  private readonly id = toObservable(computed(() => Number(this.campaignId())));
  protected readonly results = this.live.viewOf(this.id, ['progress', 'replies', 'campaigns'], (id) =>
    this.service.campaign(id),
  );
  private readonly byVariant = this.live.viewOf(this.id, ['progress', 'replies'], (id) =>
    this.service.groups(id, 'variant'),
  );
  private readonly variants = computed(() => {
    const found = this.byVariant();
    return found ? namedGroups(found, 'variant') : [];
  });
  protected readonly hasVariants = computed(() => this.variants().length > 1);
  protected readonly headline = computed(() => {
    const results = this.results();
    return results ? headlineOf(results, this.variants()) : null;
  });

  protected readonly stream = computed<ChartOption | null>(() => {
    const results = this.results();
    return results ? (theme, width) => streamOption(results, theme, width) : null;
  });
  protected readonly streamWords = computed(() => {
    const results = this.results();
    return results ? streamWords(results) : '';
  });

  protected readonly figures = computed(() => {
    const results = this.results();
    return results
      ? figuresOf(results).map(({ name, range }) => ({ name, range, percent: percentOf(range.rate) }))
      : [];
  });
  protected readonly lost = computed(() => lostWords(this.results()?.counts ?? NO_RESULTS));

  private readonly nowMs = computed(() => this.shell.view()?.clock.nowMs ?? 0);
  private readonly dayOf = (at: number) => this.time.day(at);
  protected readonly replies = computed<ChartOption | null>(() => {
    const steps = this.results()?.steps ?? [];
    const now = this.nowMs();
    const timeOf = (at: number) => this.time.both(at);
    return steps.length === 0 ? null : (theme) => repliesOption({ steps, now, dayOf: this.dayOf, timeOf }, theme);
  });
  protected readonly repliesWords = computed(() => repliesWords(this.results()?.steps ?? [], this.dayOf));
  protected readonly repliesHeight = computed(() => repliesHeight(this.results()?.steps ?? []));
  protected readonly newestOnly = computed(() => {
    const steps = this.results()?.steps ?? [];
    return steps.some((s) => s.repliedAt.length < s.replied) ? texts.newestOnly(MOST_ANSWERS) : '';
  });

  protected readonly silence = computed<ChartOption | null>(() => {
    const results = this.results();
    if (!results || results.silence.length < 2) return null;
    const upTo = (this.nowMs() - results.firstSentAt) / HOUR_MS;
    return (theme) => silenceOption(results.silence, upTo, theme);
  });
  protected readonly silenceWords = computed(() => silenceWords(this.results()?.silence ?? []));
  /** The curve at the end of each day on which it falls. */
  protected readonly silenceByDay = computed(() => {
    const days = new Map<number, number>();
    for (const { from, share } of this.results()?.silence ?? []) days.set(Math.ceil(from / HOURS_A_DAY), share);
    return [...days].map(([day, share]) => ({ day, share: percentOf(share) }));
  });

  constructor() {
    effect(() => this.shell.setTitle(this.results()?.name ?? null));
    inject(DestroyRef).onDestroy(() => this.shell.setTitle(null));
  }

  protected saveFigures(): void {
    const rows = this.figures().map(({ name, range: { count, of, low, high }, percent }) => [
      ...[name, count, of, ...(of === 0 ? ['', '', ''] : [percent, percentOf(low), percentOf(high)])],
    ]);
    saveTable(resultsTexts.files.stream(this.results()?.name ?? ''), [
      [texts.what, texts.people, texts.of, texts.percent, resultsTexts.comparison.low, resultsTexts.comparison.high],
      ...rows,
    ]);
  }

  protected saveReplies(): void {
    const results = this.results();
    if (!results) return;
    const rows = messagesByDay(results.steps, (at) => this.time.isoDay(at));
    saveTable(resultsTexts.files.replies(results.name), [
      [texts.messages, texts.day, texts.left, this.newestOnly() ? texts.repliedOf(this.newestOnly()) : texts.replied],
      ...rows.map((r) => [r.message, r.day, r.left, r.replied]),
    ]);
  }

  protected saveSilence(): void {
    const rows = this.silenceByDay().map(({ day, share }) => [day, share]);
    saveTable(resultsTexts.files.silence(this.results()?.name ?? ''), [[texts.days, texts.silentPercent], ...rows]);
  }

  protected print(): void {
    window.print();
  }
}
