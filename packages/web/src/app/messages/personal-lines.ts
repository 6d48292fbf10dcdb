import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  type ElementRef,
  inject,
  input,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { PersonalLine } from '@baton/contract';
import { EMPTY_CONTENT, PERSONAL_LINE_KEY, usesLine, type LineState } from '@baton/core';
import { catchError, combineLatest, EMPTY, firstValueFrom, map, of, switchMap } from 'rxjs';
import { LiveUpdates } from '../live/live-updates';
import { Notices } from '../live/notices';
import { ListsService } from '../people/list/lists-service';
import { MessagesService } from './messages-service';
import { ProofLetter } from './proof/proof-letter';
import { typedText } from '../look/event-input';
import { messagesTexts } from './texts';

const texts = messagesTexts.personalLines;

const STATES: readonly LineState[] = ['to_do', 'written', 'approved', 'rejected'];

/** Each person's own line of a message, written one after the other beside their row. */
@Component({
  selector: 'bt-personal-lines',
  imports: [MatButton, RouterLink, ProofLetter],
  templateUrl: './personal-lines.html',
  styleUrl: './personal-lines.scss',
  host: { '(keydown)': 'pressed($event)' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PersonalLinesPage {
  protected readonly texts = texts;
  protected readonly typedText = typedText;
  private readonly service = inject(MessagesService);
  private readonly lists = inject(ListsService);
  private readonly live = inject(LiveUpdates);
  private readonly notices = inject(Notices);
  readonly messageId = input.required<string>();
  readonly listId = input.required<string>();
  private readonly box = viewChild<ElementRef<HTMLTextAreaElement>>('box');

  protected readonly id = computed(() => Number(this.listId()));
  protected readonly head = this.live.viewOf(toObservable(this.id), ['people'], (id) => this.lists.list(id));
  private readonly messages = this.live.view(['messages'], () => this.service.all());
  protected readonly message = computed(() => this.messages()?.find((m) => m.id === Number(this.messageId())));
  protected readonly hasPlace = computed(() => usesLine(this.message()?.content ?? EMPTY_CONTENT));
  protected readonly all = this.live.viewOf(toObservable(this.id), ['people', 'campaigns'], (id) =>
    this.service.lines(id),
  );
  protected readonly states = STATES.map((state) => ({ state, words: messagesTexts.lineStates[state] }));
  /** Only those that are so; '' for everybody. */
  protected readonly only = signal<LineState | ''>('');
  protected readonly index = signal(0);
  protected readonly person = signal<PersonalLine | null>(null);
  protected readonly text = signal('');
  protected readonly done = computed(() => {
    const counts = this.all()?.counts;
    return counts ? counts.approved + counts.rejected : 0;
  });
  protected readonly stateWords = messagesTexts.lineStates;
  protected readonly row = computed(() => {
    const person = this.person();
    const columns = this.head()?.columns ?? [];
    return columns
      .filter((c) => c.role !== 'address' && c.key !== PERSONAL_LINE_KEY)
      .map((c) => ({ name: c.name, value: person?.fields[c.key] ?? '' }));
  });

  protected readonly proofed = toSignal(
    combineLatest([toObservable(this.message), toObservable(this.person), toObservable(this.text)]).pipe(
      switchMap(([message, person, text]) => {
        if (!message || !person) return of(null);
        const asked = {
          content: message.content,
          listId: this.id(),
          index: this.index(),
          mailboxId: null,
          typed: { [PERSONAL_LINE_KEY]: text.trim() },
        };
        return this.service.proof(asked).pipe(
          map((answer) => answer.proof ?? null),
          catchError(() => EMPTY),
        );
      }),
    ),
    { initialValue: null },
  );
  protected readonly subject = computed(() => this.proofed()?.subject ?? '');

  constructor() {
    effect(() => {
      const [id, index, all] = [this.id(), this.index(), this.all()];
      if (all) untracked(() => void this.read(id, index));
    });
  }

  private async read(listId: number, index: number): Promise<void> {
    const before = this.person();
    try {
      const person = await firstValueFrom(this.service.line(listId, index));
      if (index !== this.index()) return;
      this.person.set(person);
      // What is being typed stays when others change something.
      if (before?.rowId !== person.rowId) {
        this.text.set(person.line);
        setTimeout(() => this.box()?.nativeElement.focus());
      }
    } catch (error) {
      this.notices.failure(error);
    }
  }

  protected showOnly(state: LineState | ''): void {
    this.only.set(state);
    const order = this.all()?.order ?? [];
    if (state !== '' && order[this.index()] !== state) this.go(1);
  }

  /** To the next or the previous person of those shown. */
  protected go(by: 1 | -1): void {
    const order = this.all()?.order ?? [];
    const only = this.only();
    for (let i = this.index() + by; i >= 0 && i < order.length; i += by)
      if (only === '' || order[i] === only) {
        this.index.set(i);
        return;
      }
    const first = order.findIndex((s) => only === '' || s === only);
    if (only !== '' && first >= 0 && first !== this.index()) this.index.set(first);
    else
      this.notices.say(
        only === '' ? texts.thatWasTheLastOne : texts.thereAreNoMoreLines(messagesTexts.lineStates[only]),
      );
  }

  protected pressed(event: KeyboardEvent): void {
    const ctrl = event.ctrlKey || event.metaKey;
    if (ctrl && event.key === 'Enter') void this.decide('approved');
    else if (event.altKey && event.key === 'ArrowDown') this.go(1);
    else if (event.altKey && event.key === 'ArrowUp') this.go(-1);
    else if (ctrl && event.key === 'Backspace' && event.shiftKey) void this.decide('rejected');
    else return;
    event.preventDefault();
  }

  protected async decide(decision: 'approved' | 'rejected' | 'written'): Promise<void> {
    const person = this.person();
    if (!person) return;
    try {
      await firstValueFrom(this.service.writeLine(this.id(), person.rowId, this.text(), decision));
      this.person.set({ ...person, line: this.text().trim(), state: decision });
      if (decision !== 'written') this.go(1);
    } catch (error) {
      this.notices.failure(error);
    }
  }

  /** Keeps what was typed, undecided, when the box is left. */
  protected keep(): void {
    const person = this.person();
    if (person && this.text().trim() !== person.line) void this.decide('written');
  }
}
