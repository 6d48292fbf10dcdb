import { DestroyRef, inject, Injectable, signal } from '@angular/core';
import type { MessageDraft } from '@baton/contract';
import { concatMap, debounceTime, firstValueFrom, groupBy, mergeMap, Subject, takeUntil } from 'rxjs';
import { Notices } from '../live/notices';
import { MessagesService } from './messages-service';
import { messagesTexts } from './texts';

const texts = messagesTexts.messageKeeper;

/** A pause in typing after which the text is kept. */
const SAVE_AFTER_MS = 600;

/** Keeps messages as they are written: after a pause, one save after another, and at once when the page is left. */
@Injectable()
export class MessageKeeper {
  private readonly service = inject(MessagesService);
  private readonly notices = inject(Notices);
  /** The last draft of each message that the server has not confirmed. */
  private readonly unsaved = new Map<number, MessageDraft>();
  private readonly changed = new Subject<number>();
  private readonly left = new Subject<void>();
  /** Where the last change of the message is, in words. */
  private readonly keeping = signal('');
  readonly state = this.keeping.asReadonly();

  constructor() {
    this.changed
      .pipe(
        // Before the pauses: leaving ends them, and what was typed last is kept at once.
        takeUntil(this.left),
        groupBy((id) => id),
        mergeMap((ofOne) =>
          ofOne.pipe(
            debounceTime(SAVE_AFTER_MS),
            concatMap((id) => this.save(id)),
          ),
        ),
      )
      .subscribe();
    inject(DestroyRef).onDestroy(() => this.left.next());
  }

  /** Another message is looked at, with nothing typed yet. */
  opened(): void {
    this.keeping.set('');
  }

  keep(id: number, draft: MessageDraft): void {
    this.unsaved.set(id, draft);
    this.keeping.set(texts.editing);
    this.changed.next(id);
  }

  /** The tab is being closed: what the server has not confirmed still gets there. */
  closing(): void {
    for (const [id, draft] of this.unsaved) this.service.saveOnLeaving(id, draft);
  }

  private async save(id: number): Promise<void> {
    const draft = this.unsaved.get(id);
    if (!draft) return;
    try {
      await firstValueFrom(this.service.save(id, draft));
      // Typed on meanwhile: a later save confirms that.
      if (this.unsaved.get(id) !== draft) return;
      this.unsaved.delete(id);
      this.keeping.set(texts.saved);
    } catch (error) {
      this.keeping.set(texts.notSaved);
      this.notices.failure(error);
    }
  }
}
