import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  untracked,
  viewChild,
} from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { Router } from '@angular/router';
import type { Outcome, ReplyFilter } from '@baton/contract';
import { of } from 'rxjs';
import { LiveUpdates } from '../live/live-updates';
import { OUTCOME_KEYS } from './outcomes';
import { RepliesService } from './replies-service';
import { FILTERS, ReplyList } from './reply-list';
import { ReplyPages } from './reply-pages';
import { repliesTexts } from './texts';
import { ThreadPane } from './thread-pane';

const texts = repliesTexts.replies;

/** Who answered, newest first, sorted by what they are; the thread beside it. */
@Component({
  selector: 'bt-replies',
  imports: [ReplyList, ThreadPane],
  templateUrl: './replies.html',
  styleUrl: './replies.scss',
  providers: [ReplyPages],
  host: { '(document:keydown)': 'pressed($event)' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Replies {
  protected readonly texts = texts;
  private readonly service = inject(RepliesService);
  private readonly live = inject(LiveUpdates);
  private readonly router = inject(Router);
  protected readonly pages = inject(ReplyPages);
  readonly replyId = input<string>();
  /** Which filter the address names. */
  readonly show = input<string>();
  private readonly list = viewChild.required(ReplyList);
  private readonly pane = viewChild(ThreadPane);

  private readonly id = computed(() => Number(this.replyId() ?? 0));
  protected readonly open = this.live.viewOf(toObservable(this.id), ['replies'], (id) =>
    id === 0 ? of(undefined) : this.service.one(id),
  );

  /** Whether the first of the list is opened as soon as it is there. */
  private opensFirst: boolean | null = null;

  constructor() {
    effect(() => {
      const show = FILTERS.find((f) => f.kind === this.show())?.kind;
      untracked(() => {
        if (show !== undefined && show !== this.pages.show()) this.pages.choose({ show });
      });
    });
    effect(() => {
      const shown = this.pages.shown();
      const open = this.replyId();
      this.opensFirst ??= open === undefined;
      if (!this.opensFirst || shown?.show !== this.pages.asked().show) return;
      this.opensFirst = false;
      const [first] = this.pages.rows();
      if (first) void this.go(first.id, open === undefined);
    });
  }

  /** Opens one of the list; the address keeps the filter. */
  protected go(id: number, replaceUrl = false): Promise<boolean> {
    const queryParams = { show: this.pages.show() };
    return this.router.navigate(['/replies', id], { replaceUrl, queryParams });
  }

  protected choose(show: ReplyFilter): void {
    this.opensFirst = true;
    this.pages.choose({ show });
  }

  protected pressed(event: KeyboardEvent): void {
    if ((event.target as HTMLElement).closest('input:not([type=checkbox]), textarea, select, .cdk-overlay-container'))
      return;
    if (event.ctrlKey || event.metaKey || event.altKey) {
      if (event.key === 'z') void this.pane()?.undo();
      return;
    }
    const outcome = OUTCOME_KEYS.find((o) => o.key === event.key);
    const act = this.acts[event.key];
    if (outcome) void this.setOutcomeAndGoOn(outcome.outcome);
    else if (act) {
      act();
      event.preventDefault();
    }
  }

  private readonly acts: Readonly<Partial<Record<string, () => void>>> = {
    j: () => this.step(1),
    k: () => this.step(-1),
    ArrowDown: () => this.step(1),
    ArrowUp: () => this.step(-1),
    u: () => void this.pane()?.undo(),
    r: () => this.pane()?.startAnswer(),
    b: () => this.pane()?.askRemind(),
    a: () => this.pane()?.askAssign(),
    o: () => this.pane()?.writeNote(),
    x: () => this.list().tickOpen(),
  };

  /** One key for an outcome, and on to the next; taking it back stays. */
  private async setOutcomeAndGoOn(outcome: Outcome): Promise<void> {
    const takesBack = this.open()?.outcome === outcome;
    const next = this.list().beside(this.id(), 1);
    await this.pane()?.setOutcome(outcome);
    if (!takesBack && next !== undefined) void this.go(next);
  }

  private step(by: number): void {
    const next = this.list().beside(this.id(), by);
    if (next === undefined) return;
    this.list().reveal(next);
    void this.go(next);
  }
}
