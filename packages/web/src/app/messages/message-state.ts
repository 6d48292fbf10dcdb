import { computed, Injectable, signal } from '@angular/core';
import { EMPTY_CONTENT, letterDoc, type MessageContent } from '@baton/core';

/** Steps that can be undone. */
const MOST_STEPS = 200;
/** Changes of one kind that come this close after another are one step. */
const ONE_STEP_MS = 800;

/** What a new message begins with. */
export const NEW_CONTENT: MessageContent = {
  ...EMPTY_CONTENT,
  body: {
    type: 'doc',
    content: [
      {
        type: 'paragraph',
        content: [
          { type: 'either', attrs: { field: 'given name', filled: 'Hello {{ given name }},', blank: 'Hello,' } },
        ],
      },
      { type: 'paragraph' },
      ...letterDoc('{{ signature }}\n\nRather not hear from us? [Leave this list]({{ unsubscribe_link }})').content,
    ],
  },
};

/** The message that is open, as it is being written, with what can be undone of it. */
@Injectable()
export class MessageState {
  private readonly now = signal<MessageContent>(EMPTY_CONTENT);
  private readonly past = signal<readonly MessageContent[]>([]);
  private readonly future = signal<readonly MessageContent[]>([]);
  private last = { kind: '', at: 0 };
  readonly content = this.now.asReadonly();
  readonly canUndo = computed(() => this.past().length > 0);
  readonly canRedo = computed(() => this.future().length > 0);

  /** Opens another message; what was done to the one before cannot be undone here. */
  open(content: MessageContent): void {
    this.now.set(content);
    this.past.set([]);
    this.future.set([]);
    this.last = { kind: '', at: 0 };
  }

  /** @param kind changes of the same kind shortly after one another are undone together */
  change(to: Partial<MessageContent> | ((content: MessageContent) => MessageContent), kind: string): void {
    const before = this.now();
    const after = typeof to === 'function' ? to(before) : { ...before, ...to };
    if (JSON.stringify(before) === JSON.stringify(after)) return;
    const at = performance.now();
    if (kind !== this.last.kind || at - this.last.at > ONE_STEP_MS || this.past().length === 0)
      this.past.update((steps) => [...steps, before].slice(-MOST_STEPS));
    this.last = { kind, at };
    this.future.set([]);
    this.now.set(after);
  }

  undo(): boolean {
    return this.step(this.past, this.future);
  }

  redo(): boolean {
    return this.step(this.future, this.past);
  }

  private step(from: typeof this.past, to: typeof this.past): boolean {
    const steps = from();
    const next = steps.at(-1);
    if (!next) return false;
    const before = this.now();
    to.update((others) => [...others, before]);
    from.set(steps.slice(0, -1));
    this.last = { kind: '', at: 0 };
    this.now.set(next);
    return true;
  }
}
