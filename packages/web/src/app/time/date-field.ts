import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  inject,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { DateAdapter, MAT_DATE_FORMATS } from '@angular/material/core';
import { MatDatepickerIntl, MatDatepickerModule } from '@angular/material/datepicker';
import { WorkspaceTime } from './workspace-time';
import { DAY_FORMATS, IsoDateAdapter } from './iso-date-adapter';
import { timeTexts } from './texts';

const texts = timeTexts.dateField;

/** A day, typed in any usual form or picked in a calendar, and shown as all days are: Thu 24 Dec 2026. */
@Component({
  selector: 'bt-date-field',
  imports: [MatDatepickerModule],
  template: `
    <span class="box">
      <input
        #box
        autocomplete="off"
        [matDatepicker]="calendar"
        [value]="value()"
        [min]="min()"
        [placeholder]="empty()"
        [attr.aria-label]="label()"
        [attr.aria-invalid]="problem() !== ''"
        (dateChange)="take($event.value, box.value)"
      />
      <mat-datepicker-toggle [for]="calendar" />
      <mat-datepicker #calendar />
    </span>
    @if (problem()) {
      <span class="trouble" role="alert">{{ problem() }}</span>
    }
  `,
  styles: `
    :host {
      display: inline-grid;
      justify-items: start;
      gap: 4px;
    }
    .box {
      position: relative;
      display: inline-block;
    }
    input {
      width: 172px;
      padding-right: 32px;
    }
    mat-datepicker-toggle {
      position: absolute;
      inset: 0 0 0 auto;
      --mat-icon-button-state-layer-size: 32px;
      --mat-icon-button-icon-size: 18px;
    }
  `,
  providers: [
    MatDatepickerIntl,
    { provide: DateAdapter, useClass: IsoDateAdapter },
    { provide: MAT_DATE_FORMATS, useValue: DAY_FORMATS },
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DateField {
  private readonly time = inject(WorkspaceTime);
  protected readonly texts = texts;
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  /** ISO date; '' for none. */
  readonly value = input.required<string>();
  /** The first day that may be chosen, an ISO date; '' for any. */
  readonly min = input('');
  /** What is shown where no day is chosen. */
  readonly empty = input(texts.example);
  /** What it is for those who do not see what stands beside it. */
  readonly label = input.required<string>();
  /** A day was chosen, or '' when the field was cleared. What is no day is said here and goes nowhere. */
  readonly changed = output<string>();
  protected readonly problem = signal('');

  constructor() {
    Object.assign(inject(MatDatepickerIntl), texts.calendar);
  }

  /** Asks for the day without which nothing can be done. */
  ask(): void {
    this.problem.set(texts.missing);
    this.box().nativeElement.focus();
  }

  protected take(day: string | null, typed: string): void {
    const min = this.min();
    if (day === null && typed.trim() !== '') this.problem.set(texts.notADay(typed.trim()));
    else if (day !== null && min !== '' && day < min)
      this.problem.set(texts.tooEarly(this.time.dayWords(min, 'dated')));
    else {
      this.problem.set('');
      this.changed.emit(day ?? '');
    }
  }
}
