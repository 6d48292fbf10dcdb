import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  ElementRef,
  inject,
  input,
  signal,
  viewChild,
} from '@angular/core';
import type { EChartsType } from 'echarts/core';
import { Notices } from '../../live/notices';
import { ChartSaves } from './chart-saves';
import { readTheme } from './chart-theme';
import { still, type ChartOption } from './picture';

/**
 * A chart, drawn once it is needed and anew when its width or the page's colours change. It is said in words to whoever does
 * not see it; the same in figures stands beside it.
 */
@Component({
  selector: 'bt-chart',
  imports: [ChartSaves],
  template: `
    <div #place class="place" role="img" [attr.aria-label]="words()" [style.height.px]="height()"></div>
    <div class="foot">
      <ng-content />
      <bt-chart-saves [picture]="picture()" [name]="name()" />
    </div>
  `,
  styles: `
    /* What is drawn in it, as wide as it was, does not keep it from becoming narrower. */
    .place {
      width: 100%;
      contain: inline-size;
    }
    .foot {
      display: flex;
      flex-wrap: wrap;
      gap: 4px;
      align-items: start;
      justify-content: flex-end;
    }
    /* Paper is narrower than the page was when the chart was drawn: it becomes smaller as a whole. */
    @media print {
      .place,
      .place ::ng-deep div {
        width: 100% !important;
        height: auto !important;
      }
      .place ::ng-deep svg {
        position: static !important;
        width: 100%;
        height: auto;
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Chart {
  readonly option = input.required<ChartOption>();
  readonly words = input.required<string>();
  /** What a file of it is called. */
  readonly name = input.required<string>();
  readonly height = input(220);
  /** What its marks mean, for a file of it; on the page it stands where the page has it. */
  readonly legend = input('');

  private readonly notices = inject(Notices);
  private readonly place = viewChild.required<ElementRef<HTMLElement>>('place');
  protected readonly width = signal(0);
  private readonly scheme = signal(0);
  private drawn: EChartsType | null = null;
  protected readonly picture = computed(() => ({
    ...{ option: this.option(), width: this.width(), height: this.height(), legend: this.legend() },
  }));

  constructor() {
    const dark = matchMedia('(prefers-color-scheme: dark)');
    const repaint = () => this.scheme.update((n) => n + 1);
    dark.addEventListener('change', repaint);
    const watch = new ResizeObserver(([entry]) => this.width.set(Math.round(entry?.contentRect.width ?? 0)));
    afterRenderEffect(() => {
      watch.observe(this.place().nativeElement);
    });
    afterRenderEffect(() => {
      const [option, width] = [this.option(), this.width()];
      this.scheme();
      this.height();
      if (width > 0) void this.draw(option, width);
    });
    inject(DestroyRef).onDestroy(() => {
      dark.removeEventListener('change', repaint);
      watch.disconnect();
      this.drawn?.dispose();
    });
  }

  private async draw(option: ChartOption, width: number): Promise<void> {
    try {
      const { init } = await import('./echarts');
      const host = this.place().nativeElement;
      if (!host.isConnected) return;
      this.drawn ??= init(host, null, { renderer: 'svg' });
      this.drawn.resize({ width, height: this.height() });
      this.drawn.setOption(still(option(readTheme(host), width)), true);
      host.querySelector('svg')?.setAttribute('viewBox', `0 0 ${width} ${this.height()}`);
    } catch (error) {
      this.notices.failure(error);
    }
  }
}
