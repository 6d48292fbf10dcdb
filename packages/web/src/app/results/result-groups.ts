import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, signal } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { NgTemplateOutlet } from '@angular/common';
import type { CampaignResults, ResultsBy } from '@baton/contract';
import { RESULT_DIMENSIONS, type RateName, type ResultDimension } from '@baton/core';
import { map } from 'rxjs';
import { LiveUpdates } from '../live/live-updates';
import { Chart } from '../look/charts/chart';
import type { ChartOption } from '../look/charts/picture';
import { typedText } from '../look/event-input';
import { namedGroups, pastLine, rateLines, type ComparedLine } from './results-words';
import { weekCells, weekHeight, weekOption, weekWords } from './charts/week-hours';
import { Comparison } from './comparison';
import { RateChoice } from './rate-choice';
import { ResultsService } from './results-service';
import { resultsTexts } from './texts';

const texts = resultsTexts.campaign;

const isField = (by: ResultsBy): by is `field:${string}` => by.startsWith('field:');

/** What of a campaign did better than the rest: its people told apart, on one scale, with how much may be believed. */
@Component({
  selector: 'bt-result-groups',
  imports: [Chart, Comparison, NgTemplateOutlet, RateChoice],
  templateUrl: './result-groups.html',
  styleUrls: ['../look/charts/drawn.scss', './result-groups.scss'],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ResultGroupsTable {
  protected readonly texts = texts;
  protected readonly week = resultsTexts.week;
  protected readonly typedText = typedText;
  private readonly service = inject(ResultsService);
  readonly results = input.required<CampaignResults>();
  readonly hasVariants = input.required<boolean>();

  private readonly id = computed(() => this.results().id);
  /** What is compared first: variants, where there are several, for that is what they are for. */
  protected readonly by = linkedSignal<boolean, ResultsBy>({
    source: this.hasVariants,
    computation: (has) => (has ? 'variant' : 'message'),
  });
  protected readonly rate = signal<RateName>('replied');
  protected readonly dimensions = computed(() =>
    RESULT_DIMENSIONS.filter((d) => this.tellsApart(d)).map((key) => ({
      key,
      name: texts.by(resultsTexts.by[key]),
    })),
  );
  protected readonly fields = computed(() =>
    this.results().fields.map(({ key, name }) => ({ key: `field:${key}` as const, name })),
  );
  protected readonly field = computed(() => (isField(this.by()) ? this.by() : ''));

  private readonly found = inject(LiveUpdates).viewOf(
    toObservable(computed(() => ({ id: this.id(), by: this.by() }))),
    ['progress', 'replies', 'campaigns'],
    ({ id, by }) => this.service.groups(id, by).pipe(map((groups) => ({ by, groups }))),
  );
  /** By what those are told apart that are shown: what was chosen last, once it is there. */
  private readonly shownBy = computed(() => this.found()?.by ?? this.by());
  private readonly groups = computed(() => {
    const found = this.found();
    return found ? namedGroups(found.groups, found.by) : [];
  });
  protected readonly lines = computed<ComparedLine[]>(() => {
    const [rate, past] = [this.rate(), pastLine('past', texts.othersOfTheYear, this.results().past, this.rate())];
    return [...rateLines(this.groups(), rate), ...(past.range.of > 0 ? [past] : [])];
  });
  /** Hours of the week are a picture; the table beside it has them in figures. */
  protected readonly isWeek = computed(() => this.shownBy() === 'weekday_hour');
  private readonly cells = computed(() => weekCells(this.isWeek() ? this.groups() : [], this.rate()));
  protected readonly weekOption = computed<ChartOption | null>(() => {
    const cells = this.cells();
    return cells.length === 0 ? null : (theme) => weekOption(cells, theme);
  });
  protected readonly weekWords = computed(() => weekWords(this.cells()));
  protected readonly weekHeight = computed(() => weekHeight(this.cells()));
  /** What the picture of the week is of, for a file of it. */
  protected readonly weekLegend = computed(() => resultsTexts.week.fileLegend(resultsTexts.rates[this.rate()]));
  /** What this rate says little about; '' for nothing. */
  protected readonly caution = computed(() => {
    const { countsOpens, countsClicks, counts } = this.results();
    const rate = this.rate();
    if ((rate === 'opened' && !countsOpens) || (rate === 'clicked' && !countsClicks)) return texts.notCounted;
    if (rate === 'opened') return texts.weakSign(counts.byPrograms);
    if (this.shownBy() === 'country') return texts.placesOfClicks;
    if (this.shownBy() !== 'segment') return '';
    return this.groups().length === 0 ? texts.noSegments : texts.severalSegments;
  });
  /** What the lines are. */
  protected readonly what = computed(() => {
    const by = this.shownBy();
    return isField(by) ? (this.fields().find((f) => f.key === by)?.name ?? '') : resultsTexts.by[by];
  });

  protected readonly file = computed(() => resultsTexts.files.by(this.results().name, this.what()));

  private tellsApart(by: ResultDimension): boolean {
    const { hasSegments, countsPlaces } = this.results();
    const only: Partial<Record<ResultDimension, boolean>> = {
      ...{ variant: this.hasVariants(), segment: hasSegments, country: countsPlaces },
    };
    return only[by] ?? true;
  }

  protected choose(by: string): void {
    if (by !== '') this.by.set(by as ResultsBy);
  }
}
