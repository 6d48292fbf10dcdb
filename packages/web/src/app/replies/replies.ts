import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  linkedSignal,
  viewChild,
} from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { Router } from '@angular/router';
import { MOST_REPLIES, type Outcome, type ReplyFilter } from '@baton/contract';
import { INCOMING_HEADINGS, incomingEntry, type Suggestion } from '@baton/core';
import { EMPTY, firstValueFrom, map, of } from 'rxjs';
import { LiveUpdates } from '../live/live-updates';
import { Notices } from '../live/notices';
import { MomentPipe } from '../time/workspace-time';
import { RepliesService } from './replies-service';
import { repliesTexts } from './texts';
import { CountPipe } from '../look/count-pipe';
import { Decided } from './decided';

const texts = repliesTexts.replies;

/** Outcomes with the key that sets each. */
const OUTCOME_KEYS: { outcome: Outcome; words: string; key: string }[] = [
  { outcome: 'interested', words: texts.interested, key: 'i' },
  { outcome: 'meeting', words: texts.meeting, key: 'm' },
  { outcome: 'later', words: texts.later, key: 'l' },
  { outcome: 'no', words: texts.no, key: 'n' },
  { outcome: 'wrong_person', words: texts.wrongPerson, key: 'w' },
];

const FILTERS: readonly { kind: ReplyFilter; words: string }[] = [
  { kind: 'without_outcome', words: texts.withoutOutcome },
  ...INCOMING_HEADINGS,
  { kind: 'unmatched', words: texts.unmatched },
  { kind: 'all', words: texts.all },
];

/** Messages listed at first, and more each time they are asked for. */
const PAGE = 200;

/** What a page is asked for by. */
interface Asked {
  show: ReplyFilter;
  search: string;
  limit: number;
}

/** The outcome to which a suggestion comes; a question comes to none. */
const OUTCOME_OF: Readonly<Record<Suggestion, Outcome | null>> = {
  interested: 'interested',
  not_interested: 'no',
  referral: 'wrong_person',
  question: null,
};

