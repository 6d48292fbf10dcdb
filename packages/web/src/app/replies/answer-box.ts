import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  input,
  linkedSignal,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { DestroyRef } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { MOST_ANSWER, TAKE_BACK_MS, type AnswerDraft, type AnswerView, type SnippetView } from '@baton/contract';
import { firstValueFrom, fromEvent } from 'rxjs';
import { Notices } from '../live/notices';
import { isTicked, typedText } from '../look/event-input';
import { RepliesService } from './replies-service';
import { SnippetsDialog, type SnippetsAsked } from './snippets-dialog';
import { repliesTexts } from './texts';

const texts = repliesTexts.answer;

/** What is typed is kept so long after the last letter. */
const KEEP_AFTER_MS = 500;

/** An answer while it is written: kept as a draft, with snippets, sent with the mailbox's signature and the quotation. */
@Component({
  selector: 'bt-answer-box',
  imports: [MatButton, MatMenu, MatMenuItem, MatMenuTrigger],
  templateUrl: './answer-box.html',
  styleUrl: './answer-box.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class AnswerBox {
  protected readonly texts = texts;
  protected readonly typedText = typedText;
  protected readonly isTicked = isTicked;
  protected readonly most = MOST_ANSWER;
  private readonly service = inject(RepliesService);
  private readonly notices = inject(Notices);
  private readonly dialog = inject(MatDialog);
  readonly replyId = input.required<number>();
  readonly answer = input.required<AnswerView>();
  /** It was sent, or put away. */
  readonly closed = output();
  private readonly box = viewChild.required<ElementRef<HTMLTextAreaElement>>('box');

  /** Whether something was typed that the server has not kept yet: then what it tells meanwhile changes nothing here. */
  private readonly isUnkept = signal(false);
  private readonly written = linkedSignal<AnswerView, AnswerDraft>({
    source: this.answer,
    computation: (answer, before) => (before && untracked(this.isUnkept) ? before.value : draftOf(answer)),
  });
  protected readonly draft = this.written.asReadonly();
  protected readonly isBlank = computed(() => this.draft().text.trim() === '');
  protected readonly snippets = signal<SnippetView[]>([]);
  protected readonly isSending = signal(false);
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor() {
    effect(() => void this.loadSnippets(this.replyId()));
    fromEvent(window, 'pagehide')
      .pipe(takeUntilDestroyed())
      .subscribe(() => {
        if (this.isUnkept()) this.service.keepAnswerAtLast(this.replyId(), this.written());
      });
    inject(DestroyRef).onDestroy(() => void this.keep());
  }

  focus(): void {
    this.box().nativeElement.focus();
  }

  protected write(change: Partial<AnswerDraft>): void {
    this.written.update((d) => ({ ...d, ...change }));
    this.isUnkept.set(true);
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.keep(), KEEP_AFTER_MS);
  }

  private async keep(): Promise<void> {
    if (!this.isUnkept()) return;
    clearTimeout(this.timer);
    const draft = this.written();
    try {
      await firstValueFrom(this.service.keepAnswer(this.replyId(), draft), { defaultValue: null });
      if (draft === this.written()) this.isUnkept.set(false);
    } catch (error) {
      this.notices.failure(error);
    }
  }

  protected async send(): Promise<void> {
    if (this.isBlank() || this.isSending() || this.answer().obstacle !== null) return;
    this.isSending.set(true);
    clearTimeout(this.timer);
    try {
      const { letterId } = await firstValueFrom(this.service.sendAnswer(this.replyId(), this.written()));
      this.isUnkept.set(false);
      this.notices.offer(
        texts.leavesSoon(this.answer().to),
        texts.takeBack,
        TAKE_BACK_MS,
        () => void this.takeBack(letterId),
      );
      this.closed.emit();
    } catch (error) {
      this.notices.failure(error);
    } finally {
      this.isSending.set(false);
    }
  }

  private async takeBack(letterId: number): Promise<void> {
    try {
      await firstValueFrom(this.service.takeBack(letterId));
    } catch (error) {
      this.notices.failure(error);
    }
  }

  protected pressed(event: KeyboardEvent): void {
    if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
      event.preventDefault();
      void this.send();
    } else if (event.key === 'Escape') {
      event.stopPropagation();
      this.closed.emit();
    }
  }

  private async loadSnippets(id: number): Promise<void> {
    try {
      this.snippets.set(await firstValueFrom(this.service.snippets(id), { defaultValue: [] }));
    } catch (error) {
      this.notices.failure(error);
    }
  }

  /** Puts a snippet where the caret is. */
  protected insert({ filled }: SnippetView): void {
    if (filled === null) return;
    const box = this.box().nativeElement;
    const { value, selectionStart, selectionEnd } = box;
    this.write({ text: value.slice(0, selectionStart) + filled + value.slice(selectionEnd) });
    box.focus();
    const caret = selectionStart + filled.length;
    // Once the new text is in the box.
    setTimeout(() => box.setSelectionRange(caret, caret));
  }

  protected async openSnippets(): Promise<void> {
    const box = this.box().nativeElement;
    const chosen = box.value.slice(box.selectionStart, box.selectionEnd) || box.value;
    const data: SnippetsAsked = { replyId: this.replyId(), text: chosen };
    await firstValueFrom(this.dialog.open(SnippetsDialog, { data, width: '720px' }).afterClosed());
    await this.loadSnippets(this.replyId());
  }
}

const draftOf = ({ subject, text, quotes }: AnswerView): AnswerDraft => ({ subject, text, quotes });
