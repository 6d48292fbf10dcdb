import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  inject,
  input,
  signal,
  viewChild,
} from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { EChartsCoreOption, EChartsType } from 'echarts/core';
import { Notices } from '../../live/notices';
import { saveFile } from '../../look/save-file';
import { resultsTexts } from '../texts';
import { readTheme, type ChartTheme } from './chart-theme';

/** What a chart shows, in the colours of the page and for so much room. */
export type ChartOption = (theme: ChartTheme, width: number) => EChartsCoreOption;

/** A picture for paper and slides has twice as many points. */
const PNG_RATIO = 2;

/**
 * A chart, drawn once it is needed and anew when its width or the page's colours change. It is said in words to whoever does
 * not see it; the same in figures stands beside it.
 */
@Component({
  selector: 'bt-chart',
  imports: [MatButton],
  template: `
    <div #place class="place" role="img" [attr.aria-label]="words()" [style.height.px]="height()"></div>
    <div class="saves">
      <ng-content />
      <button matButton (click)="savePng()">{{ texts.savePng }}</button>
      <button matButton (click)="saveSvg()">{{ texts.saveSvg }}</button>
    </div>
  `,
  styles: `
    .place {
      width: 100%;
    }
    .saves {
      display: flex;
      flex-wrap: wrap;
      gap: 4px;
      align-items: start;
      justify-content: flex-end;
    }
    @media print {
      .saves {
        display: none;
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Chart {
  protected readonly texts = resultsTexts.chart;
  readonly option = input.required<ChartOption>();
  readonly words = input.required<string>();
  /** What a file of it is called. */
  readonly name = input.required<string>();
  readonly height = input(220);

  private readonly notices = inject(Notices);
  private readonly place = viewChild.required<ElementRef<HTMLElement>>('place');
  private readonly width = signal(0);
  private readonly scheme = signal(0);
  private drawn: EChartsType | null = null;

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
    } catch (error) {
      this.notices.failure(error);
    }
  }

  protected async savePng(): Promise<void> {
    const { init } = await import('./echarts');
    const place = this.place().nativeElement;
    const theme = readTheme(place);
    const canvas = init(document.createElement('div'), null, {
      ...{ renderer: 'canvas', devicePixelRatio: PNG_RATIO, width: this.width(), height: this.height() },
    });
    canvas.setOption(still(this.option()(theme, this.width())));
    const picture = canvas.getDataURL({ type: 'png', pixelRatio: PNG_RATIO, backgroundColor: theme.sheet });
    canvas.dispose();
    saveFile(new Blob([bytesOf(picture)], { type: 'image/png' }), `${this.name()}.png`);
  }

  protected saveSvg(): void {
    const svg = this.drawn?.renderToSVGString();
    if (svg !== undefined) saveFile(new Blob([svg], { type: 'image/svg+xml' }), `${this.name()}.svg`);
  }
}

/** Nothing moves: a picture is there at once, for whoever prints it too. */
const still = (option: EChartsCoreOption): EChartsCoreOption => ({ animation: false, ...option });

function bytesOf(dataUrl: string): Uint8Array<ArrayBuffer> {
  const binary = atob(dataUrl.slice(dataUrl.indexOf(',') + 1));
  return Uint8Array.from(binary, (c) => c.charCodeAt(0));
}
