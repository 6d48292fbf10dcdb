import { HttpClient } from '@angular/common/http';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { ACTIVITY_GROUP_NAMES, ACTIVITY_GROUPS, eventRule, type ActivityGroup } from '@baton/core';
import type { ActivityEntry, ActivityList } from '@baton/contract';
import { debounceTime } from 'rxjs';
import { LiveUpdates } from '../live/live-updates';
import { EVENT_TONES } from '../look/event-tones';
import { typedText } from '../look/event-input';
import { MomentPipe } from '../time/workspace-time';
import { activityTexts } from './texts';

const texts = activityTexts.activity;
const PAGE = 100;
const MOST = 2000;
const SEARCH_PAUSE_MS = 150;

/** What Baton did by itself and what it noticed, the newest first, as it happens. */
@Component({
  selector: 'bt-activity',
  imports: [MatButton, MomentPipe, RouterLink],
  templateUrl: './activity.html',
  styleUrl: './activity.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Activity {
  protected readonly texts = texts;
  protected readonly typedText = typedText;
  protected readonly groups = ACTIVITY_GROUP_NAMES.map((name) => ({ name, words: ACTIVITY_GROUPS[name].words }));
  private readonly http = inject(HttpClient);
  protected readonly group = signal<ActivityGroup | ''>('');
  protected readonly search = signal('');
  protected readonly limit = signal(PAGE);
  private readonly asked = computed(() => ({ group: this.group(), search: this.search(), limit: this.limit() }));
  protected readonly list = inject(LiveUpdates).viewOf(
    toObservable(this.asked).pipe(debounceTime(SEARCH_PAUSE_MS)),
    ['progress', 'today', 'replies', 'mailboxes', 'campaigns'],
    ({ group, search, limit }) =>
      this.http.get<ActivityList>('/api/activity', {
        params: { ...(group === '' ? {} : { group }), search, limit },
      }),
  );
  protected readonly entries = computed(() =>
    (this.list()?.entries ?? []).map((e) => ({
      ...{ ...e, words: wordsOf(e), more: moreOf(e) },
      tone: e.kind === null ? 'look' : EVENT_TONES[e.kind],
    })),
  );
  protected readonly isFiltered = computed(() => this.group() !== '' || this.search().trim() !== '');
  protected readonly canShowOlder = computed(() => this.list()?.hasMore === true && this.limit() < MOST);

  protected choose(value: string): void {
    this.group.set(value as ActivityGroup | '');
    this.limit.set(PAGE);
  }

  protected find(value: string): void {
    this.search.set(value);
    this.limit.set(PAGE);
  }

  protected showOlder(): void {
    this.limit.set(Math.min(MOST, this.limit() + PAGE));
  }
}

const wordsOf = ({ kind }: ActivityEntry): string => (kind === null ? texts.ofMailbox : eventRule(kind).words);

function moreOf({ kind, detail, step }: ActivityEntry): string {
  if (kind === 'sent') return step === null || step === 0 ? texts.firstMessage : texts.followUp(step);
  return detail;
}
