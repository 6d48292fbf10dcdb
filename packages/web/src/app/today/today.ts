import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import type { Need, TodayView } from '@baton/contract';
import { LiveUpdates } from '../live/live-updates';
import { SignInAgain } from '../mailboxes/sign-in/sign-in-again';
import { ShellState } from '../shell/shell-state';
import { WorkspaceTime } from '../time/workspace-time';
import { DayLanes } from './day-lanes';
import { TodayService } from './today-service';
import { todayTexts } from './texts';
import { CountPipe } from '../look/count-pipe';

const texts = todayTexts.today;

const NEED_WORDS: Record<Need['kind'], { word: string; tone: string }> = {
  answer: { word: texts.reply, tone: 'good' },
  answer_failed: { word: texts.answerFailed, tone: 'bad' },
  unmatched: { word: texts.unmatched, tone: 'look' },
  resting: { word: texts.resting, tone: 'bad' },
  problem: { word: texts.problem, tone: 'bad' },
  unconfirmed: { word: texts.unsure, tone: 'look' },
  fix: { word: texts.fix, tone: 'look' },
  held: { word: texts.held, tone: 'look' },
};

/** The day at a glance, and what only a person can settle. */
@Component({
  selector: 'bt-today',
  imports: [CountPipe, DayLanes, MatButton, RouterLink, SignInAgain],
  templateUrl: './today.html',
  styleUrl: './today.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Today {
  protected readonly texts = texts;
  private readonly service = inject(TodayService);
  private readonly time = inject(WorkspaceTime);
  private readonly shell = inject(ShellState);
  private readonly live = inject(LiveUpdates);
  private readonly router = inject(Router);
  protected readonly view = this.live.view(['today', 'replies', 'mailboxes', 'clock'], () => this.service.today());
  private readonly drafts = this.live.view(['campaigns', 'messages', 'people', 'mailboxes'], () =>
    this.service.drafts(),
  );
  protected readonly nowMs = computed(() => this.shell.view()?.clock.nowMs ?? 0);
  protected readonly needs = computed(() =>
    [...(this.view()?.needs ?? []), ...(this.drafts() ?? [])].map((n) => ({
      ...n,
      ...NEED_WORDS[n.kind],
      to: this.router.parseUrl(n.link),
    })),
  );

  /** Those that are listed, and those that one line stands for. */
  protected readonly needsCount = computed(() => this.needs().reduce((sum, n) => sum + (n.count ?? 1), 0));

  /** Each with its words; the first that is to be done is the one to press. */
  protected readonly firstSteps = computed(() => {
    const all = this.view()?.firstSteps ?? [];
    const next = all.find((s) => !s.isDone);
    return all.map((s, i) => ({
      ...{ ...s, ...texts.steps[s.kind] },
      isNext: s === next,
      number: s.isDone ? '✓' : String(i + 1),
    }));
  });

  protected readonly sentence = computed(() => {
    const v = this.view();
    if (!v) return '';
    if (v.firstSteps.length > 0) return texts.nothingHasBeenSent;
    return [this.daySentence(v), answerSentence(v)].filter((s) => s !== '').join(' ');
  });

  protected readonly restSentence = computed(() => {
    const n = this.view()?.resting ?? 0;
    return n === 0 ? '' : texts.mailboxesRest(n);
  });

  private daySentence(v: TodayView): string {
    if (v.planned === 0)
      return v.nextDay === null
        ? texts.nothingIsPlanned
        : texts.nothingIsSentTodayThe(this.time.dayWords(v.nextDay, 'long'));
    if (v.lastAt === null)
      return texts.allOfTodaysMessagesHave(
        v.planned,
        v.nextDay === null ? '' : texts.theNextAreSentOn(this.time.dayWords(v.nextDay, 'long')),
      );
    return texts.ofTodaysMessagesHaveBeen(v.sent, v.planned, this.time.time(v.lastAt));
  }
}

function answerSentence(v: TodayView): string {
  if (v.answeredSinceYesterday === 0) return v.waiting === 0 ? '' : texts.whoRepliedWaiting(v.waiting);
  return texts.repliedSinceYesterday(
    texts.people(v.answeredSinceYesterday),
    v.waiting === 0 ? '' : texts.waitingForYou(v.waiting),
  );
}