/** Who answered, newest first, sorted by what they are; the thread beside it. */
@Component({
  selector: 'bt-replies',
  imports: [CountPipe, Decided, MatButton, MomentPipe],
  templateUrl: './replies.html',
  styleUrl: './replies.scss',
  host: { '(document:keydown)': 'pressed($event)' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Replies {
  protected readonly texts = texts;
  private readonly service = inject(RepliesService);
  private readonly live = inject(LiveUpdates);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);
  readonly replyId = input<string>();
  /** Which filter the address names. */
  readonly show = input<string>();
  private readonly decided = viewChild(Decided);

  protected readonly asked = linkedSignal<Asked>(() => ({
    show: FILTERS.find((f) => f.kind === this.show())?.kind ?? 'without_outcome',
    search: '',
    limit: PAGE,
  }));
  protected readonly filter = computed(() => this.asked().show);
  private readonly page = this.live.viewOf(toObservable(this.asked), ['replies'], ({ show, search, limit }) =>
    this.service.page(show, search, limit).pipe(map((page) => ({ ...page, show }))),
  );
  protected readonly filters = computed(() => FILTERS.map((f) => ({ ...f, n: this.page()?.counts[f.kind] ?? 0 })));
  private readonly id = computed(() => Number(this.replyId() ?? 0));
  protected readonly open = this.live.viewOf(toObservable(this.id), ['replies'], (id) =>
    id === 0 ? of(undefined) : this.service.one(id),
  );
  protected readonly takesOutcome = computed(() => {
    const open = this.open();
    return open !== undefined && incomingEntry(open.kind).takesOutcome;
  });
  /** What a reply seems to come to, until a person has said. */
  protected readonly suggested = computed(() => {
    const open = this.open();
    const suggests = open?.outcome == null ? open?.details.suggests : null;
    if (!suggests) return null;
    const outcome = OUTCOME_KEYS.find((o) => o.outcome === OUTCOME_OF[suggests.what]);
    return outcome ? texts.perhaps(outcome.words.toLowerCase(), suggests.words) : texts.asks(suggests.words);
  });
  /** What the filter finds, and what is open even when it no longer does: setting an outcome must not take it from under the eye. */
  protected readonly rows = computed(() => {
    const listed = this.page()?.replies ?? [];
    const open = this.open();
    const isApart = open !== undefined && !listed.some((r) => r.id === open.id);
    const all = isApart ? [...listed, open].sort((a, b) => b.receivedAt - a.receivedAt || b.id - a.id) : listed;
    return all.map((r) => ({
      ...r,
      words: incomingEntry(r.kind).words,
      tone: incomingEntry(r.kind).tone,
      outcomeWords: OUTCOME_KEYS.find((o) => o.outcome === r.outcome)?.words ?? '',
    }));
  });
  /** How many the filter finds beside those that are listed. */
  protected readonly others = computed(() => (this.page()?.total ?? 0) - (this.page()?.replies.length ?? 0));
  protected readonly thread = this.live.viewOf(toObservable(this.id), ['replies'], (id) =>
    id === 0 ? EMPTY : this.service.thread(id),
  );
  protected readonly outcomes = OUTCOME_KEYS;

  /** Whether the first of the list is opened as soon as it is there. */
  private opensFirst: boolean | null = null;

  constructor() {
    effect(() => {
      const page = this.page();
      const open = this.replyId();
      this.opensFirst ??= open === undefined;
      if (!this.opensFirst || page?.show !== this.asked().show) return;
      this.opensFirst = false;
      const [first] = page.replies;
      if (first) void this.go(first.id, open === undefined);
    });
  }

  /** Opens one of the list; the address keeps the filter. */
  protected go(id: number, replaceUrl = false): Promise<boolean> {
    const queryParams = { show: this.asked().show };
    return this.router.navigate(['/replies', id], { replaceUrl, queryParams });
  }

  protected choose(show: ReplyFilter): void {
    this.opensFirst = true;
    this.asked.update(({ search }) => ({ show, search, limit: PAGE }));
  }

  protected find(event: Event): void {
    const search = (event.target as HTMLInputElement).value;
    this.asked.update(({ show }) => ({ show, search, limit: PAGE }));
  }

  protected showMore(): void {
    this.asked.update((asked) => ({ ...asked, limit: Math.min(asked.limit + PAGE, MOST_REPLIES) }));
  }

  protected async setOutcome(outcome: Outcome): Promise<void> {
    const open = this.open();
    if (!open || !incomingEntry(open.kind).takesOutcome) return;
    try {
      await firstValueFrom(this.service.setOutcome(open.id, open.outcome === outcome ? null : outcome));
    } catch (error) {
      this.notices.failure(error);
    }
  }

  protected pressed(event: KeyboardEvent): void {
    if (
      event.ctrlKey ||
      event.metaKey ||
      event.altKey ||
      (event.target as HTMLElement).matches('input, textarea, select')
    )
      return;
    const outcome = OUTCOME_KEYS.find((o) => o.key === event.key);
    const step =
      event.key === 'j' || event.key === 'ArrowDown' ? 1 : event.key === 'k' || event.key === 'ArrowUp' ? -1 : 0;
    if (outcome) void this.setOutcomeAndGoOn(outcome.outcome);
    else if (event.key === 'u') void this.decided()?.undo();
    else if (step !== 0) {
      this.step(step);
      event.preventDefault();
    }
  }

  /** One key for an outcome, and on to the next; taking it back stays. */
  private async setOutcomeAndGoOn(outcome: Outcome): Promise<void> {
    const takesBack = this.open()?.outcome === outcome;
    const next = this.beside(1);
    await this.setOutcome(outcome);
    if (!takesBack && next !== undefined) void this.go(next);
  }

  private step(by: number): void {
    const next = this.beside(by);
    if (next !== undefined) void this.go(next);
  }

  private beside(by: number): number | undefined {
    const rows = this.rows();
    return rows[rows.findIndex((r) => r.id === this.id()) + by]?.id;
  }
}
