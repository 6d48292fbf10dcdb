import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  Injector,
  input,
  linkedSignal,
  viewChild,
  viewChildren,
} from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { IncomingView, Outcome, ReplyChange } from '@baton/contract';
import { incomingEntry } from '@baton/core';
import { firstValueFrom, map, type Observable } from 'rxjs';
import { LiveUpdates } from '../live/live-updates';
import { Notices } from '../live/notices';
import { WorkspaceTime } from '../time/workspace-time';
import { AnswerBox } from './answer-box';
import { Decided } from './decided';
import { OUTCOME_KEYS, OUTCOME_OF } from './outcomes';
import { PersonNotes } from './person-notes';
import { PutOff } from './put-off';
import { RepliesService } from './replies-service';
import { repliesTexts } from './texts';
import { ThreadMessageView } from './thread-message';

const texts = repliesTexts.thread;

/** A message that came in, with everything exchanged before and since, and what can be done about it. */
@Component({
  selector: 'bt-thread-pane',
  imports: [AnswerBox, Decided, MatButton, PersonNotes, PutOff, RouterLink, ThreadMessageView],
  templateUrl: './thread-pane.html',
  styleUrl: './thread-pane.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ThreadPane {
  protected readonly texts = texts;
  protected readonly outcomes = OUTCOME_KEYS;
  private readonly service = inject(RepliesService);
  private readonly notices = inject(Notices);
  private readonly time = inject(WorkspaceTime);
  private readonly injector = inject(Injector);
  readonly reply = input.required<IncomingView>();
  readonly colleagues = input.required<readonly string[]>();
  private readonly decided = viewChild(Decided);
  private readonly putOff = viewChild(PutOff);
  private readonly box = viewChild(AnswerBox);
  private readonly notes = viewChild(PersonNotes);
  private readonly messages = viewChildren(ThreadMessageView);

  private readonly id = computed(() => this.reply().id);
  private readonly loaded = inject(LiveUpdates).viewOf(toObservable(this.id), ['replies'], (id) =>
    this.service.thread(id).pipe(map((view) => ({ ...view, id }))),
  );
  /** Of the message at hand; undefined while it is on its way. */
  protected readonly thread = computed(() => (this.loaded()?.id === this.id() ? this.loaded() : undefined));
  /** Whose a message is has to be known before it comes to anything. */
  protected readonly takesOutcome = computed(
    () => this.reply().match !== null && incomingEntry(this.reply().kind).takesOutcome,
  );
  protected readonly isAnswerable = computed(() => incomingEntry(this.reply().kind).isAnswerable);
  /** What a reply seems to come to, until a person has said. */
  protected readonly suggested = computed(() => {
    const { outcome: said, details } = this.reply();
    const suggests = said === null ? details.suggests : null;
    if (!suggests) return null;
    const outcome = OUTCOME_KEYS.find((o) => o.outcome === OUTCOME_OF[suggests.what]);
    return outcome ? texts.perhaps(outcome.words.toLowerCase(), suggests.words) : texts.asks(suggests.words);
  });
  protected readonly comesBack = computed(() => {
    const { remindOn } = this.reply();
    return remindOn === null ? texts.remind : texts.remindOn(this.time.dayWords(remindOn));
  });
  protected readonly seenToBy = computed(() =>
    this.reply().assignedTo === '' ? texts.assign : texts.assignedTo(this.reply().assignedTo),
  );
  protected readonly isAnswering = linkedSignal<number, boolean>({ source: this.id, computation: () => false });
  /** Whether there is a draft, to go on with. */
  protected readonly hasDraft = computed(() => (this.thread()?.answer.text ?? '') !== '');

  constructor() {
    let scrolledTo = 0;
    // Also where the thread comes only after the answer was asked for.
    effect(() => this.box()?.focus());
    effect(() => {
      const thread = this.thread();
      if (!thread || scrolledTo === thread.id) return;
      scrolledTo = thread.id;
      afterNextRender(() => this.bringIntoView(thread.id), { injector: this.injector });
    });
  }

  /** The message that was opened, where it is not the first that is seen. */
  private bringIntoView(id: number): void {
    const message = this.messages().find((m) => m.message().incomingId === id);
    message?.element.scrollIntoView({ block: 'nearest' });
  }

  /** Opens the answer, as soon as its thread is there. */
  startAnswer(): void {
    if (this.isAnswerable()) this.isAnswering.set(true);
  }

  /** Asks on which day the message is to come back. */
  askRemind(): void {
    this.putOff()?.asking.set('remind');
  }

  askAssign(): void {
    this.putOff()?.asking.set('assign');
  }

  writeNote(): void {
    this.notes()?.write();
  }

  /** Takes the answer back that is about to leave; where none is, undoes what Baton did. */
  async undo(): Promise<void> {
    const leaving = this.thread()?.answer.leaving;
    if (leaving) await this.takeBack(leaving.letterId);
    else await this.decided()?.undo();
  }

  async setOutcome(outcome: Outcome): Promise<void> {
    const { id, outcome: now } = this.reply();
    if (this.takesOutcome()) await this.tell(this.service.setOutcome(id, now === outcome ? null : outcome));
  }

  protected async change(change: ReplyChange): Promise<void> {
    await this.tell(this.service.change([this.id()], change));
  }

  protected async takeBack(letterId: number): Promise<void> {
    if (await this.tell(this.service.takeBack(letterId))) this.startAnswer();
  }

  protected async settle(letter: { letterId: number; left: boolean }): Promise<void> {
    await this.tell(this.service.settleLetter(letter.letterId, letter.left));
  }

  private async tell(asked: Observable<unknown>): Promise<boolean> {
    try {
      await firstValueFrom(asked, { defaultValue: null });
      return true;
    } catch (error) {
      this.notices.failure(error);
      return false;
    }
  }
}
