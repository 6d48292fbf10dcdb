import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { scaleMarks } from './results-words';

/** The marks of the scale that the dots of a table are on. */
@Component({
  selector: 'bt-rate-scale',
  template: `
    <span class="visually-hidden">{{ legend() }}</span>
    <span class="marks" aria-hidden="true">
      @for (m of marks(); track m.percent) {
        <i [style.left.%]="m.at">{{ m.percent }}{{ $last ? ' %' : '' }}</i>
      }
    </span>
  `,
  styles: `
    .marks {
      position: relative;
      display: block;
      height: 18px;
    }
    i {
      position: absolute;
      font-style: normal;
      transform: translateX(-50%);
      white-space: nowrap;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RateScale {
  /** What the shares are of. */
  readonly legend = input.required<string>();
  /** The share at which it ends. */
  readonly end = input.required<number>();
  protected readonly marks = computed(() =>
    scaleMarks(this.end()).map((percent) => ({ percent, at: percent / this.end() })),
  );
}
