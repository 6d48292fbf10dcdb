import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  ElementRef,
  inject,
  Injector,
  input,
  signal,
  viewChild,
} from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { Router, RouterLink } from '@angular/router';
import type { BriefStep, BriefView, Obstacle } from '@baton/contract';
import { firstValueFrom } from 'rxjs';
import { DateField } from '../time/date-field';
import { WorkspaceTime } from '../time/workspace-time';
import { Notices } from '../live/notices';
import { AskName } from '../look/ask-name';
import { ShellState } from '../shell/shell-state';
import { BriefPlan } from './brief-plan';
import { BriefPanel, type PanelName } from './brief-panel';
import { BriefChangeSheet } from './brief-change-sheet';
import { BriefState } from './brief-state';
import { lateWords, messageWords, planSentence, shareWords, startWords, weekdayWords } from './brief-words';
import { clockWords, conditionSaid, hoursWords, MINUTE_MS, momentWords, UNDO_START_MS, watchWords } from '@baton/core';
import { CampaignsService } from './campaigns-service';
import { NewCampaigns } from './new-campaigns';
import { ProgressLine } from './progress-line';
import { RecipientsTable } from './recipients-table';
import { StartProgressLine } from './start-progress-line';
import { StartQuestion } from './start-question';
import { campaignsTexts } from './texts';
import { ListsService } from '../people/list/lists-service';
import { RowsBack } from '../results/rows-back';

const texts = campaignsTexts.brief;

/** An offer stands at least so long. */
const LEAST_MS = 10_000;
const leftOf = (ms: number, began: number): number => Math.max(LEAST_MS, ms - (performance.now() - began));

