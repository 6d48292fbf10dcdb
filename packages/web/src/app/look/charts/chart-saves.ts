import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { Notices } from '../../live/notices';
import { saveFile } from '../save-file';
import { chartTexts } from './texts';
import { readTheme } from './chart-theme';
import { pngOf, svgOf, type Picture } from './picture';

/** Saves a chart as a picture, in the colours that it has on the page. */
@Component({
  selector: 'bt-chart-saves',
  imports: [MatButton],
  template: `
    <button matButton type="button" (click)="save('png')">{{ texts.savePng }}</button>
    <button matButton type="button" (click)="save('svg')">{{ texts.saveSvg }}</button>
  `,
  styles: `
    :host {
      display: flex;
      flex-wrap: wrap;
      gap: 4px;
    }
    @media print {
      :host {
        display: none;
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChartSaves {
  protected readonly texts = chartTexts;
  readonly picture = input.required<Omit<Picture, 'title'>>();
  /** What the file is called, without its ending, and what stands above the picture. */
  readonly name = input.required<string>();
  private readonly notices = inject(Notices);

  protected async save(kind: 'png' | 'svg'): Promise<void> {
    try {
      const picture = { ...this.picture(), title: this.name() };
      const theme = readTheme(document.body);
      saveFile(await (kind === 'png' ? pngOf(picture, theme) : svgOf(picture, theme)), `${this.name()}.${kind}`);
    } catch (error) {
      this.notices.failure(error);
    }
  }
}
