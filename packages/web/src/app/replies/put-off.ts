import { CdkOverlayOrigin } from '@angular/cdk/overlay';
import { ChangeDetectionStrategy, Component, input, output, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { ReplyChange } from '@baton/contract';
import { Below } from '../look/below';
import { Panel } from '../look/panel';
import { DayPanel } from '../time/day-panel';
import { AssignPanel } from './assign-panel';
import { repliesTexts } from './texts';

const texts = repliesTexts.putOff;

/** Two buttons: on which day to write again, and which colleague sees to it; of one message or of several. */
@Component({
  selector: 'bt-put-off',
  imports: [AssignPanel, Below, CdkOverlayOrigin, DayPanel, MatButton, Panel],
  templateUrl: './put-off.html',
  styles: `
    :host {
      display: contents;
    }
    button {
      min-width: 0;
      padding: 0 8px;
    }
    kbd {
      font: 600 12px var(--sans);
      opacity: 0.7;
      margin-left: 4px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PutOff {
  protected readonly texts = texts;
  /** What stands on the buttons, with the keys that press them; '' for no key. */
  readonly remindWords = input.required<string>();
  readonly assignWords = input.required<string>();
  readonly hasKeys = input(false);
  /** ISO date and name as they are; null and '' for none. */
  readonly day = input<string | null>(null);
  readonly name = input('');
  readonly colleagues = input.required<readonly string[]>();
  readonly changed = output<ReplyChange>();
  /** Which of the two is being asked. */
  readonly asking = signal<'assign' | 'remind' | null>(null);

  protected change(change: ReplyChange): void {
    this.asking.set(null);
    this.changed.emit(change);
  }
}
