import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { ROWS_FORMATS } from '@baton/contract';
import { addressOf } from '../live/addresses';
import { resultsTexts } from './texts';

const texts = resultsTexts.rowsBack;

/** A campaign's rows with what became of them, as the kind of file they came in or as another; and what it has sent. */
@Component({
  selector: 'bt-rows-back',
  imports: [MatButton, MatMenu, MatMenuItem, MatMenuTrigger],
  template: `
    <a matButton="outlined" [href]="addressOf.outcomes(campaignId())" download>{{ texts.rowsBack }}</a>
    <button matButton [matMenuTriggerFor]="formats">{{ texts.as }}</button>
    <mat-menu #formats="matMenu">
      @for (f of all; track f) {
        <a mat-menu-item [href]="addressOf.outcomes(campaignId(), f)" download>{{ texts.formats[f] }}</a>
      }
      <a mat-menu-item [href]="addressOf.sent(campaignId(), 'mbox')" download>{{ texts.sentMbox }}</a>
      <a mat-menu-item [href]="addressOf.sent(campaignId(), 'zip')" download>{{ texts.sentZip }}</a>
    </mat-menu>
  `,
  styles: `
    :host {
      display: contents;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RowsBack {
  protected readonly texts = texts;
  protected readonly addressOf = addressOf;
  protected readonly all = ROWS_FORMATS;
  readonly campaignId = input.required<number>();
}
