import { ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject, input, signal } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { Router, RouterLink } from '@angular/router';
import { deliveryWords, eventRule, recipientStateWords } from '@baton/core';
import { firstValueFrom } from 'rxjs';
import { LiveUpdates } from '../../live/live-updates';
import { Notices } from '../../live/notices';
import { EVENT_TONES } from '../../look/event-tones';
import { RepliesService } from '../../replies/replies-service';
import { ShellState } from '../../shell/shell-state';
import { MomentPipe, WorkspaceTime } from '../../time/workspace-time';
import { PeopleService } from './people-service';
import { PersonProofView } from './person-proof';
import { peoplePersonTexts } from './texts';
import { addressOf } from '../../live/addresses';

const texts = peoplePersonTexts.personPage;

/** One person's whole history across lists and campaigns, and why they are not being written to. */
@Component({
  selector: 'bt-person-page',
  imports: [MatButton, RouterLink, MomentPipe],
  templateUrl: './person-page.html',
  styleUrl: './person-page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PersonPage {
  protected readonly texts = texts;
  protected readonly addressOf = addressOf;
  private readonly people = inject(PeopleService);
  private readonly notices = inject(Notices);
  private readonly replies = inject(RepliesService);
  private readonly dialog = inject(MatDialog);
  private readonly router = inject(Router);
  private readonly shell = inject(ShellState);
  private readonly time = inject(WorkspaceTime);
  readonly contactId = input.required<string>();

  protected readonly person = inject(LiveUpdates).viewOf(
    toObservable(this.contactId),
    ['people', 'progress', 'replies', 'campaigns'],
    (id) => this.people.person(Number(id)),
  );
  protected readonly campaigns = computed(() =>
    (this.person()?.campaigns ?? []).map((c) => ({
      ...c,
      words: recipientStateWords(c.state),
      about: [
        c.reason === recipientStateWords(c.state) ? '' : c.reason,
        c.mailbox === null ? '' : texts.from(c.mailbox),
      ]
        .filter((t) => t !== '')
        .join(' · '),
      lines: c.messages.map((m, nth) => ({
        at: m.step,
        step: nth === 0 ? texts.firstMessage : texts.followUp(nth),
        subject: m.subject,
        when: m.at === null ? texts.noTimeYet : this.time.both(m.at),
        state: m.state === 'sent' ? '' : deliveryWords(m.state),
      })),
    })),
  );
  protected readonly historyNote = computed(() => {
    const { history = [], historyTotal = 0 } = this.person() ?? {};
    return historyTotal > history.length ? texts.newestOf(history.length, historyTotal) : texts.newestFirst;
  });
  protected readonly history = computed(() =>
    (this.person()?.history ?? []).map((h) => ({
      ...h,
      tone: EVENT_TONES[h.kind],
      words: eventRule(h.kind).words,
      what: h.words,
    })),
  );
  /** Pressed once: the next press erases. */
  protected readonly sure = signal(false);

  constructor() {
    effect(() => this.shell.setTitle(this.person()?.name || (this.person()?.address ?? null)));
    inject(DestroyRef).onDestroy(() => this.shell.setTitle(null));
  }

  protected async showProof(campaignId: number, step: number): Promise<void> {
    try {
      const data = await firstValueFrom(this.people.proof(Number(this.contactId()), campaignId, step));
      this.dialog.open(PersonProofView, { data, width: '640px' });
    } catch (error) {
      this.notices.failure(error);
    }
  }

  /** Takes back what Baton did because of a message. */
  protected async undo(incomingId: number): Promise<void> {
    try {
      await firstValueFrom(this.replies.undo(incomingId));
    } catch (error) {
      this.notices.failure(error);
    }
  }

  protected async erase(): Promise<void> {
    const person = this.person();
    if (!person) return;
    if (!this.sure()) {
      this.sure.set(true);
      return;
    }
    try {
      await firstValueFrom(this.people.erase(person.id));
      this.notices.say(texts.everythingAboutHasBeenErased(person.address));
      await this.router.navigate(['/people']);
    } catch (error) {
      this.notices.failure(error);
    }
  }
}
