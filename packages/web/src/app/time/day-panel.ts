import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { dayNumber, isoDate, isoWeekday } from '@baton/core';
import { DateField } from './date-field';
import { timeTexts } from './texts';
import { WorkspaceTime } from './workspace-time';

const texts = timeTexts.dayPanel;

/** Asks for a day to come, or that there is none any more. */
@Component({
  selector: 'bt-day-panel',
  imports: [DateField, MatButton],
  template: `
    <div class="days">
      @for (d of days(); track d.day) {
        <button class="row" (click)="chosen.emit(d.day)">
          {{ d.words }} <span class="quiet">{{ d.date }}</span>
        </button>
      }
    </div>
    <bt-date-field [label]="texts.day" [value]="day() ?? ''" [min]="tomorrow()" (changed)="take($event)" />
    @if (day() !== null || alwaysNone()) {
      <button matButton (click)="chosen.emit(null)">{{ noMore() }}</button>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 8px;
      justify-items: start;
      width: 250px;
      padding: 8px 0 12px;
    }
    .days {
      width: 100%;
    }
    .row {
      display: flex;
      justify-content: space-between;
      width: 100%;
      padding: 6px 14px;
      border: 0;
      background: none;
      color: var(--sea);
      cursor: pointer;
      &:hover {
        background: var(--paper);
      }
    }
    bt-date-field {
      margin: 0 14px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DayPanel {
  protected readonly texts = texts;
  private readonly time = inject(WorkspaceTime);
  /** ISO date; null for none yet. */
  readonly day = input.required<string | null>();
  /** What is pressed for none. */
  readonly noMore = input.required<string>();
  /** Whether none can be chosen where no day is known. */
  readonly alwaysNone = input(false);
  readonly chosen = output<string | null>();
  private readonly today = computed(() => dayNumber(this.time.today()));
  protected readonly tomorrow = computed(() => isoDate(this.today() + 1));

  protected readonly days = computed(() => {
    const today = this.today();
    const monday = today + 8 - isoWeekday(today);
    return [
      { words: texts.tomorrow, n: today + 1 },
      { words: texts.inThreeDays, n: today + 3 },
      { words: texts.nextMonday, n: monday },
      { words: texts.inTwoWeeks, n: today + 14 },
      { words: texts.inThreeMonths, n: today + 91 },
    ].map(({ words, n }) => ({ words, day: isoDate(n), date: this.time.dayWords(isoDate(n)) }));
  });

  protected take(day: string): void {
    if (day !== '') this.chosen.emit(day);
  }
}
