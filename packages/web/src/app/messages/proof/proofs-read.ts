import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import type { MessageView } from '@baton/contract';
import type { MessageContent } from '@baton/core';
import { Notices } from '../../live/notices';
import { WorkspaceTime } from '../../time/workspace-time';
import { MessageState } from '../message-state';
import { MessagesService } from '../messages-service';
import { messagesProofTexts } from './texts';

const texts = messagesProofTexts.proofsRead;

/** Whether somebody has read proofs of the open message as it is now: a brief asks before it is sent. */
@Injectable()
export class ProofsRead {
  private readonly service = inject(MessagesService);
  private readonly notices = inject(Notices);
  private readonly time = inject(WorkspaceTime);
  private readonly content = inject(MessageState).content;
  /** The message as it was kept last; null for none. */
  readonly kept = signal<MessageView | null>(null);
  /** The content whose proofs were read here last. */
  private readonly read = signal<MessageContent | null>(null);

  readonly words = computed(() => {
    const kept = this.kept();
    if (!kept) return '';
    if (kept.proofsReadAt === null) return texts.neverRead;
    const when = this.time.both(kept.proofsReadAt);
    return kept.changedSinceRead ? texts.changedSince(when) : texts.readAt(when);
  });

  constructor() {
    // What is typed is kept a moment later; only what is kept can be sent.
    effect(() => {
      const [kept, read] = [this.kept(), this.read()];
      if (!kept || !read || !(kept.proofsReadAt === null || kept.changedSinceRead)) return;
      if (JSON.stringify(kept.content) !== JSON.stringify(read)) return;
      untracked(() =>
        this.service.noteRead(kept.id, read).subscribe({ error: (error: unknown) => this.notices.failure(error) }),
      );
    });
  }

  /** Somebody goes on to another proof, or has one sent. */
  readOn(): void {
    this.read.set(this.content());
  }
}
