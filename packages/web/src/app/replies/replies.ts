import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { Router } from '@angular/router';
import type { IncomingView, Outcome } from '@baton/contract';
import { INCOMING_HEADINGS, incomingEntry, type IncomingKind } from '@baton/core';
import { EMPTY, firstValueFrom } from 'rxjs';
import { LiveUpdates } from '../live/live-updates';
import { Notices } from '../live/notices';
import { MomentPipe } from '../time/workspace-time';
import { RepliesService } from './replies-service';

/** Outcomes with the key that sets each. */
const OUTCOME_KEYS: { outcome: Outcome; words: string; key: string }[] = [
  { outcome: 'interested', words: 'Interested', key: 'i' },
  { outcome: 'meeting', words: 'Meeting', key: 'm' },
  { outcome: 'later', words: 'Later', key: 'l' },
  { outcome: 'no', words: 'No', key: 'n' },
  { outcome: 'wrong_person', words: 'Wrong person', key: 'w' },
];

type Filter = IncomingKind | 'without_outcome' | 'all';

const FILTERS: readonly { kind: Filter; words: string }[] = [
  { kind: 'without_outcome', words: 'Without outcome' },
  ...INCOMING_HEADINGS,
  { kind: 'all', words: 'All' },
];

/** Who answered, newest first, sorted by what they are; the thread beside it. */
@Component({
  selector: 'bt-replies',
  imports: [MatButton, MomentPipe],
  templateUrl: './replies.html',
  styleUrl: './replies.scss',
  host: { '(document:keydown)': 'pressed($event)' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Replies {
  private readonly service = inject(RepliesService);
  private readonly live = inject(LiveUpdates);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);
  readonly replyId = input<string>();

  private readonly all = this.live.view(['replies'], () => this.service.all());
  protected readonly filter = signal<Filter>('without_outcome');
  protected readonly filters = computed(() =>
    FILTERS.map((f) => ({ ...f, n: (this.all() ?? []).filter((r) => matches(r, f.kind)).length })),
  );
  private readonly id = computed(() => Number(this.replyId() ?? 0));
  protected readonly open = computed(() => this.all()?.find((r) => r.id === this.id()));
  protected readonly takesOutcome = computed(() => {
    const open = this.open();
    return open !== undefined && incomingEntry(open.kind).takesOutcome;
  });
  /** What matches, and what is open even when it no longer does: setting an outcome must not take it from under the eye. */
  protected readonly rows = computed(() =>
    (this.all() ?? [])
      .filter((r) => matches(r, this.filter()) || r.id === this.id())
      .map((r) => ({
        ...r,
        words: incomingEntry(r.kind).words,
        tone: incomingEntry(r.kind).tone,
        outcomeWords: OUTCOME_KEYS.find((o) => o.outcome === r.outcome)?.words ?? '',
      })),
  );
  protected readonly thread = this.live.viewOf(toObservable(this.id), ['replies'], (id) =>
    id === 0 ? EMPTY : this.service.thread(id),
  );
  protected readonly outcomes = OUTCOME_KEYS;

  constructor() {
    effect(() => {
      const first = this.rows()[0];
      if (this.replyId() === undefined && first)
        void this.router.navigate(['/replies', first.id], { replaceUrl: true });
    });
  }

  protected show(id: number): void {
    void this.router.navigate(['/replies', id]);
  }

  protected choose(filter: Filter): void {
    this.filter.set(filter);
    const first = (this.all() ?? []).find((r) => matches(r, filter));
    if (first) this.show(first.id);
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
    if (outcome) void this.setOutcome(outcome.outcome);
    else if (step !== 0) {
      const at = this.rows().findIndex((r) => r.id === this.id());
      const next = this.rows()[at + step];
      if (next) this.show(next.id);
      event.preventDefault();
    }
  }
}

function matches(r: IncomingView, filter: Filter): boolean {
  const { heading, takesOutcome } = incomingEntry(r.kind);
  if (filter === 'all') return true;
  return filter === 'without_outcome' ? takesOutcome && r.outcome === null : heading?.kind === filter;
}
