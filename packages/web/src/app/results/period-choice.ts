import { ChangeDetectionStrategy, Component, computed, inject, model, signal } from '@angular/core';
import { lastDaysOf, type Period } from '@baton/core';
import { chosenOption } from '../look/event-input';
import { DateField } from '../time/date-field';
import { WorkspaceTime } from '../time/workspace-time';
import { resultsTexts } from './texts';

const texts = resultsTexts.period;

/** Of how many last days there is a choice, beside all and one's own days. */
const LAST_DAYS = ['30', '90', '365'] as const;
type Chosen = 'all' | 'own' | (typeof LAST_DAYS)[number];

/** The time in which first messages left; null for any. */
@Component({
  selector: 'bt-period-choice',
  imports: [DateField],
  template: `
    <label
      >{{ texts.firstWrittenTo }}
      <select (change)="choose($event)">
        <option value="all" [selected]="chosen() === 'all'">{{ texts.anyTime }}</option>
        @for (n of lastDays; track n) {
          <option [value]="n" [selected]="chosen() === n">{{ texts.lastDays(n) }}</option>
        }
        <option value="own" [selected]="chosen() === 'own'">{{ texts.otherDays }}</option>
      </select></label
    >
    @if (chosen() === 'own' && period(); as p) {
      <bt-date-field [label]="texts.firstDay" [value]="p.from" (changed)="setFrom($event)" />
      <span>{{ texts.to }}</span>
      <bt-date-field [label]="texts.lastDay" [value]="p.to" [min]="p.from" (changed)="setTo($event)" />
    }
  `,
  styleUrls: ['./choice.scss'],
  styles: `
    bt-date-field {
      width: 180px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PeriodChoice {
  private readonly time = inject(WorkspaceTime);
  protected readonly texts = texts;
  protected readonly lastDays = LAST_DAYS;
  readonly period = model.required<Period | null>();
  protected readonly chosen = signal<Chosen>('all');
  private readonly today = computed(() => this.time.today());

  protected choose(event: Event): void {
    const chosen = chosenOption<Chosen>(event);
    this.chosen.set(chosen);
    if (chosen === 'all') this.period.set(null);
    else if (chosen !== 'own') this.period.set(lastDaysOf(this.today(), Number(chosen)));
    else this.period.update((p) => p ?? lastDaysOf(this.today(), Number(LAST_DAYS[0])));
  }

  protected setFrom(from: string): void {
    this.period.update((p) => (p && from !== '' ? { from, to: p.to < from ? from : p.to } : p));
  }

  protected setTo(to: string): void {
    this.period.update((p) => (p && to !== '' ? { ...p, to } : p));
  }
}
