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
  viewChild,
} from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { Router, RouterLink } from '@angular/router';
import type { LayoutView, MessageDraft, MessageView } from '@baton/contract';
import {
  fallBackInContent,
  fieldsOf,
  isMessageField,
  MESSAGE_FIELDS,
  renameInContent,
  fieldKey,
  usesLine,
  WHOLE_LIST,
  type Layout,
  type MessageCheck,
  type MessageContent,
  type RichDoc,
} from '@baton/core';
import { filter, firstValueFrom, forkJoin } from 'rxjs';
import { LiveUpdates } from '../live/live-updates';
import { NewCampaigns } from '../campaigns/new-campaigns';
import { Notices } from '../live/notices';
import { AskName } from '../look/ask-name';
import { ListsService } from '../people/list/lists-service';
import { MessageResultsLine } from '../results/message-results';
import { ShellState } from '../shell/shell-state';
import { EditorTools } from './editor/editor-tools';
import type { FieldChoice } from './editor/field-choice';
import { LineEditor } from './editor/line-editor';
import { RichEditor } from './editor/rich-editor';
import { FieldFallbacks } from './field-fallbacks';
import { LayoutEditor } from './layout/layout-editor';
import { MessageExtras } from './message-extras';
import { MessageKeeper } from './message-keeper';
import { MessageList } from './message-list';
import { MessageState, NEW_CONTENT } from './message-state';
import { MessagesService } from './messages-service';
import { ProofFeed } from './proof/proof-feed';
import { ProofsRead } from './proof/proofs-read';
import { ProofPane } from './proof/proof-pane';
import { WorthReading } from './proof/worth-reading';
import { Versions } from './versions';
import { typedText } from '../look/event-input';
import { messagesTexts } from './texts';
import { addressOf } from '../live/addresses';

const texts = messagesTexts.messages;

/** People whose values a look at a chip shows. */
const SAMPLES = 10;

/** A message as a file, its fields as Liquid. */
const FILE_FORMATS = [
  { format: 'zip', words: texts.withItsFilesForImporting },
  { format: 'eml', words: texts.mailEml },
  { format: 'html', words: texts.pageHtml },
  { format: 'mjml', words: texts.layoutMjml },
  { format: 'txt', words: texts.plainTextTxt },
];

