import { CdkConnectedOverlay, CdkOverlayOrigin } from '@angular/cdk/overlay';
import { ChangeDetectionStrategy, Component, input, output, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import type { ReplyChange } from '@baton/contract';
import { BELOW } from '../look/below';
import { Panel } from '../look/panel';
import { AssignPanel } from './assign-panel';
import { OUTCOME_KEYS } from './outcomes';
import { RemindPanel } from './remind-panel';
import { repliesTexts } from './texts';

const texts = repliesTexts.many;

/** What can be done to all messages that are ticked. */
@Component({
  selector: 'bt-change-many',
  imports: [
    AssignPanel,
    CdkConnectedOverlay,
    CdkOverlayOrigin,
    MatButton,
    MatMenu,
    MatMenuItem,
    MatMenuTrigger,
    Panel,
    RemindPanel,
  ],
  templateUrl: './change-many.html',
  styleUrl: './change-many.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChangeMany {
  protected readonly texts = texts;
  protected readonly below = BELOW;
  protected readonly outcomes = OUTCOME_KEYS;
  readonly ticked = input.required<number>();
  readonly colleagues = input.required<readonly string[]>();
  readonly changed = output<ReplyChange>();
  readonly all = output();
  readonly none = output();
  protected readonly asking = signal<'assign' | 'remind' | null>(null);

  protected change(change: ReplyChange): void {
    this.asking.set(null);
    this.changed.emit(change);
  }
}