/** A campaign as plain sentences; pressing a choice lets it be changed, and obstacles to starting are listed. */
@Component({
  selector: 'bt-brief',
  imports: [
    DateField,
    StartProgressLine,
    BriefChangeSheet,
    BriefPanel,
    RecipientsTable,
    ProgressLine,
    RowsBack,
    MatButton,
    RouterLink,
    BriefPlan,
  ],
  templateUrl: './brief.html',
  styleUrl: './brief.scss',
  providers: [BriefState],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Brief {
  private readonly time = inject(WorkspaceTime);
  protected readonly texts = texts;
  protected readonly states = campaignsTexts.states;
  private readonly service = inject(CampaignsService);
  private readonly lists = inject(ListsService);
  private readonly notices = inject(Notices);
  private readonly dialog = inject(MatDialog);
  private readonly newCampaigns = inject(NewCampaigns);
  private readonly router = inject(Router);
  private readonly shell = inject(ShellState);
  protected readonly state = inject(BriefState);
  readonly campaignId = input.required<string>();

  protected readonly brief = this.state.brief;
  protected readonly isTaken = this.state.isTaken;
  /** The choice that was pressed; of a draft there is always one. */
  private readonly pressed = signal<PanelName | null>(null);
  protected readonly panel = computed(() => this.pressed() ?? (this.isDraft() ? 'audience' : null));
  protected readonly isDraft = computed(() => this.brief()?.state === 'draft');
  /** Whether its choices can be others. */
  protected readonly isOpen = computed(() => this.brief()?.state !== 'finished');
  protected readonly lastChange = computed(() => {
    const last = this.brief()?.lastChange;
    return last ? { ...last, when: this.time.both(last.at) } : null;
  });
  /** Whether it was started here and has not been answered yet. */
  protected readonly isStarting = signal(false);
  private readonly progressLine = viewChild(StartProgressLine);
  /** Whether it is being started, here or elsewhere. */
  protected readonly underWay = computed(() => this.isStarting() || this.progressLine()?.progress() != null);
  /** Whether a draft's plan is shown person by person. */
  protected readonly showsPlan = signal(false);

  protected readonly leftOut = computed(
    () => this.brief()?.forecast.leftOut.reduce((sum, l) => sum + l.people, 0) ?? 0,
  );
  protected readonly people = computed(() => texts.people(this.brief()?.forecast.people ?? 0));
  /** Whom it leaves out by choice, each with what stands behind it in the sentence. */
  protected readonly leavesOut = computed(() => {
    const b = this.brief();
    if (!b) return [];
    const words = [
      ...b.exceptWords.map(texts.everybodyOf),
      ...(b.notWithinDays === null ? [] : [texts.writtenInTheLast(b.notWithinDays)]),
      ...(b.mostPerCompany === null ? [] : [texts.allButOfEachCompany(b.mostPerCompany)]),
    ];
    const thenOf = (left: number) => (left === 0 ? '.' : left === 1 ? texts.and : texts.comma);
    return words.map((w, i) => ({ words: w, then: thenOf(words.length - 1 - i) }));
  });
  protected readonly joinsLater = computed(() => {
    const b = this.brief();
    return b?.enrolNew ? texts.andWhoeverJoinsLater(1 + b.alsoParts.length) : '';
  });
  protected readonly when = computed(() => {
    const b = this.brief();
    return b ? texts.fromTo(weekdayWords(b.window.weekdays), clockWords(b.window.from), clockWords(b.window.to)) : '';
  });
  protected readonly starts = computed(() => {
    const b = this.brief();
    return b ? momentWords(b.startDate, b.startMinute, this.time.form()) : '';
  });
  protected readonly ends = computed(() => {
    const b = this.brief();
    return b?.endDate ? momentWords(b.endDate, b.endMinute, this.time.form()) : '';
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
  protected readonly watching = computed(() => {
    const b = this.brief();
    return b ? watchWords(b, b.canWatch) : '';
  });
  protected readonly conditionSaid = conditionSaid;
  /** Whether some follow-ups do not go to everybody who has not replied. */
  protected readonly hasConditions = computed(
    () => this.brief()?.steps.some((s) => conditionSaid(s.condition) !== '') ?? false,
  );
  protected readonly delay = texts.workingDays;
  /** A message's name inside a sentence: its own full stop or question mark is not doubled. */
  protected readonly messageWords = messageWords;
  protected readonly lateWords = lateWords;
  protected readonly shareWords = shareWords;

  /** What is said of a message behind its name: its thread, its last day and hours. */
  protected termsOfStep(step: BriefStep, isFirst: boolean, mark: string): string {
    const { startsThread, quotes, lastDay, hours, answersLast } = step;
    const said = [
      isFirst ? (answersLast ? texts.answersLast : '') : texts.inTheThread(startsThread),
      quotes ? texts.quoting : '',
      lastDay === null ? '' : texts.untilDay(this.time.dayWords(lastDay)),
      hours === null ? '' : texts.inHours(hoursWords(hours)),
    ].join('');
    const name = this.messageWords(step, this.brief()?.variants.length ?? 0);
    return said === '' && /[.?!…]$/.test(name) ? '' : `${said}${mark}`;
  }

  constructor() {
    effect(() => this.state.open(Number(this.campaignId())));
    effect(() => this.shell.setTitle(this.brief()?.name ?? null));
    inject(DestroyRef).onDestroy(() => this.shell.setTitle(null));
  }

  private readonly panelElement = viewChild<BriefPanel, ElementRef<HTMLElement>>(BriefPanel, { read: ElementRef });
  private readonly injector = inject(Injector);

  protected open(panel: PanelName): void {
    this.pressed.set(panel);
    // In a narrow window it stands under everything else.
    const show = () => this.panelElement()?.nativeElement.scrollIntoView({ block: 'nearest' });
    afterNextRender({ read: show }, { injector: this.injector });
  }

  protected close(): void {
    this.pressed.set(null);
  }

  protected async rename(): Promise<void> {
    const value = this.brief()?.name ?? '';
    const data = { title: texts.nameOfTheCampaign, value, label: texts.rename };
    const asking = this.dialog.open<AskName, unknown, string>(AskName, { data, width: '380px' });
    const name = await firstValueFrom(asking.afterClosed());
    if (name !== undefined && name !== value) this.state.change({ name });
  }

  /** A new campaign with the same choices. */
  protected copy(): void {
    const brief = this.brief();
    if (brief) void this.newCampaigns.begin({ kind: 'copy', campaignId: brief.id }, texts.again(brief.name));
  }

  /** Keeps messages, waits, times and limits to begin other campaigns with. */
  protected async keepPattern(): Promise<void> {
    const brief = this.brief();
    if (!brief) return;
    const data = { title: texts.nameOfThePattern, value: brief.name, label: texts.keep };
    const asking = this.dialog.open<AskName, unknown, string>(AskName, { data, width: '380px' });
    const name = await firstValueFrom(asking.afterClosed());
    if (name !== undefined && (await this.state.tried(this.service.keepPattern(brief.id, name))) !== null)
      this.notices.say(texts.patternKept(name));
  }

  /** Ends it for everybody; it can be undone. */
  protected async end(): Promise<void> {
    const brief = this.brief();
    if (brief && (await this.state.tried(this.service.end(brief.id))) !== null)
      this.notices.offer(texts.hasEnded(brief.name), texts.undo, 15_000, () => void this.undo());
  }

  protected readonly today = () => this.time.today();

  /** Until when a campaign goes on that has ended with its last day; '' for no end. */
  protected readonly goesOnUntil = signal('');

  protected async goOn(): Promise<void> {
    if (await this.state.goOn(this.goesOnUntil() || null)) this.notices.say(texts.goesOn);
  }

  protected async undo(): Promise<void> {
    if (await this.state.undo()) this.notices.say(texts.undone);
  }

  protected settle(obstacle: Obstacle): void {
    const { act, messageId, listId, mailboxId } = obstacle.remedy;
    if (act === 'open_message') void this.router.navigate(['/messages', messageId]);
    else if (act === 'open_list') void this.router.navigate(['/people', listId]);
    else if (act === 'ask_domains') this.askDomains(listId ?? 0);
    else if (act === 'open_mailbox') void this.router.navigate(['/mailboxes', mailboxId], { fragment: 'records' });
    else if (act === 'write_lines') void this.router.navigate(['/messages', this.messageWithLines(), 'lines', listId]);
    else if (act === 'settings') void this.router.navigate(['/settings']);
    else if (act === 'leave_out_blank') this.state.change({ leaveOutBlank: true });
    else if (act === 'leave_out_doubtful') this.state.change({ leaveOutDoubtful: true });
    else this.pressed.set(act);
  }

  private askDomains(listId: number): void {
    this.lists.askDomains(listId).subscribe({
      next: ({ domains }) => this.notices.say(texts.domainsAreBeingChecked(domains)),
      error: (error: unknown) => this.notices.failure(error),
    });
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
    this.isStarting.set(true);
    const began = performance.now();
    const done = await this.state.tried(
      this.service.start(brief.id, { people: brief.forecast.people, lastDay: brief.forecast.lastDay }),
    );
    this.isStarting.set(false);
    const words = texts.hasStarted(brief.name, UNDO_START_MS / MINUTE_MS);
    if (done !== null) this.notices.offer(words, texts.undo, leftOf(UNDO_START_MS, began), () => void this.undo());
  }

  protected async setHeld(held: boolean): Promise<void> {
    const brief = this.brief();
    if (brief) await this.state.tried(this.service.setHeld(brief.id, held));
  }
}
