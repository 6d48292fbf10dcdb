import { CdkOverlayOrigin } from '@angular/cdk/overlay';
import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { Router, RouterLink } from '@angular/router';
import type { Need, Outcome } from '@baton/contract';
import type { Observable } from 'rxjs';
import { CampaignsService } from '../campaigns/campaigns-service';
import { Notices } from '../live/notices';
import { Below } from '../look/below';
import { Panel } from '../look/panel';
import { SignInAgain } from '../mailboxes/sign-in/sign-in-again';
import { PlanService } from '../plan/plan-service';
import { RepliesService } from '../replies/replies-service';
import { OUTCOME_KEYS } from '../replies/outcomes';
import { DayPanel } from '../time/day-panel';
import { WorkspaceTime } from '../time/workspace-time';
import { TodayService } from './today-service';
import { todayTexts } from './texts';

const texts = todayTexts.needRow;

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

/** Something that needs a person, settled where it stands: by its buttons, or by one key while the line has the focus. */
@Component({
  selector: 'bt-need-row',
  imports: [
    Below,
    CdkOverlayOrigin,
    DayPanel,
    MatButton,
    MatMenu,
    MatMenuItem,
    MatMenuTrigger,
    Panel,
    RouterLink,
    SignInAgain,
  ],
  templateUrl: './need-row.html',
  styleUrl: './need-row.scss',
  host: {
    role: 'group',
    '[attr.tabindex]': 'keys() === null ? null : 0',
    '[attr.aria-label]': 'need().title',
    '[attr.aria-keyshortcuts]': 'keys()',
    '(keydown)': 'press($event)',
  },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NeedRow {
  protected readonly texts = texts;
  protected readonly outcomes = OUTCOME_KEYS;
  private readonly service = inject(TodayService);
  private readonly replies = inject(RepliesService);
  private readonly plan = inject(PlanService);
  private readonly campaigns = inject(CampaignsService);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);
  private readonly time = inject(WorkspaceTime);
  readonly need = input.required<Need>();
  protected readonly asksDay = signal(false);
  protected readonly look = computed(() => NEED_WORDS[this.need().kind]);
  protected readonly to = computed(() => this.router.parseUrl(this.need().link));
  protected readonly until = computed(() => {
    const day = this.need().putOffUntil;
    return day === undefined ? '' : texts.putOffUntil(this.time.dayWords(day));
  });
  /** What somebody is to say of a message of which nobody knows whether it left. */
  protected readonly unsure = computed(() => {
    const settles = this.need().settles;
    return settles?.kind === 'delivery' || settles?.kind === 'letter' ? settles : null;
  });
  protected readonly keys = computed(() => {
    if (this.need().key === '') return null;
    return [...(this.need().settles?.kind === 'outcome' ? OUTCOME_KEYS.map((o) => o.key) : []), PUT_OFF_KEY].join(' ');
  });

  protected press(event: KeyboardEvent): void {
    // What is pressed on one of the buttons is for that button.
    if (event.target !== event.currentTarget || event.ctrlKey || event.metaKey || event.altKey) return;
    const outcome = OUTCOME_KEYS.find((o) => o.key === event.key);
    if (event.key === PUT_OFF_KEY && this.need().key !== '') this.asksDay.set(true);
    else if (outcome && this.need().settles?.kind === 'outcome') this.setOutcome(outcome.outcome);
    else if (event.key === 'Enter' && this.need().link !== '') void this.router.navigateByUrl(this.to());
    else return;
    event.preventDefault();
  }

  protected setOutcome(outcome: Outcome): void {
    const settles = this.need().settles;
    if (settles?.kind !== 'outcome') return;
    const words = OUTCOME_KEYS.find((o) => o.outcome === outcome)?.words ?? '';
    const { title } = this.need();
    this.replies.setOutcome(settles.id, outcome).subscribe({
      next: () =>
        this.notices.offer(texts.outcomeSet(title, words), texts.undo, UNDO_MS, () =>
          this.run(this.replies.setOutcome(settles.id, null)),
        ),
      error: (error: unknown) => this.notices.failure(error),
    });
  }

  protected release(): void {
    const settles = this.need().settles;
    if (settles?.kind === 'batch') this.run(this.plan.setHeld(settles.day, settles.mailboxId, false));
  }

  protected sayLeft(left: boolean): void {
    const settles = this.unsure();
    if (settles?.kind === 'delivery') this.run(this.campaigns.settle(settles.id, left));
    else if (settles) this.run(this.replies.settleLetter(settles.id, left));
  }

  /** An answer is put off where all of them are counted, so that all counts agree. */
  protected putOff(day: string | null): void {
    this.asksDay.set(false);
    const { key, settles } = this.need();
    this.run(
      settles?.kind === 'outcome'
        ? this.replies.change([settles.id], { remindOn: day })
        : this.service.putOff(key, day),
    );
  }

  private run(request: Observable<unknown>): void {
    request.subscribe({ error: (error: unknown) => this.notices.failure(error) });
  }
}

const PUT_OFF_KEY = 'p';
/** For how long an outcome can be taken back by the notice. */
const UNDO_MS = 10_000;
