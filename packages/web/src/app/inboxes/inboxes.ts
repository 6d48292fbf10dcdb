import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { EMPTY, firstValueFrom, type Observable } from 'rxjs';
import type { SimulatedMail } from '@baton/contract';
import { LiveUpdates } from '../live/live-updates';
import { Notices } from '../live/notices';
import { MailFrame } from '../messages/mail-frame';
import { ShellState } from '../shell/shell-state';
import { MomentPipe } from '../time/workspace-time';
import { InboxesService } from './inboxes-service';
import { typedText } from '../look/event-input';
import { inboxesTexts } from './texts';

const texts = inboxesTexts.inboxes;

const MOST_PEOPLE = 400;
const AWAY_DAYS = 7;
const DAY_MS = 86_400_000;

/** Demo only: any recipient's inbox as they see it, and what they may do with a message. */
@Component({
  selector: 'bt-inboxes',
  imports: [MailFrame, MatButton, MomentPipe],
  templateUrl: './inboxes.html',
  styleUrl: './inboxes.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Inboxes {
  protected readonly texts = texts;
  protected readonly typedText = typedText;
  private readonly service = inject(InboxesService);
  private readonly live = inject(LiveUpdates);
  private readonly notices = inject(Notices);
  private readonly shell = inject(ShellState);

  private readonly everyone = this.live.view(['today', 'clock'], () => this.service.people());
  protected readonly counts = this.live.view(['today', 'clock'], () => this.service.counts());
  protected readonly search = signal('');
  protected readonly people = computed(() => {
    const text = this.search().trim().toLowerCase();
    return (this.everyone() ?? [])
      .filter((p) => `${p.address} ${p.personaWords}`.toLowerCase().includes(text))
      .slice(0, MOST_PEOPLE);
  });
  private readonly chosen = signal<string | null>(null);
  protected readonly person = computed(() =>
    this.everyone()?.find((p) => p.address === (this.chosen() ?? this.people()[0]?.address)),
  );
  private readonly address = computed(() => this.person()?.address ?? '');
  protected readonly mails = this.live.viewOf(toObservable(this.address), ['today', 'clock'], (a) =>
    a === '' ? EMPTY : this.service.inbox(a),
  );
  /** The mail that is shown as plain text. */
  protected readonly asText = signal<number | null>(null);
  protected readonly answer = signal('');
  /** What was done and cannot be seen in the inbox itself. */
  protected readonly done = signal('');

  protected show(address: string): void {
    this.chosen.set(address);
    this.answer.set('');
    this.done.set('');
  }

  protected reply(mail: SimulatedMail): Promise<void> {
    const text = this.answer();
    this.answer.set('');
    return this.send(this.service.reply(this.address(), mail.id, text), texts.replySentBatonFindsIt);
  }

  protected act(mail: SimulatedMail, kind: 'unsubscribe_link' | 'one_click' | 'complaint'): Promise<void> {
    const said = {
      unsubscribe_link: texts.theLinkWasOpenedAnd,
      one_click: texts.theMailProgramsButtonWas,
      complaint: texts.markedAsSpamTheReport,
    }[kind];
    return this.send(this.service.act(this.address(), mail.id, kind), said);
  }

  protected toggleAway(): Promise<void> {
    const away = this.person()?.awayUntil != null;
    const until = new Date((this.shell.view()?.clock.nowMs ?? 0) + AWAY_DAYS * DAY_MS).toISOString().slice(0, 10);
    return this.send(
      this.service.setAway(this.address(), away ? null : until),
      away ? texts.backAgain : texts.outOfOfficeUntilEvery(until),
    );
  }

  private async send(request: Observable<unknown>, said: string): Promise<void> {
    try {
      await firstValueFrom(request);
      this.done.set(said);
    } catch (error) {
      this.notices.failure(error);
    }
  }
}
