import { computed, effect, inject, Injectable, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import type { ProofAsked, ProofView, Reading } from '@baton/contract';
import { catchError, combineLatest, debounceTime, filter, map, of, startWith, switchMap } from 'rxjs';
import { LiveUpdates } from '../../live/live-updates';
import { sentenceOf } from '../../live/sentence-of';
import { MessageState } from '../message-state';
import { MessagesService } from '../messages-service';

/** A pause in typing after which the proof is made, and the whole list read through. */
const PROOF_AFTER_MS = 20;
const READ_AFTER_MS = 900;

interface ReadingState {
  busy: boolean;
  reading: Reading | null;
}

/** The open message as one of the people of a list gets it, and what is worth a look for all of them; as it is typed. */
@Injectable()
export class ProofFeed {
  private readonly service = inject(MessagesService);
  private readonly live = inject(LiveUpdates);
  private readonly content = inject(MessageState).content;
  readonly listId = signal<number | null>(null);
  readonly index = signal(0);

  readonly asked = computed((): ProofAsked | null => {
    const listId = this.listId();
    return listId === null ? null : { content: this.content(), listId, index: this.index(), mailboxId: null };
  });
  private readonly answer = toSignal(
    combineLatest([toObservable(this.asked), this.live.on('people', 'mailboxes', 'messages')]).pipe(
      debounceTime(PROOF_AFTER_MS),
      map(([asked]) => asked),
      filter((asked) => asked !== null),
      switchMap((asked) =>
        this.service.proof(asked).pipe(catchError((error: unknown) => of({ problem: sentenceOf(error) }))),
      ),
    ),
  );
  readonly fault = computed(() => {
    const a = this.answer();
    return a && 'fault' in a ? (a.fault ?? null) : null;
  });
  readonly problem = computed(() => {
    const a = this.answer();
    return a && 'problem' in a ? a.problem : '';
  });
  /** The last proof that could be made; stays in view while the text does not parse. */
  readonly proof = signal<ProofView | null>(null);

  /** Everybody's messages looked over, some time after the last change. */
  private readonly readings = toSignal(
    combineLatest([toObservable(this.content), toObservable(this.listId), this.live.on('people', 'messages')]).pipe(
      debounceTime(READ_AFTER_MS),
      filter(([, listId]) => listId !== null),
      switchMap(([content, listId]) =>
        this.service.reading(content, listId as number).pipe(
          map((reading): ReadingState => ({ busy: false, reading })),
          catchError(() => of<ReadingState>({ busy: false, reading: null })),
          startWith<ReadingState>({ busy: true, reading: null }),
        ),
      ),
    ),
  );
  /** The last one that could be made. */
  readonly reading = signal<Reading | null>(null);
  readonly busy = computed(() => this.readings()?.busy ?? false);

  constructor() {
    effect(() => {
      const a = this.answer();
      if (a && 'proof' in a && a.proof) this.proof.set(a.proof);
    });
    effect(() => {
      const reading = this.readings()?.reading;
      if (reading) this.reading.set(reading);
    });
  }

  chooseList(id: number): void {
    this.listId.set(id);
    this.index.set(0);
    this.reading.set(null);
  }

  step(by: number): void {
    const total = this.proof()?.total ?? 1;
    this.index.update((i) => (i + by + total) % total);
  }
}
