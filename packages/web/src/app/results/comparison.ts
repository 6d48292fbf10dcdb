import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { RATES, reachedOf, type RateName } from '@baton/core';
import { ChartSaves } from '../look/charts/chart-saves';
import type { ChartOption } from '../look/charts/picture';
import { chartTexts } from '../look/charts/texts';
import { CountPipe } from '../look/count-pipe';
import { saveTable } from '../look/save-table';
import { comparisonHeight, comparisonOption, COMPARISON_WIDTH } from './charts/comparison-picture';
import { RateDots } from './rate-dots';
import { RateScale } from './rate-scale';
import { percentOf, rangeWords, scaleEnd, scaleWords, type ComparedLine } from './results-words';
import { resultsTexts } from './texts';

const texts = resultsTexts.comparison;

/** Rates on one scale, each with the range in which the true one lies and what may be said of it. */
@Component({
  selector: 'bt-comparison',
  imports: [ChartSaves, CountPipe, MatButton, RateDots, RateScale, RouterLink],
  templateUrl: './comparison.html',
  styleUrl: './comparison.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Comparison {
  protected readonly texts = texts;
  protected readonly saveWords = chartTexts.saveNumbers;
  protected readonly rateNames = resultsTexts.rates;
  protected readonly rangeWords = rangeWords;
  /** What they are seen beside comes last. */
  readonly lines = input.required<readonly ComparedLine[]>();
  readonly rate = input.required<RateName>();
  /** What the lines are; the head of their names. */
  readonly what = input.required<string>();
  /** The head of the second column; null where there is none. */
  readonly second = input<string | null>(null);
  /** What is said where there is no line. */
  readonly nothing = input('');
  /** What it is a comparison of: the name of its files. */
  readonly name = input.required<string>();
  /** Whether the same is drawn elsewhere, and can be saved as a picture there. */
  readonly isDrawn = input(false);

  protected readonly scale = computed(() => scaleWords(this.rate()));
  protected readonly end = computed(() =>
    scaleEnd(
      this.lines()
        .map((l) => l.range)
        .filter((r) => r.of > 0)
        .map((r) => r.high),
    ),
  );
  protected readonly hasNone = computed(() => this.lines().every((l) => l.isPast));
  protected readonly columns = computed(() => (this.second() === null ? 5 : 6));
  protected readonly picture = computed(() => {
    const [lines, end, { people, legend }] = [this.lines(), this.end(), this.scale()];
    const heads = { what: this.what(), people, rate: this.rateNames[this.rate()] };
    const option: ChartOption = (theme) => comparisonOption({ ...heads, lines, end }, theme);
    return { option, width: COMPARISON_WIDTH, height: comparisonHeight(lines), legend };
  });

  protected saveNumbers(): void {
    const columns = ['written', ...RATES, 'unreachable', 'blocked'] as const;
    const [rate, second] = [this.rateNames[this.rate()], this.second()];
    const header = [
      ...[this.what(), ...(second === null ? [] : [second]), texts.reached],
      ...[
        ...columns.map((c) => texts.columns[c]),
        texts.percent(rate),
        resultsTexts.figures.low,
        resultsTexts.figures.high,
      ],
    ];
    const rows = this.lines()
      .filter((l) => !l.isPast)
      .map(({ name, counts, range, second: shown = '', secondInFile: beside = shown }) => [
        ...[name, ...(second === null ? [] : [beside]), reachedOf(counts), ...columns.map((c) => counts[c])],
        ...(range.of === 0 ? ['', '', ''] : [range.rate, range.low, range.high].map(percentOf)),
      ]);
    saveTable(this.name(), [header, ...rows]);
  }
}
