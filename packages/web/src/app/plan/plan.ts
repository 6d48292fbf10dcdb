import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  Injector,
  input,
  signal,
  viewChild,
} from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { Router, RouterLink } from '@angular/router';
import type { PlanCampaignRow, PlanVariant } from '@baton/contract';
import { type DateForm, dayNumber, dayWords, isoDate, isoWeekday, type SharedCampaign } from '@baton/core';
import { firstValueFrom } from 'rxjs';
import { WorkspaceTime } from '../time/workspace-time';
import { Notices } from '../live/notices';
import { IsoDayPipe } from '../time/workspace-time';
import { BatchPanel } from './batch-panel';
import { Board } from './board';
import { CampaignBoard } from './campaign-board';
import { DayDrag } from './day-drag';
import { ceilingOn, loadsWith, ZOOMS, type Zoom } from './board-grid';
import { PlanService } from './plan-service';
import { PlanState } from './plan-state';
import { differenceWords, type Words } from './plan-words';
import { WhatIfBar } from './what-if-bar';
import { WhatIfPlanner } from './what-if-planner';
import { planTexts } from './texts';
import { CountPipe } from '../look/count-pipe';

const texts = planTexts.plan;

const WEEKS_OF_HEADROOM = 3;

/** Every message to come, by mailbox and day; changes are tried out before they are made. */
@Component({
  selector: 'bt-plan',
  imports: [
    CountPipe,
    BatchPanel,
    Board,
    CampaignBoard,
    WhatIfBar,
    MatButton,
    MatMenu,
    MatMenuItem,
    MatMenuTrigger,
    RouterLink,
    IsoDayPipe,
  ],
  providers: [PlanState, WhatIfPlanner, DayDrag],
  templateUrl: './plan.html',
  styleUrl: './plan.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PlanPage {
  private readonly time = inject(WorkspaceTime);
  protected readonly texts = texts;
  protected readonly state = inject(PlanState);
  private readonly service = inject(PlanService);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);
  /** The batch that is open, from the address. */
  readonly day = input<string>();
  readonly mailbox = input<string>();
  /** What a row is, from the address. */
  readonly by = input<string>();
  protected readonly isByCampaign = computed(() => this.by() === 'campaign');

  protected readonly board = this.state.board;
  private readonly panel = viewChild(BatchPanel);
  private readonly sheet = viewChild(Board);
  private readonly injector = inject(Injector);
  /** The cell whose batch is open. */
  private cameFrom: Element | null = null;
  protected readonly zooms = ZOOMS;
  protected readonly zoom = signal<Zoom>(ZOOMS[1] as Zoom);
  /** Weeks from the one that holds today. */
  private readonly weeks = signal(0);
  private readonly monday = computed(() => {
    const today = dayNumber(this.board()?.today ?? '2026-01-01');
    return today - (isoWeekday(today) - 1);
  });
  protected readonly from = computed(() => isoDate(this.monday() + this.weeks() * 7));
  protected readonly isNow = computed(() => this.weeks() === 0);
  protected readonly opened = computed(() => {
    const [day, mailbox] = [this.day(), Number(this.mailbox())];
    return day !== undefined && mailbox > 0 ? { day, mailbox } : null;
  });

  protected readonly sentence = computed((): Words[] => {
    const [board, answer] = [this.board(), this.state.answer()];
    if (!board) return [];
    if (answer) return differenceWords(board, answer, this.state.lateNow(), this.time.form());
    return standing(board.campaigns, this.time.form());
  });
  protected readonly notPlaced = computed(() =>
    (this.state.answer() ? [] : (this.board()?.notPlaced ?? [])).map((n) => ({
      ...n,
      name: this.board()?.campaigns.find((c) => c.id === n.campaignId)?.name ?? '',
    })),
  );

  /** Campaigns with something to come, the first to end first. */
  protected readonly campaigns = computed(() => {
    const answers = new Map(this.state.answer()?.campaigns.map((a) => [a.id, a]));
    const ranges = new Map(this.state.ranges().map((r) => [r.id, r]));
    return (this.board()?.campaigns ?? [])
      .filter((c) => c.state !== 'finished' && c.lastDay !== null)
      .map((c) => {
        const answer = answers.get(c.id);
        const [lastDay, lastStartDay] = answer
          ? [answer.lastDay, answer.lastStartDay ?? c.lastStartDay]
          : [c.lastDay, c.lastStartDay];
        return {
          ...c,
          lastDay,
          lastStartDay,
          moved: answer !== undefined && answer.lastDay !== c.lastDay,
          range: answer ? undefined : ranges.get(c.id),
        };
      })
      .sort((a, b) => ((a.lastDay ?? '') < (b.lastDay ?? '') ? -1 : 1));
  });

  /** Quota that is still free, this week and the next ones. */
  protected readonly headroom = computed(() => {
    const board = this.board();
    if (!board) return [];
    const answer = this.state.answer();
    const loads = loadsWith(board, answer);
    const [today, monday] = [dayNumber(board.today), this.monday()];
    return Array.from({ length: WEEKS_OF_HEADROOM }, (_, w) => {
      const [first, end] = [Math.max(today, monday + 7 * w), monday + 7 * (w + 1)];
      let free = 0;
      for (let day = first; day < end; day++) {
        const iso = isoDate(day);
        for (const m of board.mailboxes) {
          const may = ceilingOn(board, m, iso, day - dayNumber(board.from), answer) ?? 0;
          const has = loads.reduce(
            (n, l) => n + (l.mailboxId === m.id && l.day === iso ? l.first + l.followUps : 0),
            0,
          );
          free += Math.max(0, may - has);
        }
      }
      return {
        words:
          w === 0
            ? texts.thisWeek
            : w === 1
              ? texts.nextWeek
              : texts.weekOf(this.time.dayWords(isoDate(monday + 7 * w))),
        free,
      };
    });
  });

  protected readonly compared = signal<
    { variant: PlanVariant; ends: { name: string; colour: number; lastDay: string | null; late: number }[] }[]
  >([]);

  protected setZoom(zoom: Zoom): void {
    this.zoom.set(zoom);
  }

  protected go(by: -1 | 0 | 1): void {
    const step = Math.max(1, Math.floor(this.zoom().days / 7 / (this.zoom().step === 7 ? 2 : 1)));
    // Before the days that the board knows there is nothing to see.
    this.weeks.update((w) => (by === 0 ? 0 : Math.max(-2, w + by * step)));
  }

  /** Shows a week day by day, the keyboard in the row that it was asked from. */
  protected lookAt(day: string, row: number): void {
    this.zoom.set(ZOOMS[0] as Zoom);
    this.weeks.set((dayNumber(day) - this.monday()) / 7);
    afterNextRender(() => this.sheet()?.focusRow(row), { injector: this.injector });
  }

  /** Opens a batch beside the board, or closes it; the keyboard goes there, and back to the cell it came from. */
  protected async openBatch(batch: { day: string; mailbox: number } | null): Promise<void> {
    const cell = batch ? document.activeElement : this.cameFrom;
    await this.router.navigate(batch ? ['/plan', batch.day, batch.mailbox] : ['/plan'], {
      queryParamsHandling: 'preserve',
    });
    if (batch) {
      this.cameFrom = cell;
      afterNextRender(() => this.panel()?.focus('h2'), { injector: this.injector });
    } else if (cell instanceof HTMLElement) cell.focus();
  }

  protected showBy(by: 'campaign' | null): void {
    void this.router.navigate([], { queryParams: { by }, queryParamsHandling: 'merge' });
  }

  protected giveShares(shares: readonly SharedCampaign[]): void {
    for (const { id, share } of shares) {
      const change = { kind: 'share', campaign: id, to: share } as const;
      // What it has already is no change.
      if (this.board()?.campaigns.find((c) => c.id === id)?.share === share) this.state.drop(change);
      else this.state.change(change);
    }
  }

  protected moveStart(campaign: number, day: string): void {
    this.state.change({ kind: 'start', campaign, to: day });
  }

  protected async moveMessage(message: number, day: string): Promise<void> {
    try {
      const moved = await firstValueFrom(this.service.move(message, day));
      const others = moved.others === 0 ? texts.nothingElseMoved : texts.otherMessagesMoved(moved.others);
      this.notices.say(texts.movedTo(this.time.dayWords(moved.day, 'long'), others));
    } catch (error) {
      this.notices.failure(error);
    }
  }

  /** What each kept variant would come to, side by side with the plan as it is. */
  protected async compare(): Promise<void> {
    const board = this.board();
    if (!board) return;
    const rows = [];
    for (const variant of this.state.variants() ?? []) {
      try {
        const answer = await this.state.answerTo(variant.changes);
        rows.push({
          variant,
          ends: this.campaigns().map((c) => {
            const own = answer.campaigns.find((a) => a.id === c.id);
            return { name: c.name, colour: c.colour, lastDay: own?.lastDay ?? null, late: own?.late ?? 0 };
          }),
        });
      } catch (error) {
        this.notices.failure(error);
      }
    }
    this.compared.set(rows);
  }

  protected async subscribe(subscribed: boolean): Promise<void> {
    try {
      await firstValueFrom(this.service.setSubscribed(subscribed));
    } catch (error) {
      this.notices.failure(error);
    }
  }

  protected address(path: string): string {
    return `${location.origin}${path}`;
  }
}

/** The plan as it is, in a sentence. */
function standing(campaigns: readonly PlanCampaignRow[], form: DateForm): Words[] {
  const running = campaigns.filter((c) => c.state === 'running' && c.lastDay !== null);
  if (running.length === 0) return [{ text: texts.nothingIsPlannedMessagesOf }];
  const last = running.reduce((a, b) => ((a.lastDay ?? '') > (b.lastDay ?? '') ? a : b));
  const words = dayWords(last.lastDay as string, 'long', form);
  return running.length === 1
    ? [{ text: texts.endsOn(last.name) }, { text: words, strong: true }, { text: '.' }]
    : [{ text: texts.campaignsAreRunningTheLast(running.length) }, { text: words, strong: true }, { text: '.' }];
}
