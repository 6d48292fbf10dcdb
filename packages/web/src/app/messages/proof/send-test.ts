import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { ProofAsked } from '@baton/contract';
import { firstValueFrom } from 'rxjs';
import { LiveUpdates } from '../../live/live-updates';
import { Notices } from '../../live/notices';
import { sentenceOf } from '../../live/sentence-of';
import { DIALOG_PARTS } from '../../look/dialog-parts';
import { MailboxesService } from '../../mailboxes/mailboxes-service';
import { MessagesService } from '../messages-service';
import { typedText } from '../../look/event-input';
import { messagesProofTexts } from './texts';

const texts = messagesProofTexts.sendTest;

const REMEMBERED = 'baton.test.to';

/** Sends one recipient's message to oneself, marked as a test. */
@Component({
  selector: 'bt-send-test',
  imports: [DIALOG_PARTS],
  template: `
    <h2 mat-dialog-title>{{ texts.sendATestEmail }}</h2>
    <mat-dialog-content>
      <p class="quiet">
        {{ texts.whatWouldGetMarkedAs(data.to) }}
      </p>
      <label
        >{{ texts.to }}&ngsp;<input
          [value]="to()"
          [placeholder]="texts.youTidewaterkelpExampleAColleague"
          (input)="to.set(typedText($event))"
          (keydown.enter)="send()"
      /></label>
      <label
        >{{ texts.from }}&ngsp;<select [value]="mailboxId()" (change)="chosen.set(+typedText($event))">
          @for (m of mailboxes(); track m.id) {
            <option [value]="m.id" [selected]="m.id === mailboxId()">{{ m.address }}</option>
          }
        </select></label
      >
      @if (problem()) {
        <p class="trouble" role="alert">{{ problem() }}</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button matButton mat-dialog-close>{{ texts.cancel }}</button>
      <button matButton="filled" [disabled]="addresses().length === 0 || busy()" (click)="send()">
        {{ busy() ? texts.sending : texts.sendTests(addresses().length || 1) }}
      </button>
    </mat-dialog-actions>
  `,
  styles: `
    label {
      display: grid;
      gap: 4px;
      margin-top: 12px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SendTest {
  protected readonly texts = texts;
  protected readonly typedText = typedText;
  private readonly service = inject(MessagesService);
  private readonly notices = inject(Notices);
  private readonly ref = inject<MatDialogRef<SendTest>>(MatDialogRef);
  protected readonly data = inject<{ asked: ProofAsked; to: string }>(MAT_DIALOG_DATA);
  private readonly mailboxService = inject(MailboxesService);
  protected readonly mailboxes = inject(LiveUpdates).view(['mailboxes'], () => this.mailboxService.all());
  protected readonly chosen = signal<number | null>(null);
  protected readonly mailboxId = computed(
    () => this.chosen() ?? this.mailboxes()?.find((m) => m.problem === null)?.id ?? null,
  );
  protected readonly to = signal(localStorage.getItem(REMEMBERED) ?? '');
  protected readonly addresses = computed(() =>
    this.to()
      .split(/[,;\s]+/)
      .filter((a) => a !== ''),
  );
  protected readonly busy = signal(false);
  protected readonly problem = signal('');

  protected async send(): Promise<void> {
    if (this.addresses().length === 0 || this.busy()) return;
    this.busy.set(true);
    this.problem.set('');
    try {
      const to = this.addresses();
      const { from } = await firstValueFrom(
        this.service.sendTest({ ...this.data.asked, mailboxId: this.mailboxId(), to }),
      );
      localStorage.setItem(REMEMBERED, this.to());
      this.notices.say(texts.theTestWasSentFrom(from, to.join(', ')));
      this.ref.close(true);
    } catch (error) {
      this.problem.set(sentenceOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
