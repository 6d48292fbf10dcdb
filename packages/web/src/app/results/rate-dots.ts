import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { RateRange } from '@baton/core';
import { spokenRange } from './results-words';

/** A share as a dot on a scale that others beside it have too, with the range in which the true one lies. */
@Component({
  selector: 'bt-rate-dots',
  template: `
    @if (range().of > 0) {
      <svg role="img" [attr.aria-label]="words()" [class.past]="isPast()">
        <line class="range" [attr.x1]="at(range().low)" [attr.x2]="at(range().high)" y1="50%" y2="50%" />
        <line class="end" [attr.x1]="at(range().low)" [attr.x2]="at(range().low)" y1="30%" y2="70%" />
        <line class="end" [attr.x1]="at(range().high)" [attr.x2]="at(range().high)" y1="30%" y2="70%" />
        <circle [attr.cx]="at(range().rate)" cy="50%" r="5" />
      </svg>
    }
  `,
  styles: `
    :host {
      display: block;
      height: 24px;
    }
    svg {
      display: block;
      overflow: visible;
      width: 100%;
      height: 100%;
    }
    line {
      stroke: var(--sea);
      stroke-width: 1.5;
    }
    circle {
      fill: var(--sea);
      stroke: var(--sheet);
    }
    .past line {
      stroke: var(--ink-2);
    }
    .past circle {
      fill: var(--sheet);
      stroke: var(--ink-2);
      stroke-width: 1.5;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RateDots {
  readonly range = input.required<RateRange>();
  /** The share at which the scale ends. */
  readonly end = input.required<number>();
  /** Whether it is what was before, and not what is looked at. */
  readonly isPast = input(false);
  protected readonly words = computed(() => spokenRange(this.range()));

  protected at(share: number): string {
    return `${Math.min(100, (100 * share) / this.end())}%`;
  }
}
