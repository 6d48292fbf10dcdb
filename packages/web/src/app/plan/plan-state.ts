import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import type { PlanBoard, PlanVariant } from '@baton/contract';
import { canApply, changeKey, faultOfChange, rateRange, withChange, type PlanChange } from '@baton/core';
import { firstValueFrom } from 'rxjs';
import { LiveUpdates } from '../live/live-updates';
import { Notices } from '../live/notices';
import { PlanService } from './plan-service';
import type { WhatIfAnswer } from './what-if-answer';
import { WhatIfPlanner } from './what-if-planner';
import { planTexts } from './texts';

const texts = planTexts.planState;

/** When a campaign may end if answers go on as they have come so far. */
export interface EndRange {
  id: number;
  early: string | null;
  late: string | null;
}

/** The plan on screen: the stored plan, the changes tried out, and their effect. */
@Injectable()
export class PlanState {
  private readonly service = inject(PlanService);
  private readonly planner = inject(WhatIfPlanner);
  private readonly notices = inject(Notices);
  private readonly live = inject(LiveUpdates);

  readonly board = this.live.view(['progress', 'campaigns', 'mailboxes', 'clock'], () => this.service.board());
  readonly variants = this.live.view(['campaigns'], () => this.service.variants());

  private readonly tried = signal<readonly PlanChange[]>([]);
  readonly changes = this.tried.asReadonly();
  private readonly answered = signal<WhatIfAnswer | null>(null);
  /** What the changes would do; null without any. */
  readonly answer = this.answered.asReadonly();
  private readonly ends = signal<EndRange[]>([]);
  readonly ranges = this.ends.asReadonly();
  private readonly working = signal(false);
  readonly busy = this.working.asReadonly();
  /** What is wrong with a change, in a sentence; '' when nothing is. */
  readonly fault = computed(() => {
    const today = this.board()?.today ?? '';
    for (const change of this.tried()) {
      const fault = faultOfChange(change, today);
      if (fault !== null) return fault;
    }
    return '';
  });
  private readonly late = signal(0);
  /** Follow-ups that are late as things are. */
  readonly lateNow = this.late.asReadonly();
  private loaded: PlanBoard | null = null;
  private turn = 0;

  constructor() {
    effect(() => {
      const board = this.board();
      const changes = this.tried();
      const sound = this.fault() === '';
      if (board) untracked(() => void this.work(board, changes, sound));
    });
  }

  /** Tries a change; it takes the place of one of the same thing. */
  change(change: PlanChange): void {
    this.tried.update((all) => withChange(all, change));
  }

  take(changes: readonly PlanChange[]): void {
    this.tried.set(changes);
  }

  drop(change?: PlanChange): void {
    this.tried.update((all) => (change ? all.filter((c) => changeKey(c) !== changeKey(change)) : []));
  }

  async apply(): Promise<void> {
    const changes = this.tried().filter((c) => canApply(c.kind));
    this.working.set(true);
    try {
      await firstValueFrom(this.service.apply([...changes]));
      this.tried.set([]);
      this.notices.say(texts.appliedThePlanHasBeen);
    } catch (error) {
      this.notices.failure(error);
    } finally {
      this.working.set(false);
    }
  }

  async keepVariant(name: string): Promise<void> {
    try {
      await firstValueFrom(this.service.keepVariant(name, [...this.tried()]));
      this.notices.say(texts.isSavedItChangesNothing(name));
    } catch (error) {
      this.notices.failure(error);
    }
  }

  async removeVariant(variant: PlanVariant): Promise<void> {
    try {
      await firstValueFrom(this.service.removeVariant(variant.id));
    } catch (error) {
      this.notices.failure(error);
    }
  }

  /** What a variant would do, for comparing; not shown on the board. */
  async answerTo(changes: PlanChange[]): Promise<WhatIfAnswer> {
    return this.planner.plan(changes);
  }

  private async work(board: PlanBoard, changes: readonly PlanChange[], sound: boolean): Promise<void> {
    const turn = ++this.turn;
    if (changes.length === 0) this.answered.set(null);
    try {
      if (this.loaded !== board) {
        this.planner.setWork(await firstValueFrom(this.service.work()));
        this.loaded = board;
        void this.foresee(board);
      }
      if (changes.length === 0 || !sound) return;
      const answer = await this.planner.plan([...changes]);
      // A later change has been asked about meanwhile.
      if (turn === this.turn) this.answered.set(answer);
    } catch (error) {
      this.notices.failure(error);
    }
  }

  private async foresee(board: PlanBoard): Promise<void> {
    const asItIs = await this.planner.plan([]);
    this.late.set(asItIs.campaigns.reduce((sum, c) => sum + c.late, 0));
    const running = board.campaigns.filter((c) => c.state === 'running');
    if (running.every((c) => c.sent === 0)) return this.ends.set([]);
    this.ends.set(await this.planner.range(running.map((c) => rateRange(Math.min(c.replies, c.sent), c.sent))));
  }
}
