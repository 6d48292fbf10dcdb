import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { formatNumber } from '../language';
import { saveTable } from '../save-table';
import { chartTexts } from './texts';

/** A table in figures: names and figures, null for a figure that there is not. */
export interface FigureTable {
  heads: readonly string[];
  rows: readonly (readonly (string | number | null)[])[];
}

/** A name in the first column may be made of digits. */
const isFigure = (cell: string | number | null, column: number): boolean =>
  typeof cell !== 'string' || (column > 0 && /^[\d.,]+$/.test(cell));

/** What a chart shows in figures, folded away under it, and as a file. */
@Component({
  selector: 'bt-figures',
  imports: [MatButton],
  template: `
    <details>
      <summary>{{ texts.inFigures }}</summary>
      <table>
        <thead>
          <tr>
            @for (h of heads(); track $index) {
              <th scope="col" [class.num]="h.isFigure">{{ h.words }}</th>
            }
          </tr>
        </thead>
        <tbody>
          @for (row of rows(); track $index) {
            <tr>
              @for (c of row; track $index) {
                @if ($first) {
                  <th scope="row" [class.num]="c.isFigure">{{ c.words }}</th>
                } @else {
                  <td [class.num]="c.isFigure">{{ c.words }}</td>
                }
              }
            </tr>
          }
        </tbody>
      </table>
    </details>
    <button matButton type="button" (click)="save()">{{ texts.saveNumbers }}</button>
  `,
  styleUrls: ['./drawn.scss', './figures.scss'],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Figures {
  protected readonly texts = chartTexts;
  readonly table = input.required<FigureTable>();
  /** What is saved, where it says more than the table. */
  readonly file = input<FigureTable | null>(null);
  /** What the file is called, without its ending. */
  readonly name = input.required<string>();

  protected readonly rows = computed(() =>
    this.table().rows.map((row) =>
      row.map((cell, i) => ({
        words: typeof cell === 'number' ? formatNumber(cell) : (cell ?? ''),
        isFigure: isFigure(cell, i),
      })),
    ),
  );
  protected readonly heads = computed(() => {
    const { heads, rows } = this.table();
    return heads.map((words, i) => ({ words, isFigure: rows.every((row) => isFigure(row[i] ?? null, i)) }));
  });

  protected save(): void {
    const { heads, rows } = this.file() ?? this.table();
    saveTable(this.name(), [heads, ...rows.map((row) => row.map((cell) => cell ?? ''))]);
  }
}
