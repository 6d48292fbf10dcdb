import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { TodayView } from '@baton/contract';
import { LiveUpdates } from '../live/live-updates';
import { ShellState } from '../shell/shell-state';
import { WorkspaceTime } from '../time/workspace-time';
import { DayLanes } from './day-lanes';
import { NeedRow } from './need-row';
import { TodayService } from './today-service';
import { todayTexts } from './texts';
import { CountPipe } from '../look/count-pipe';

const texts = todayTexts.today;

/** The day at a glance, and what only a person can settle. */
@Component({
  selector: 'bt-today',
  imports: [CountPipe, DayLanes, MatButton, NeedRow, RouterLink],
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
  protected readonly view = this.live.view(['today', 'replies', 'mailboxes', 'clock'], () => this.service.today());
  private readonly drafts = this.live.view(['campaigns', 'messages', 'people', 'mailboxes'], () =>
    this.service.drafts(),
  );
  protected readonly nowMs = computed(() => this.shell.view()?.clock.nowMs ?? 0);
  private readonly all = computed(() => [...(this.view()?.needs ?? []), ...(this.drafts() ?? [])]);
  protected readonly needs = computed(() => this.all().filter((n) => n.putOffUntil === undefined));
  protected readonly putOff = computed(() => this.all().filter((n) => n.putOffUntil !== undefined));
  protected readonly hasNeeds = computed(() => this.all().length > 0);
  protected readonly showsPutOff = signal(false);

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
