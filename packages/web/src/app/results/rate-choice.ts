import { ChangeDetectionStrategy, Component, model } from '@angular/core';
import { RATES, type RateName } from '@baton/core';
import { chosenOption } from '../look/event-input';
import { resultsTexts } from './texts';

/** What a table of rates compares by. */
@Component({
  selector: 'bt-rate-choice',
  template: `
    <label class="rate"
      >{{ texts.compareBy }}
      <select (change)="choose($event)">
        @for (r of rates; track r) {
          <option [value]="r" [selected]="rate() === r">{{ names[r] }}</option>
        }
      </select></label
    >
  `,
  styleUrl: './choice.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RateChoice {
  protected readonly texts = resultsTexts.scale;
  protected readonly names = resultsTexts.rates;
  protected readonly rates = RATES;
  readonly rate = model.required<RateName>();

  protected choose(event: Event): void {
    this.rate.set(chosenOption<RateName>(event));
  }
}
