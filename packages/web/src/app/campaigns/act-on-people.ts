import { CdkOverlayOrigin } from '@angular/cdk/overlay';
import { ChangeDetectionStrategy, Component, input, output, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import type { PersonActRequest } from '@baton/contract';
import { Below } from '../look/below';
import { Panel } from '../look/panel';
import { DayPanel } from '../time/day-panel';
import { campaignsTexts } from './texts';

const texts = campaignsTexts.actOnPeople;

/** What is done, but for whom. */
export type WantedAct = Pick<PersonActRequest, 'act' | 'day' | 'mailboxId'>;

/** What can be done about recipients that are ticked. */
@Component({
  selector: 'bt-act-on-people',
  imports: [Below, CdkOverlayOrigin, DayPanel, MatButton, MatMenu, MatMenuItem, MatMenuTrigger, Panel],
  templateUrl: './act-on-people.html',
  styleUrl: './act-on-people.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ActOnPeople {
  protected readonly texts = texts;
  readonly ticked = input.required<number>();
  /** How many are found in all. */
  readonly found = input.required<number>();
  readonly mailboxes = input.required<readonly { id: number; address: string }[]>();
  /** Whether more is to come in the campaign. */
  readonly isOpen = input.required<boolean>();
  readonly acted = output<WantedAct>();
  readonly begun = output();
  readonly all = output();
  readonly none = output();
  protected readonly asksDay = signal(false);

  protected postpone(day: string | null): void {
    this.asksDay.set(false);
    this.acted.emit({ act: 'postpone', day });
  }
}
