import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { MailboxView } from '@baton/contract';
import { firstValueFrom } from 'rxjs';
import { WorkspaceTime } from '../time/workspace-time';
import { LiveUpdates } from '../live/live-updates';
import { Notices } from '../live/notices';
import { MomentPipe } from '../time/workspace-time';
import { healthRates, type HealthRate } from './health-words';
import { MailboxRulesPanel } from './mailbox-rules';
import { MailboxesService } from './mailboxes-service';
import { mailboxesTexts } from './texts';
import { CountPipe } from '../look/count-pipe';

const texts = mailboxesTexts.mailboxes;

/** One row each: today's load, quota, state. */
@Component({
  selector: 'bt-mailboxes',
  imports: [CountPipe, MailboxRulesPanel, MatButton, RouterLink, MomentPipe],
  templateUrl: './mailboxes.html',
  styleUrl: './mailboxes.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Mailboxes {
  private readonly time = inject(WorkspaceTime);
  protected readonly texts = texts;
  private readonly service = inject(MailboxesService);
  private readonly notices = inject(Notices);
  protected readonly mailboxes = inject(LiveUpdates).view(['mailboxes', 'today'], () => this.service.all());

  protected state(m: MailboxView): { words: string; tone: string; detail: string } {
    if (m.problem !== null) return { words: texts.cannotSignIn, tone: 'bad', detail: m.problem };
    if (m.held) return { words: texts.held, tone: 'bad', detail: '' };
    // What moved because of a rest is told on the mailbox's page.
    if (m.restUntil !== null)
      return { words: texts.restsUntil(this.time.dayWords(m.restUntil)), tone: 'bad', detail: m.restReason ?? '' };
    const byHand = m.byHandToday > 0 ? texts.ofTodaysSentByHand(m.byHandToday) : '';
    if (m.quotaToday < m.dailyQuota)
      return { words: texts.ramping, tone: 'look', detail: byHand || texts.upToADay(m.dailyQuota) };
    return { words: texts.sends, tone: 'sea', detail: byHand };
  }

  protected rates(m: MailboxView): HealthRate[] {
    // Nothing is said of what has not happened, but for bounces and answers, which one looks for.
    return healthRates(m.health).filter((r) => r.count > 0 || r.name === 'bounced' || r.name === 'replied');
  }

  protected share(m: MailboxView, n: number): number {
    return Math.min(100, (100 * n) / Math.max(1, m.dailyQuota));
  }

  protected async setHeld(m: MailboxView, held: boolean): Promise<void> {
    try {
      await firstValueFrom(this.service.setHeld(m.id, held));
    } catch (error) {
      this.notices.failure(error);
    }
  }
}
