import { computed, inject, Injectable, signal } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import type { BriefChange, BriefChoices, BriefNames, BriefView } from '@baton/contract';
import { briefChanges } from '@baton/core';
import { EMPTY, firstValueFrom, map, type Observable } from 'rxjs';
import { LiveUpdates } from '../live/live-updates';
import { Notices } from '../live/notices';
import { WorkspaceTime } from '../time/workspace-time';
import { choicesFrom, saidOf, withChoices } from './brief-words';
import { CampaignsService } from './campaigns-service';

/** Choices that follow those of a revision of a campaign. */
interface Wanted {
  id: number;
  revision: number;
  choices: BriefChoices;
}

/** What came of a request that succeeded; many answers are empty. */
interface Done<T> {
  answer: T;
}

/** A brief, and when it was asked for or answered. */
interface Seen {
  brief: BriefView;
  began: number;
}

/**
 * The brief that is open, with choices that are on their way. Those of a draft are saved as they are made; those of a campaign
 * that runs are collected until they are made together.
 */
@Injectable()
export class BriefState {
  private readonly service = inject(CampaignsService);
  private readonly notices = inject(Notices);
  private readonly live = inject(LiveUpdates);
  private readonly time = inject(WorkspaceTime);
  private readonly campaignId = signal(0);
  private readonly loaded = this.live.viewOf(
    toObservable(this.campaignId),
    ['campaigns', 'messages', 'people', 'mailboxes'],
    (id) => this.load(id),
  );
  /** Once it runs, the numbers move with every message; a draft's whole plan is not made anew for that. */
  private readonly running = this.live.viewOf(
    toObservable(computed(() => (isStarted(this.loaded()?.brief) ? this.campaignId() : 0))),
    ['progress', 'campaigns'],
    (id) => this.load(id),
  );
  /** As the server answered to a change. */
  private readonly answered = signal<Seen | null>(null);
  /** Choices of a draft that the server has not confirmed yet: the next choice starts from them. */
  private readonly wanted = signal<Wanted | null>(null);
  /** Choices for a campaign that runs, which have not been made. */
  private readonly collected = signal<Wanted | null>(null);
  /** What somebody else has changed in a draft since it was shown, a sentence each, as was found out by a refused choice. */
  readonly changedByOthers = signal<string[]>([]);
  readonly isTaken = computed(() => this.wanted() === null);
  private saving = false;

  /** As the server said it last: what was asked for before a change was answered does not know of it. */
  private readonly known = computed(() => {
    const seen = [this.loaded(), this.running(), this.answered()].filter((s) => s?.brief.id === this.campaignId());
    return seen.reduce((last, s) => ((s?.began ?? 0) >= (last?.began ?? 0) ? s : last), seen[0])?.brief;
  });
  /** What the choices for a campaign that runs are called, as the server has said. */
  private readonly named = signal<{ of: Wanted; names: BriefNames } | null>(null);
  /** With all that has been chosen. */
  readonly brief = computed(() => {
    const view = this.known();
    const chosen = this.wanted() ?? this.collected();
    if (!view || chosen?.id !== view.id) return view;
    const named = this.named();
    return withChoices(view, chosen.choices, named?.of === chosen ? named.names : null);
  });
  /** What is to be made of a campaign that runs; null where nothing has been chosen. */
  readonly pending = computed((): BriefChange | null => {
    const chosen = this.collected();
    return chosen?.id === this.known()?.id && chosen ? { ...chosen.choices, revision: chosen.revision } : null;
  });

  open(id: number): void {
    this.campaignId.set(id);
    this.changedByOthers.set([]);
  }

  private load(id: number): Observable<Seen> {
    const began = performance.now();
    return id === 0 ? EMPTY : this.service.brief(id).pipe(map((brief) => ({ brief, began })));
  }

  change(change: Partial<BriefChoices>): void {
    const brief = this.brief();
    if (!brief) return;
    const into = isStarted(brief) ? this.collected : this.wanted;
    const revision = into()?.revision ?? this.known()?.revision ?? 0;
    into.set({ id: brief.id, revision, choices: { ...choicesFrom(brief), ...change } });
    if (!isStarted(brief)) void this.save();
  }

  /** Makes the collected choices true. */
  async apply(): Promise<boolean> {
    const { pending } = this;
    const change = pending();
    const done = change && (await this.tried(this.service.applyChange(this.campaignId(), change)));
    if (done) this.take(done.answer);
    return done !== null;
  }

  name(change: BriefChange, names: BriefNames): void {
    const chosen = this.collected();
    if (chosen && change === this.pending()) this.named.set({ of: chosen, names });
  }

  drop(): void {
    this.collected.set(null);
  }

  async undo(): Promise<boolean> {
    const done = await this.tried(this.service.undoChange(this.campaignId()));
    if (done) this.take(done.answer);
    return done !== null;
  }

  /** Lets a campaign that has ended with its last day go on until another; null for no end. */
  async goOn(endDate: string | null): Promise<boolean> {
    const done = await this.tried(this.service.goOn(this.campaignId(), endDate));
    if (done) this.take(done.answer);
    return done !== null;
  }

  private take(brief: BriefView): void {
    this.collected.set(null);
    this.answered.set({ brief, began: performance.now() });
  }

  /** One save after another, in order: a quick second choice never starts from the state before the first. */
  private async save(): Promise<void> {
    if (this.saving) return;
    this.saving = true;
    let revision: number | null = null;
    const before = this.known();
    for (let wanted = this.wanted(); wanted; wanted = this.wanted()) {
      const change: BriefChange = { ...wanted.choices, revision: revision ?? wanted.revision };
      const done: Done<BriefView> | null = await this.tried(this.service.change(wanted.id, change));
      const next = done?.answer ?? null;
      revision = next?.revision ?? null;
      // Chosen on meanwhile: the next save has it all.
      if (next !== null && this.wanted() !== wanted) continue;
      if (next) this.answered.set({ brief: next, began: performance.now() });
      else if (before && revision === null) await this.lookAgain(before);
      this.wanted.set(null);
    }
    this.saving = false;
  }

  /** What is different since a brief was shown; a choice may be refused for other reasons too. */
  private async lookAgain(before: BriefView): Promise<void> {
    const now = await this.tried(this.service.brief(before.id));
    if (!now) return;
    this.answered.set({ brief: now.answer, began: performance.now() });
    this.changedByOthers.set(briefChanges(saidOf(before), saidOf(now.answer), this.time.form()));
  }

  /** @returns null where it failed, which has been said */
  async tried<T>(request: Observable<T>): Promise<Done<T> | null> {
    try {
      return { answer: await firstValueFrom(request) };
    } catch (error) {
      this.notices.failure(error);
      return null;
    }
  }
}

const isStarted = (brief: BriefView | undefined): boolean => brief !== undefined && brief.state !== 'draft';
