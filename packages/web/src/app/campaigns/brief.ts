import { ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject, input, signal } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { Router, RouterLink } from '@angular/router';
import type { BriefChoices, BriefView, Obstacle } from '@baton/contract';
import { EMPTY, firstValueFrom, map, type Observable } from 'rxjs';
import { WorkspaceTime } from '../time/workspace-time';
import { LiveUpdates } from '../live/live-updates';
import { Notices } from '../live/notices';
import { ShellState } from '../shell/shell-state';
import { IsoDayPipe } from '../time/workspace-time';
import { BriefPlan } from './brief-plan';
import { BriefPanel, type PanelName } from './brief-panel';
import {
  choicesFrom,
  lateWords,
  messageWords,
  planSentence,
  shareWords,
  startWords,
  weekdayWords,
  withChoices,
} from './brief-words';
import { clockWords } from '@baton/core';
import { CampaignsService } from './campaigns-service';
import { ProgressLine } from './progress-line';
import { RecipientsTable } from './recipients-table';
import { StartQuestion } from './start-question';
import { campaignsTexts } from './texts';
import { addressOf } from '../live/addresses';

const texts = campaignsTexts.brief;

/** A campaign as plain sentences; pressing a choice lets it be changed, and obstacles to starting are listed. */
@Component({
  selector: 'bt-brief',
  imports: [BriefPanel, RecipientsTable, ProgressLine, MatButton, RouterLink, IsoDayPipe, BriefPlan],
  templateUrl: './brief.html',
  styleUrl: './brief.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Brief {
  private readonly time = inject(WorkspaceTime);
  protected readonly texts = texts;
  protected readonly states = campaignsTexts.states;
  protected readonly addressOf = addressOf;
  private readonly service = inject(CampaignsService);
  private readonly notices = inject(Notices);
  private readonly dialog = inject(MatDialog);
  private readonly router = inject(Router);
  private readonly shell = inject(ShellState);
  readonly campaignId = input.required<string>();

  private readonly live = inject(LiveUpdates);
  private readonly loaded = this.live.viewOf(
    toObservable(this.campaignId),
    ['campaigns', 'messages', 'people', 'mailboxes'],
    (id) => {
      const began = performance.now();
      return this.service.brief(Number(id)).pipe(map((brief) => ({ brief, began })));
    },
  );
  /** Once it runs, the numbers move with every message; a draft's whole plan is not made anew for that. */
  private readonly running = this.live.viewOf(
    toObservable(computed(() => (this.isStarted(this.loaded()?.brief) ? this.campaignId() : null))),
    ['progress', 'campaigns'],
    (id) => (id === null ? EMPTY : this.service.brief(Number(id))),
  );
  /** As the server said it last, on a change before the next load. */
  private readonly changed = signal<BriefView | null>(null);
  /** Choices that the server has not confirmed yet: the next choice starts from them. */
  private readonly wanted = signal<{ id: number; choices: BriefChoices } | null>(null);
  protected readonly isTaken = computed(() => this.wanted() === null);
  private saving = false;
  private savedAt = 0;
  protected readonly brief = computed(() => {
    const loaded = this.changed() ?? this.loaded()?.brief;
    const running = this.running();
    const view = running && this.isStarted(loaded) && running.id === loaded?.id ? running : loaded;
    const wanted = this.wanted();
    return view && wanted?.id === view.id ? withChoices(view, wanted.choices) : view;
  });
  protected readonly panel = signal<PanelName>('audience');
  protected readonly isDraft = computed(() => this.brief()?.state === 'draft');
  /** Whether a draft's plan is shown person by person. */
  protected readonly showsPlan = signal(false);

  protected readonly leftOut = computed(
    () => this.brief()?.forecast.leftOut.reduce((sum, l) => sum + l.people, 0) ?? 0,
  );
  protected readonly people = computed(() => texts.people(this.brief()?.forecast.people ?? 0));
  protected readonly when = computed(() => {
    const b = this.brief();
    return b ? texts.fromTo(weekdayWords(b.window.weekdays), clockWords(b.window.from), clockWords(b.window.to)) : '';
  });
  protected readonly plan = computed(() =>
    planSentence(this.brief()?.forecast ?? ({ firstDay: null } as BriefView['forecast']), this.time.form()),
  );
  protected readonly startLabel = computed(() => {
    const b = this.brief();
    return b ? startWords(b, this.time.form()) : '';
  });
  protected readonly toFix = computed(
    () => this.brief()?.forecast.obstacles.filter((o) => o.kind === 'fix').length ?? 0,
  );
  protected readonly toLook = computed(
    () => this.brief()?.forecast.obstacles.filter((o) => o.kind === 'look').length ?? 0,
  );
  protected readonly obstacles = computed(() =>
    this.toFix() === 0 && this.toLook() === 0 ? texts.nothing : texts.toFixToCheck(this.toFix(), this.toLook()),
  );
  protected readonly delay = texts.workingDays;
  /** A message's name inside a sentence: its own full stop or question mark is not doubled. */
  protected readonly messageWords = messageWords;
  protected readonly lateWords = lateWords;
  protected readonly shareWords = shareWords;
  protected readonly endOf = (name: string, mark: string): string => (/[.?!…]$/.test(name) ? '' : mark);

  constructor() {
    effect(() => {
      const loaded = this.loaded();
      // What was asked for before the last choice was taken does not know of it.
      if (loaded && loaded.began >= this.savedAt) this.changed.set(null);
    });
    effect(() => this.shell.setTitle(this.brief()?.name ?? null));
    inject(DestroyRef).onDestroy(() => this.shell.setTitle(null));
  }

  private isStarted(brief: BriefView | undefined): boolean {
    return brief !== undefined && brief.state !== 'draft';
  }

  protected open(panel: PanelName): void {
    this.panel.set(panel);
  }

  protected change(change: Partial<BriefChoices>): void {
    const b = this.brief();
    if (!b) return;
    this.wanted.set({ id: b.id, choices: { ...choicesFrom(b), ...change } });
    void this.save();
  }

  /** One save after another, in order: a quick second choice never starts from the state before the first. */
  private async save(): Promise<void> {
    if (this.saving) return;
    this.saving = true;
    for (let wanted = this.wanted(); wanted; wanted = this.wanted()) {
      const next = await this.send(this.service.change(wanted.id, wanted.choices));
      this.savedAt = performance.now();
      // Chosen on meanwhile: the next save has it all.
      if (next !== null && this.wanted() !== wanted) continue;
      if (next?.id === Number(this.campaignId())) this.changed.set(next);
      this.wanted.set(null);
    }
    this.saving = false;
  }

  protected settle(obstacle: Obstacle): void {
    const { act, messageId, listId } = obstacle.remedy;
    if (act === 'open_message') void this.router.navigate(['/messages', messageId]);
    else if (act === 'write_lines') void this.router.navigate(['/messages', this.messageWithLines(), 'lines', listId]);
    else if (act === 'settings') void this.router.navigate(['/settings']);
    else if (act === 'leave_out_blank') void this.change({ leaveOutBlank: true });
    else if (act === 'leave_out_doubtful') void this.change({ leaveOutDoubtful: true });
    else this.panel.set(act);
  }

  /** The first message: the one people's lines are read in. */
  private messageWithLines(): number {
    return this.brief()?.steps[0]?.messageId ?? 0;
  }

  protected async start(): Promise<void> {
    const brief = this.brief();
    if (!brief) return;
    const sure = await firstValueFrom(
      this.dialog.open<StartQuestion, BriefView, boolean>(StartQuestion, { data: brief, width: '540px' }).afterClosed(),
    );
    if (!sure) return;
    const done = await this.send(
      this.service.start(brief.id, { people: brief.forecast.people, lastDay: brief.forecast.lastDay }),
    );
    if (done !== null) this.notices.say(texts.hasStarted(brief.name));
  }

  protected async setHeld(held: boolean): Promise<void> {
    const brief = this.brief();
    if (brief) await this.send(this.service.setHeld(brief.id, held));
  }

  private async send<T>(request: Observable<T>): Promise<T | null> {
    try {
      return await firstValueFrom(request);
    } catch (error) {
      this.notices.failure(error);
      return null;
    }
  }
}
