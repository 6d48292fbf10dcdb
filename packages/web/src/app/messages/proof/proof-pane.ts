import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import type { ListView, ProofAsked, ProofView } from '@baton/contract';
import { firstValueFrom } from 'rxjs';
import { Notices } from '../../live/notices';
import { saveFile } from '../../look/save-file';
import { MessagesService } from '../messages-service';
import { ProofLetter } from './proof-letter';
import { SendTest } from './send-test';
import { typedText } from '../../look/event-input';
import { messagesProofTexts } from './texts';

const texts = messagesProofTexts.proofPane;

const VIEWS = [
  { view: 'letter', name: texts.letter },
  { view: 'phone', name: texts.phone },
  { view: 'dark', name: texts.dark },
  { view: 'plain', name: texts.plain },
  { view: 'source', name: texts.source },
] as const;
type ProofViewName = (typeof VIEWS)[number]['view'];

/** More of a message's source than this is not shown, only saved. */
const MOST_SHOWN = 200_000;

/** One finished message, as its recipient sees it. */
@Component({
  selector: 'bt-proof-pane',
  imports: [MatButton, ProofLetter],
  templateUrl: './proof-pane.html',
  styleUrl: './proof-pane.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ProofPane {
  protected readonly texts = texts;
  protected readonly typedText = typedText;
  private readonly service = inject(MessagesService);
  private readonly notices = inject(Notices);
  private readonly dialog = inject(MatDialog);
  readonly proof = input.required<ProofView | null>();
  /** What the proof was asked with; null before there is a list. */
  readonly asked = input.required<ProofAsked | null>();
  readonly lists = input.required<ListView[] | undefined>();
  readonly listId = input.required<number | null>();
  /** Whether the text has changed in a way that cannot be shown. */
  readonly isStale = input.required<boolean>();
  readonly problem = input.required<string>();
  /** Whether proofs of this content have been read, in words. */
  readonly readWords = input('');
  readonly stepped = output<number>();
  readonly listChosen = output<number>();
  /** A test was sent. */
  readonly tested = output();

  protected readonly views = VIEWS;
  protected readonly view = signal<ProofViewName>('letter');
  protected readonly source = signal('');
  protected readonly links = computed(() => linksOf(this.proof()?.html ?? ''));

  constructor() {
    effect(() => {
      const [asked, view] = [this.asked(), this.view()];
      this.proof();
      if (view === 'source' && asked && !this.isStale()) untracked(() => void this.readSource(asked));
    });
  }

  private async readSource(asked: ProofAsked): Promise<void> {
    try {
      const text = await (await firstValueFrom(this.service.source(asked))).text();
      if (this.asked() !== asked) return;
      this.source.set(text.length > MOST_SHOWN ? `${text.slice(0, MOST_SHOWN)}\n…` : text);
    } catch (error) {
      this.notices.failure(error);
    }
  }

  protected save(): void {
    const asked = this.asked();
    if (!asked) return;
    this.service.source(asked).subscribe({
      next: (file) => saveFile(file, `${nameOf(this.proof()?.subject ?? '')}.eml`),
      error: (error: unknown) => this.notices.failure(error),
    });
  }

  protected sendTest(): void {
    const asked = this.asked();
    if (!asked) return;
    const data = { asked, to: this.proof()?.to ?? '' };
    const dialog = this.dialog.open<SendTest, unknown, boolean>(SendTest, { data, width: '440px' });
    dialog.afterClosed().subscribe((isSent) => isSent && this.tested.emit());
  }
}

/** A subject as a file may be called. */
const nameOf = (subject: string): string => subject.replace(/[^\p{L}\p{N} -]+/gu, '').trim() || 'proof';

/** Links of a finished message and where they lead. */
function linksOf(html: string): { text: string; href: string }[] {
  const page = new DOMParser().parseFromString(html, 'text/html');
  return [...page.querySelectorAll('a[href]')].map((a) => ({
    text: a.textContent?.trim() || (a.querySelector('img')?.getAttribute('alt') ?? '') || texts.aPicture,
    href: a.getAttribute('href') ?? '',
  }));
}
