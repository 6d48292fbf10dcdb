import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  input,
  signal,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed, toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { Router, RouterLink, RouterLinkActive } from '@angular/router';
import type { MessageDraft, ProofView } from '@baton/contract';
import { fieldKey, listFields, setFallback, SENDER_FIELDS, usualKey, WHOLE_LIST } from '@baton/core';
import {
  catchError,
  combineLatest,
  debounceTime,
  filter,
  firstValueFrom,
  groupBy,
  mergeMap,
  of,
  Subject,
  switchMap,
  forkJoin,
} from 'rxjs';
import { LiveUpdates } from '../live/live-updates';
import { Notices } from '../live/notices';
import { sentenceOf } from '../live/sentence-of';
import { ListsService } from '../people/lists-service';
import { ShellState } from '../shell/shell-state';
import { FieldEditor, type FieldChoice } from './field-editor';
import { MailFrame } from './mail-frame';
import { MessagesService } from './messages-service';

const SENDER_CHOICES: FieldChoice[] = [
  { name: 'signature', sample: 'of the mailbox' },
  { name: 'unsubscribe_link', sample: 'the recipient’s own' },
  { name: 'sender_name', sample: 'of the mailbox' },
  { name: 'sender_address', sample: 'of the mailbox' },
  { name: 'postal_address', sample: 'of the workspace' },
];
const NEW_MESSAGE: MessageDraft = {
  name: 'New message',
  subject: '',
  body: 'Hello {{ given_name | default: "there" }},\n\n\n\n{{ signature }}\n\nRather not hear from us? [Leave this list]({{ unsubscribe_link }})',
};
const TYPING = 'typing …';
/** A pause in typing after which the text is kept. */
const SAVE_AFTER_MS = 600;
const PROOF_AFTER_MS = 80;

