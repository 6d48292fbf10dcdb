import { ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject, input } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { MOST_ANSWERS } from '@baton/contract';
import { NO_RESULTS } from '@baton/core';
import { LiveUpdates } from '../live/live-updates';
import { Chart } from '../look/charts/chart';
import { Figures, type FigureTable } from '../look/charts/figures';
import type { ChartOption } from '../look/charts/picture';
import { ShellState } from '../shell/shell-state';
import { MomentPipe, WorkspaceTime } from '../time/workspace-time';
import { lineName, messagesByDay, repliesHeight, repliesOption, repliesWords } from './charts/replies-over-time';
import { silenceOption, silenceWords } from './charts/silence';
import { STREAM_HEIGHT, streamOption, streamWords } from './charts/stream';
import { ResultGroupsTable } from './result-groups';
import { figuresOf, headlineOf, lostWords, namedGroups, percentOf } from './results-words';
import { ResultsService } from './results-service';
import { RowsBack } from './rows-back';
import { resultsTexts } from './texts';

const texts = resultsTexts.campaign;
const NO_FIGURES: FigureTable = { heads: [], rows: [] };
const HOUR_MS = 3_600_000;
const HOURS_A_DAY = 24;

/** What became of one campaign, as a report: the sentence, the picture that bears it out, then the tables. */
@Component({
  selector: 'bt-campaign-results',
  imports: [Chart, Figures, MatButton, MomentPipe, ResultGroupsTable, RouterLink, RowsBack],
  templateUrl: './campaign-results.html',
  styleUrls: ['./report.scss', '../look/charts/drawn.scss', './campaign-results.scss'],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CampaignResultsPage {
  protected readonly texts = texts;
  protected readonly files = resultsTexts.files;
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

  protected readonly streamFigures = computed(() => {
    const results = this.results();
    return results ? figuresOf(results) : NO_FIGURES;
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

  protected readonly repliesFigures = computed<FigureTable>(() => ({
    heads: [texts.messages, texts.left, texts.from, texts.to, texts.replied],
    rows: (this.results()?.steps ?? []).map((s) => [
      ...[`${lineName(s.place)}: ${s.name}`, s.sent, this.dayOf(s.firstSentAt), this.dayOf(s.lastSentAt), s.replied],
    ]),
  }));
  protected readonly repliesByDay = computed<FigureTable>(() => ({
    heads: [
      ...[texts.messages, texts.day, texts.left],
      this.newestOnly() ? texts.repliedOf(this.newestOnly()) : texts.replied,
    ],
    rows: messagesByDay(this.results()?.steps ?? [], (at) => this.time.isoDay(at)).map((d) => [
      ...[d.message, d.day, d.left, d.replied],
    ]),
  }));

  protected readonly silence = computed<ChartOption | null>(() => {
    const results = this.results();
    if (!results || results.silence.length < 2) return null;
    const upTo = (this.nowMs() - results.firstSentAt) / HOUR_MS;
    return (theme) => silenceOption(results.silence, upTo, theme);
  });
  protected readonly silenceWords = computed(() => silenceWords(this.results()?.silence ?? []));
  /** The curve at the end of each day on which it falls. */
  protected readonly silenceFigures = computed<FigureTable>(() => {
    const days = new Map<number, number>();
    for (const { from, share } of this.results()?.silence ?? []) days.set(Math.ceil(from / HOURS_A_DAY), share);
    return { heads: [texts.days, texts.silentPercent], rows: [...days].map(([day, share]) => [day, percentOf(share)]) };
  });

  constructor() {
    effect(() => this.shell.setTitle(this.results()?.name ?? null));
    inject(DestroyRef).onDestroy(() => this.shell.setTitle(null));
  }

  protected print(): void {
    window.print();
  }
}
