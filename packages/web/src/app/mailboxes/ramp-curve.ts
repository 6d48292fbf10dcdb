import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { rampQuota } from '@baton/core';
import { mailboxesTexts } from './texts';

const texts = mailboxesTexts.rampCurve;

const WIDTH = 560;
const HEIGHT = 120;
const DAYS = 40;

/** How a ramp rises, by the days on which the mailbox sends: a step for each, up to the quota. */
@Component({
  selector: 'bt-ramp-curve',
  template: `
    <figure>
      <svg [attr.viewBox]="box" preserveAspectRatio="none" role="img" [attr.aria-label]="words()">
        <line class="quota" x1="0" [attr.x2]="width" [attr.y1]="y(quota())" [attr.y2]="y(quota())" />
        <path class="curve" [attr.d]="path()" />
        @if (climbed() > 0) {
          <line class="now" [attr.x1]="x(climbed())" [attr.x2]="x(climbed())" y1="0" [attr.y2]="height" />
        }
      </svg>
      <figcaption class="quiet">{{ words() }}</figcaption>
    </figure>
  `,
  styles: `
    figure {
      margin: 0;
    }
    svg {
      display: block;
      width: 100%;
      height: 110px;
      background: var(--paper);
      border-bottom: 1px solid var(--line);
    }
    line,
    path {
      vector-effect: non-scaling-stroke;
    }
    .quota {
      stroke: var(--ink-2);
      stroke-dasharray: 3 3;
    }
    .curve {
      fill: var(--sea-soft);
      stroke: var(--sea);
      stroke-width: 1.5;
    }
    .now {
      stroke: var(--brass);
      stroke-width: 2;
    }
    figcaption {
      font-size: 13px;
      padding-top: 5px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RampCurve {
  readonly quota = input.required<number>();
  readonly first = input.required<number>();
  readonly add = input.required<number>();
  readonly every = input.required<number>();
  /** Sending days behind it. */
  readonly climbed = input(0);
  protected readonly box = `0 0 ${WIDTH} ${HEIGHT}`;
  protected readonly width = WIDTH;
  protected readonly height = HEIGHT;

  private readonly ramp = computed(() => ({
    ...{ day: 0, first: this.first(), add: this.add() },
    every: Math.max(1, this.every()),
  }));
  /** Sending days until it is at its quota; null for never. */
  private readonly needed = computed(() => {
    const { first, add, every } = this.ramp();
    if (first >= this.quota()) return 0;
    return add > 0 ? Math.ceil((this.quota() - first) / add) * every : null;
  });
  private readonly days = computed(() => Math.max(10, Math.min(250, (this.needed() ?? DAYS) + 6)));

  protected readonly path = computed(() => {
    let d = `M0 ${HEIGHT}`;
    for (let k = 0; k < this.days(); k++) {
      const y = this.y(rampQuota(this.quota(), this.ramp(), k));
      d += `L${this.x(k)} ${y}L${this.x(k + 1)} ${y}`;
    }
    return `${d}L${WIDTH} ${HEIGHT}Z`;
  });

  protected readonly words = computed(() => {
    const needed = this.needed();
    const behind = this.climbed() > 0 ? texts.done(this.climbed()) : '';
    return needed === null
      ? texts.aDayWithNoIncrease(this.first())
      : texts.fromToADayIn(this.first(), this.quota(), texts.sendingDays(needed), behind);
  });

  protected x(day: number): number {
    return (WIDTH * day) / this.days();
  }

  protected y(units: number): number {
    return HEIGHT - ((HEIGHT - 12) * units) / Math.max(1, this.quota());
  }
}
