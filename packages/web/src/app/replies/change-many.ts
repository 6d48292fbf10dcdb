import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import type { ReplyChange } from '@baton/contract';
import { OUTCOME_KEYS } from './outcomes';
import { PutOff } from './put-off';
import { repliesTexts } from './texts';

const texts = repliesTexts.many;

/** What can be done to all messages that are ticked. */
@Component({
  selector: 'bt-change-many',
  imports: [MatButton, MatMenu, MatMenuItem, MatMenuTrigger, PutOff],
  templateUrl: './change-many.html',
  styleUrl: './change-many.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChangeMany {
  protected readonly texts = texts;
  protected readonly outcomes = OUTCOME_KEYS;
  readonly ticked = input.required<number>();
  readonly colleagues = input.required<readonly string[]>();
  readonly changed = output<ReplyChange>();
  readonly all = output();
  readonly none = output();
}
