import { CdkTrapFocus } from '@angular/cdk/a11y';
import { Directive, inject, input, output } from '@angular/core';

/** A small dialog in an overlay beside what it was opened from: it keeps the keyboard, and Escape closes it. */
@Directive({
  selector: '[btPanel]',
  hostDirectives: [CdkTrapFocus],
  host: {
    class: 'panel',
    role: 'dialog',
    '[attr.aria-label]': 'btPanel()',
    '(keydown.escape)': 'closed.emit()',
  },
})
export class Panel {
  /** What it is, for those who do not see it. */
  readonly btPanel = input.required<string>();
  readonly closed = output();

  constructor() {
    inject(CdkTrapFocus).autoCapture = true;
  }
}