/** Editor left, proof right, always with the people of a real list. */
@Component({
  selector: 'bt-messages',
  imports: [
    MessageList,
    LineEditor,
    RichEditor,
    EditorTools,
    LayoutEditor,
    FieldFallbacks,
    MessageExtras,
    MessageResultsLine,
    ProofPane,
    WorthReading,
    MatButton,
    MatMenu,
    MatMenuItem,
    MatMenuTrigger,
    RouterLink,
  ],
  providers: [MessageKeeper, MessageState, ProofFeed, ProofsRead],
  templateUrl: './messages.html',
  styleUrl: './messages.scss',
  host: { '(window:pagehide)': 'keeper.closing()', '(keydown)': 'pressed($event)' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Messages {
  protected readonly texts = texts;
  protected readonly addressOf = addressOf;
  protected readonly typedText = typedText;
  private readonly service = inject(MessagesService);
  private readonly people = inject(ListsService);
  private readonly live = inject(LiveUpdates);
  private readonly notices = inject(Notices);
  private readonly campaigns = inject(NewCampaigns);
  private readonly router = inject(Router);
  private readonly dialog = inject(MatDialog);
  private readonly shell = inject(ShellState);
  protected readonly state = inject(MessageState);
  readonly messageId = input<string>();

  protected readonly messages = this.live.view(['messages', 'campaigns'], () => this.service.all());
  protected readonly lists = this.live.view(['people'], () => this.people.lists());
  protected readonly layouts = this.live.view(['messages'], () => this.service.layouts());
  protected readonly open = computed(() => this.messages()?.find((m) => m.id === Number(this.messageId())));

  private readonly plainEditor = viewChild<RichEditor>('plainEditor');
  private readonly layoutEditor = viewChild(LayoutEditor);
  private readonly subjectEditor = viewChild<LineEditor>('subjectEditor');
  protected readonly written = signal<RichEditor | null>(null);
  /** Which text the tools work on: the one written last. */
  protected readonly writing = computed(
    () => this.written() ?? this.plainEditor() ?? this.layoutEditor()?.letterText() ?? null,
  );

  protected readonly fileFormats = FILE_FORMATS;
  protected readonly name = signal('');
  protected readonly feed = inject(ProofFeed);
  protected readonly proofsRead = inject(ProofsRead);
  protected readonly content = this.state.content;
  protected readonly keeper = inject(MessageKeeper);
  private loadedId: number | null = null;
  /** Whether anything was typed here since the message was opened. */
  private typed = false;
  private adding = false;

  protected readonly fault = this.feed.fault;

  /** Columns of the list, and the people from the one shown on. */
  private readonly nextPeople = this.live.viewOf(
    toObservable(computed(() => ({ id: this.feed.listId(), from: this.feed.index() }))).pipe(
      filter((of): of is { id: number; from: number } => of.id !== null),
    ),
    ['people'],
    ({ id, from }) =>
      forkJoin({
        head: this.people.list(id),
        people: this.people.firstRows(id, { query: WHOLE_LIST, removed: false }, SAMPLES, from),
      }),
  );
  protected readonly choices = computed((): FieldChoice[] => {
    const page = this.nextPeople();
    const first = page?.people[0]?.fields ?? {};
    return [
      ...(page?.head.columns ?? []).map((c) => ({ name: c.name, sample: first[c.key] ?? '' })),
      ...MESSAGE_FIELDS.map((f) => ({ name: f.name, sample: f.words })),
    ];
  });
  protected readonly samples = computed(() => {
    const people = this.nextPeople()?.people ?? [];
    const keys = new Set((this.nextPeople()?.head.columns ?? []).map((c) => c.key));
    return (name: string): string[] => {
      const key = fieldKey(name);
      return keys.has(key) ? people.map((p) => p.fields[key] ?? '') : [];
    };
  });
  protected readonly hasLines = computed(() => usesLine(this.content()));
  protected readonly usesFields = computed(() =>
    fieldsOf(this.content()).some((u) => !u.guarded && !isMessageField(u.name)),
  );

  constructor() {
    effect(() => {
      const first = this.lists()?.[0];
      if (this.feed.listId() === null && first) this.feed.listId.set(first.id);
    });
    effect(() => this.follow());
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
    this.proofsRead.kept.set(open ?? null);
    if (open) untracked(() => this.show(open));
  }

  /** Opens a message, or takes what was kept of it elsewhere while nothing has been typed here. */
  private show(open: MessageView): void {
    if (open.id === this.loadedId) {
      if (!this.typed && !alike(open, this.draft())) this.take(open);
      return;
    }
    this.loadedId = open.id;
    this.written.set(null);
    this.feed.reading.set(null);
    this.keeper.opened();
    this.take(open);
  }

  private take(open: MessageView): void {
    this.typed = false;
    this.name.set(open.name);
    this.state.open(open.content);
  }

  private async addNew(): Promise<void> {
    if (this.adding) return;
    this.adding = true;
    try {
      const { id } = await firstValueFrom(this.service.add({ name: texts.newMessage, content: NEW_CONTENT }));
      await this.router.navigate(['/messages', id], { replaceUrl: true });
    } catch (error) {
      this.notices.failure(error);
    } finally {
      this.adding = false;
    }
  }

  /** Takes a change of the message: it can be undone, and is kept after a pause. */
  protected change(to: Partial<MessageContent> | ((content: MessageContent) => MessageContent), kind: string): void {
    const before = this.content();
    this.state.change(to, kind);
    if (this.content() !== before) this.keep();
  }

  /** Going on to another proof is reading the message as it is now. */
  protected step(by: number): void {
    this.proofsRead.readOn();
    this.feed.step(by);
  }

  protected look(at: number): void {
    this.proofsRead.readOn();
    this.feed.index.set(at);
  }

  protected rename(name: string): void {
    this.name.set(name);
    this.keep();
  }

  private keep(): void {
    if (this.loadedId === null || this.name().trim() === '') return;
    this.typed = true;
    this.keeper.keep(this.loadedId, this.draft());
  }

  private draft(): MessageDraft {
    return { name: this.name(), content: this.content() };
  }

  /** Undo and redo of the whole message; while a text is written it undoes its own typing first. */
  protected pressed(event: KeyboardEvent): void {
    const ctrl = event.ctrlKey || event.metaKey;
    const target = event.target as HTMLElement;
    if (!ctrl || target.closest('.ProseMirror, input, textarea') !== null) return;
    const key = event.key.toLowerCase();
    if (key === 'z' && !event.shiftKey) this.undo();
    else if (key === 'y' || key === 'z') this.redo();
    else return;
    event.preventDefault();
  }

  protected undo(): void {
    if (this.state.undo()) this.keep();
  }

  protected redo(): void {
    if (this.state.redo()) this.keep();
  }

  protected setBody(body: RichDoc): void {
    this.change({ body }, 'body');
  }

  protected setLayout(layout: Layout): void {
    this.change({ layout }, 'layout');
  }

  protected fallBack({ name, fallback, which }: { name: string; fallback: string; which: 'all' | 'missing' }): void {
    this.change((c) => fallBackInContent(c, name, fallback, which), 'fallback');
  }

  /** The text goes into the layout; as a letter it is the same text again. */
  protected applyLayout({ layout }: LayoutView): void {
    this.change({ format: 'layout', layout }, texts.applyLayout);
  }

  protected asLetter(): void {
    this.change({ format: 'letter' }, texts.asLetter);
  }

  protected asLayout(): void {
    const layout = this.content().layout ?? this.layouts()?.[0]?.layout;
    if (layout) this.change({ format: 'layout', layout }, texts.asLayout);
  }

  protected async keepLayout(): Promise<void> {
    const layout = this.content().layout;
    const data = { title: texts.nameOfTheLayout, value: this.name(), label: texts.save };
    const name = await firstValueFrom(
      this.dialog.open<AskName, unknown, string>(AskName, { data, width: '380px' }).afterClosed(),
    );
    if (name === undefined || !layout) return;
    this.service.keepLayout(name, layout).subscribe({
      next: () => this.notices.say(texts.theLayoutCanNowBe(name)),
      error: (error: unknown) => this.notices.failure(error),
    });
  }

  protected readonly ownLayouts = computed(() => this.layouts()?.filter((l) => l.id !== null) ?? []);

  /** Takes a layout out of the workspace's own; messages set in it stay as they are. */
  protected dropLayout({ id, name }: LayoutView): void {
    if (id === null) return;
    this.service.removeLayout(id).subscribe({
      next: () => this.notices.say(texts.theLayoutWasDeletedMessages(name)),
      error: (error: unknown) => this.notices.failure(error),
    });
  }

  protected async showVersions(): Promise<void> {
    if (this.loadedId === null) return;
    const data = { id: this.loadedId, content: this.content() };
    const dialog = this.dialog.open<Versions, unknown, MessageContent>(Versions, { data, width: '780px' });
    const version = await firstValueFrom(dialog.afterClosed());
    if (version) this.change(version, 'version');
  }

  protected remove(): void {
    const open = this.open();
    if (!open) return;
    this.service.remove(open.id).subscribe({
      next: () => {
        this.notices.say(texts.wasDeletedItCanBe(open.name));
        this.loadedId = null;
        void this.router.navigate(['/messages']);
      },
      error: (error: unknown) => this.notices.failure(error),
    });
  }

  /** A new campaign that begins with this message. */
  protected beginCampaign(messageId: number): void {
    void this.campaigns.begin({ kind: 'message', messageId }, this.name());
  }

  protected async copy(): Promise<void> {
    try {
      const draft = { name: texts.again(this.name()).slice(0, 120), content: this.content() };
      const { id } = await firstValueFrom(this.service.add(draft));
      await this.router.navigate(['/messages', id]);
    } catch (error) {
      this.notices.failure(error);
    }
  }

  /** Does what a check offers: the field that was meant, one of the people, or the place in the text. */
  protected settle(check: MessageCheck): void {
    const { field, meant, who, near, place } = check;
    if (field !== undefined && meant !== undefined)
      this.change((c) => renameInContent(c, fieldKey(field), meant), 'field meant');
    else if (who?.[0] !== undefined) this.feed.index.set(who[0]);
    else if (place === 'subject') this.subjectEditor()?.focus();
    else if (near === undefined || !this.writing()?.find(near)) this.writing()?.focus();
  }
}

function alike(a: MessageDraft, b: MessageDraft): boolean {
  return a.name === b.name && JSON.stringify(a.content) === JSON.stringify(b.content);
}
