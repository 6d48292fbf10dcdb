import {
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  input,
  linkedSignal,
  output,
} from '@angular/core';
import { MatButton } from '@angular/material/button';
import { DomSanitizer } from '@angular/platform-browser';
import type { ThreadMessage } from '@baton/contract';
import { addressOf, type Mail } from '../live/addresses';
import { fileSize } from '../look/file-size';
import { MomentPipe } from '../time/workspace-time';
import { repliesTexts } from './texts';

const texts = repliesTexts.message;

/** How a message is shown: its own words, all of its text, or the page as its sender made it. */
type Shape = 'own' | 'whole' | 'page' | 'page_with_pictures';

/** One message of a thread: words, files, the page it came as; of a letter of ours also what became of it. */
@Component({
  selector: 'bt-thread-message',
  imports: [MatButton, MomentPipe],
  templateUrl: './thread-message.html',
  styleUrl: './thread-message.scss',
  host: { '[class.in]': "message().from === 'them'" },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ThreadMessageView {
  protected readonly texts = texts;
  private readonly sanitizer = inject(DomSanitizer);
  readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  readonly message = input.required<ThreadMessage>();
  readonly takenBack = output<number>();
  readonly settled = output<{ letterId: number; left: boolean }>();

  protected readonly shape = linkedSignal<string, Shape>({
    source: () => this.message().key,
    computation: () => 'own',
  });
  protected readonly mail = computed<Mail | null>(() => {
    const { incomingId, letterId } = this.message();
    if (incomingId !== null) return { kind: 'replies', id: incomingId };
    return letterId === null ? null : { kind: 'letters', id: letterId };
  });
  protected readonly isPage = computed(() => this.shape() === 'page' || this.shape() === 'page_with_pictures');
  protected readonly text = computed(() => {
    const { text, whole } = this.message();
    return this.shape() === 'whole' ? whole : text;
  });
  /** Shown in a frame that runs nothing: the server takes out what could, and its policy and the sandbox keep the rest from it. */
  protected readonly page = computed(() => {
    const mail = this.mail();
    if (!mail || !this.isPage()) return null;
    const address = addressOf.mailPage(mail, this.shape() === 'page_with_pictures');
    return this.sanitizer.bypassSecurityTrustResourceUrl(address);
  });
  protected readonly files = computed(() => {
    const mail = this.mail();
    if (!mail) return [];
    return this.message().parts.files.map((f, i) => ({
      ...f,
      size: fileSize(f.size),
      address: addressOf.mailFile(mail, i + 1, false),
      shown: addressOf.mailFile(mail, i + 1, true),
    }));
  });
  protected readonly source = computed(() => {
    const mail = this.mail();
    return mail?.kind === 'replies' ? addressOf.mailSource(mail) : null;
  });
  /** What is to be said of a letter; '' for nothing. */
  protected readonly standing = computed(() => {
    const { state, reason } = this.message();
    if (state === 'waiting') return reason === '' ? texts.waits : texts.waitsBecause(reason);
    if (state === 'sending') return texts.isBeingSent;
    if (state === 'failed') return texts.failed(reason);
    return state === 'unconfirmed' ? texts.unconfirmed(reason) : '';
  });

  protected show(shape: Shape): void {
    this.shape.update((now) => (now === shape || (shape === 'page' && now === 'page_with_pictures') ? 'own' : shape));
  }
}
