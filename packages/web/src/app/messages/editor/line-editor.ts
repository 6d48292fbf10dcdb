import { ChangeDetectionStrategy, Component, computed, input, output, viewChild } from '@angular/core';
import type { FieldChoice } from './field-choice';
import { lineContent } from './field-nodes';
import { lineText, RichEditor } from './rich-editor';

/** One line of text with fields, kept as Liquid. */
@Component({
  selector: 'bt-line-editor',
  imports: [RichEditor],
  template: `
    <bt-rich-editor
      [label]="label()"
      [singleLine]="true"
      [placeholder]="placeholder()"
      [doc]="doc()"
      [choices]="choices()"
      [samples]="samples()"
      (docChange)="textChange.emit(asText($event))"
    />
  `,
  styles: `
    :host {
      display: block;
      min-width: 0;
    }
    :host(.boxed) {
      padding: 0 10px;
      background: var(--sheet);
      border: 1px solid var(--line);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LineEditor {
  readonly label = input.required<string>();
  readonly placeholder = input('');
  readonly text = input.required<string>();
  readonly choices = input.required<readonly FieldChoice[]>();
  readonly samples = input<(name: string) => string[]>(() => []);
  readonly textChange = output<string>();
  private readonly editor = viewChild.required(RichEditor);
  protected readonly doc = computed(() => lineContent(this.text()));
  protected readonly asText = lineText;

  focus(): void {
    this.editor().focus();
  }

  find(near: string): boolean {
    return this.editor().find(near);
  }
}