/** Editor left, proof right, always with the people of a real list. */
@Component({
  selector: 'bt-messages',
  imports: [FieldEditor, MailFrame, MatButton, RouterLink, RouterLinkActive],
  templateUrl: './messages.html',
  styleUrl: './messages.scss',
  host: { '(window:pagehide)': 'keepOnLeaving()' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Messages {
  private readonly service = inject(MessagesService);
  private readonly people = inject(ListsService);
  private readonly live = inject(LiveUpdates);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);
  private readonly shell = inject(ShellState);
  readonly messageId = input<string>();

  protected readonly messages = this.live.view(['messages', 'campaigns'], () => this.service.all());
  protected readonly lists = this.live.view(['people'], () => this.people.lists());
  protected readonly open = computed(() => this.messages()?.find((m) => m.id === Number(this.messageId())));

  protected readonly name = signal('');
  protected readonly subject = signal('');
  protected readonly body = signal('');
  protected readonly saved = signal('');
  protected readonly listId = signal<number | null>(null);
  protected readonly index = signal(0);
  protected readonly shownAs = signal<'letter' | 'plain'>('letter');
  private loadedId: number | null = null;
  private adding = false;
  private readonly toSave = new Subject<{ id: number; draft: MessageDraft }>();

  private readonly draft = computed((): MessageDraft => ({
    name: this.name(),
    subject: this.subject(),
    body: this.body(),
  }));

  private readonly answer = toSignal(
    combineLatest([
      toObservable(this.draft),
      toObservable(this.listId),
      toObservable(this.index),
      this.live.on('people', 'mailboxes'),
    ]).pipe(
      debounceTime(PROOF_AFTER_MS),
      filter(([, listId]) => listId !== null),
      switchMap(([draft, listId, index]) =>
        this.service
          .proof(draft, listId as number, index)
          .pipe(catchError((error: unknown) => of({ problem: sentenceOf(error) }))),
      ),
    ),
  );
  protected readonly fault = computed(() => {
    const a = this.answer();
    return a && 'fault' in a ? (a.fault ?? null) : null;
  });
  protected readonly problem = computed(() => {
    const a = this.answer();
    return a && 'problem' in a ? a.problem : '';
  });
  /** The last proof that could be made; stays in view while the text does not parse. */
  protected readonly proof = signal<ProofView | null>(null);

  private readonly firstPage = this.live.viewOf(
    toObservable(this.listId).pipe(filter((id) => id !== null)),
    ['people'],
    (id) =>
      forkJoin({
        head: this.people.list(id),
        people: this.people.firstRows(id, { query: WHOLE_LIST, removed: false }, 1),
      }),
  );
  protected readonly choices = computed((): FieldChoice[] => {
    const page = this.firstPage();
    const first = page?.people[0]?.fields ?? {};
    return [
      ...(page?.head.columns ?? []).map((c) => ({ name: c.name, sample: first[c.key] ?? '' })),
      ...SENDER_CHOICES,
    ];
  });

  /** The fields in use, each with its fallback, for one place to set them all. */
  protected readonly uses = computed(() => {
    const known = new Set(this.choices().map((c) => fieldKey(c.name)));
    const uses = [...listFields(this.subject()), ...listFields(this.body())].filter((u) => !(u.key in SENDER_FIELDS));
    return [...new Set(uses.map((u) => u.key))].map((key) => {
      const own = uses.filter((u) => u.key === key);
      const fallbacks = new Set(own.map((u) => u.fallback));
      const missing = own.filter((u) => u.fallback === null).length;
      return {
        key,
        name: own[0]?.name ?? key,
        /** The one that all uses have; where they differ, the box fills only the gaps. */
        fallback: fallbacks.size === 1 ? (own[0]?.fallback ?? '') : '',
        differs: fallbacks.size > 1,
        hint:
          fallbacks.size === 1
            ? 'no fallback'
            : missing === 0
              ? 'differs from place to place'
              : `none in ${missing} of ${own.length} places`,
        unknown: !known.has(key) && !known.has(usualKey(key)),
      };
    });
  });

  constructor() {
    effect(() => {
      if (this.listId() === null && this.lists()?.[0]) this.listId.set(this.lists()?.[0]?.id ?? null);
    });
    effect(() => {
      const a = this.answer();
      if (a && 'proof' in a && a.proof) this.proof.set(a.proof);
    });
    effect(() => this.follow());
    this.toSave
      .pipe(
        // Before the pauses: leaving the page ends them, and what was typed last is kept at once.
        takeUntilDestroyed(),
        groupBy(({ id }) => id),
        mergeMap((ofOne) => ofOne.pipe(debounceTime(SAVE_AFTER_MS))),
      )
      .subscribe(({ id, draft }) => void this.save(id, draft));
    inject(DestroyRef).onDestroy(() => this.shell.setTitle(null));
  }

  /** Opens what the address names: a message, a new one, or the first there is. */
  private follow(): void {
    const asked = this.messageId();
    const messages = this.messages();
    if (asked === 'new') return untracked(() => void this.addNew());
    const open = this.open();
    if (asked === undefined && messages?.[0])
      void this.router.navigate(['/messages', messages[0].id], { replaceUrl: true });
    this.shell.setTitle(open?.name ?? null);
    if (!open || open.id === this.loadedId) return;
    this.loadedId = open.id;
    untracked(() => {
      this.name.set(open.name);
      this.subject.set(open.subject);
      this.body.set(open.body);
      this.saved.set('');
    });
  }

  private async addNew(): Promise<void> {
    if (this.adding) return;
    this.adding = true;
    try {
      const { id } = await firstValueFrom(this.service.add(NEW_MESSAGE));
      await this.router.navigate(['/messages', id], { replaceUrl: true });
    } catch (error) {
      this.notices.failure(error);
    } finally {
      this.adding = false;
    }
  }

  protected changed(): void {
    if (this.loadedId === null || this.name().trim() === '') return;
    this.saved.set(TYPING);
    this.toSave.next({ id: this.loadedId, draft: this.draft() });
  }

  /** The tab is being closed: what was typed in the last moment still gets there. */
  protected keepOnLeaving(): void {
    if (this.loadedId !== null && this.saved() === TYPING) this.service.saveOnLeaving(this.loadedId, this.draft());
  }

  private async save(id: number, draft: MessageDraft): Promise<void> {
    try {
      await firstValueFrom(this.service.save(id, draft));
      if (this.loadedId === id) this.saved.set('kept');
    } catch (error) {
      this.saved.set('not kept');
      this.notices.failure(error);
    }
  }

  protected setFallback(use: { key: string; differs: boolean }, fallback: string): void {
    const which = use.differs ? 'missing' : 'all';
    this.subject.set(setFallback(this.subject(), use.key, fallback, which));
    this.body.set(setFallback(this.body(), use.key, fallback, which));
    this.changed();
  }

  protected chooseList(id: string): void {
    this.listId.set(Number(id));
    this.index.set(0);
  }

  protected step(by: number): void {
    const total = this.proof()?.total ?? 1;
    this.index.update((i) => (i + by + total) % total);
  }
}
