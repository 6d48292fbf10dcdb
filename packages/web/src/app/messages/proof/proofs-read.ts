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
  /** The message whose proofs were read here last, as it was then. */
  private readonly read = signal<{ id: number; content: MessageContent } | null>(null);

  readonly words = computed(() => {
    const kept = this.kept();
    if (!kept) return '';
    if (kept.proofsReadAt === null) return texts.neverRead;
    const when = this.time.both(kept.proofsReadAt);
    return kept.changedSinceRead ? texts.changedSince(when) : texts.readAt(when);
  });

  constructor() {
    // What is typed is kept a moment later, and only what is kept can be sent: the server says whether it is what was read.
    effect(() => {
      const [kept, read] = [this.kept(), this.read()];
      if (!kept || kept.id !== read?.id || !(kept.proofsReadAt === null || kept.changedSinceRead)) return;
      untracked(() =>
        this.service
          .noteRead(read.id, read.content)
          .subscribe({ error: (error: unknown) => this.notices.failure(error) }),
      );
    });
  }

  /** Somebody goes on to another proof, or has one sent. */
  readOn(): void {
    const kept = this.kept();
    if (kept) this.read.set({ id: kept.id, content: this.content() });
  }
}
