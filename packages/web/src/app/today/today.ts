import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { Need, TodayView } from '@baton/contract';
import { LiveUpdates } from '../live/live-updates';
import { ShellState } from '../shell/shell-state';
import { dayWords } from '@baton/core';
import { WorkspaceTime } from '../time/workspace-time';
import { DayLanes } from './day-lanes';
import { TodayService } from './today-service';

const NEED_WORDS: Record<Need['kind'], { word: string; tone: string }> = {
  answer: { word: 'Reply', tone: 'good' },
  resting: { word: 'Resting', tone: 'bad' },
  problem: { word: 'Cannot sign in', tone: 'bad' },
  unconfirmed: { word: 'Unsure', tone: 'look' },
  fix: { word: 'Fix', tone: 'look' },
  held: { word: 'Held', tone: 'look' },
};

/** The day at a glance, and what only a person can settle. */
@Component({
  selector: 'bt-today',
  imports: [DayLanes, MatButton, RouterLink],
  templateUrl: './today.html',
  styleUrl: './today.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Today {
  private readonly service = inject(TodayService);
  private readonly time = inject(WorkspaceTime);
  private readonly shell = inject(ShellState);
  private readonly live = inject(LiveUpdates);
  protected readonly view = this.live.view(['today', 'replies', 'mailboxes', 'clock'], () => this.service.today());
  private readonly drafts = this.live.view(['campaigns', 'messages', 'people', 'mailboxes'], () =>
    this.service.drafts(),
  );
  protected readonly nowMs = computed(() => this.shell.view()?.clock.nowMs ?? 0);
  protected readonly needs = computed(() =>
    [...(this.view()?.needs ?? []), ...(this.drafts() ?? [])].map((n) => ({ ...n, ...NEED_WORDS[n.kind] })),
  );

  /** Those that are listed, and those that one line stands for. */
  protected readonly needsCount = computed(() => this.needs().reduce((sum, n) => sum + (n.count ?? 1), 0));

  protected readonly sentence = computed(() => {
    const v = this.view();
    if (!v) return '';
    if (v.lanes.length === 0)
      return 'No mailbox is connected yet. Connect one, import a list and write a message; then you can start a campaign.';
    return [this.daySentence(v), answerSentence(v)].filter((s) => s !== '').join(' ');
  });

  protected readonly restSentence = computed(() => {
    const n = this.view()?.resting ?? 0;
    return n === 0 ? '' : n === 1 ? 'One mailbox rests.' : `${n} mailboxes rest.`;
  });

  private daySentence(v: TodayView): string {
    if (v.planned === 0)
      return v.nextDay === null
        ? 'Nothing is planned.'
        : `Nothing is sent today; the next messages are sent on ${dayWords(v.nextDay, 'long')}.`;
    if (v.lastAt === null)
      return `All of today’s ${v.planned} messages have been sent${v.nextDay === null ? '' : `; the next are sent on ${dayWords(v.nextDay, 'long')}`}.`;
    return `${v.sent} of today’s ${v.planned} messages have been sent; the last is due at ${this.time.time(v.lastAt)}.`;
  }
}

function answerSentence(v: TodayView): string {
  const people = (n: number) => (n === 1 ? 'One person' : `${n} people`);
  if (v.answeredSinceYesterday === 0)
    return v.waiting === 0 ? '' : `${people(v.waiting)} who replied ${v.waiting === 1 ? 'is' : 'are'} waiting for you.`;
  return `${people(v.answeredSinceYesterday)} replied since yesterday${v.waiting === 0 ? '' : `, ${v.waiting} ${v.waiting === 1 ? 'is' : 'are'} waiting for you`}.`;
}
