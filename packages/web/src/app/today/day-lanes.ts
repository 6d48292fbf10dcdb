import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { MarkState, TodayLane, TodayView } from '@baton/contract';
import { shortAddress } from '../look/short-address';
import { WorkspaceTime } from '../time/workspace-time';
import { todayTexts } from './texts';
import { CountPipe } from '../look/count-pipe';

const texts = todayTexts.dayLanes;

const HOUR_MS = 3_600_000;
/** Half of the badge of now and half of an hour's words, as a share of the day shown. */
const BADGE_SHARE = 0.045;
/** The note ends a little before the window does. */
const NOTE_MARGIN_MS = HOUR_MS / 8;

interface Mark {
  x: string;
  state: MarkState;
  followUp: boolean;
}

/** One line per mailbox across the day's hours, each message a mark at its time. */
@Component({
  selector: 'bt-day-lanes',
  imports: [CountPipe],
  templateUrl: './day-lanes.html',
  styleUrl: './day-lanes.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DayLanes {
  protected readonly texts = texts;
  private readonly time = inject(WorkspaceTime);
  readonly view = input.required<TodayView>();
  readonly nowMs = input.required<number>();

  /** Whole hours around everything that is shown. */
  private readonly span = computed(() => {
    const { lanes, dayStartMs, dayEndMs } = this.view();
    const starts = lanes.flatMap((l) => [...l.windows.map((w) => w.startMs), ...l.marks.map((m) => m.at)]);
    const ends = lanes.flatMap((l) => [...l.windows.map((w) => w.endMs), ...l.marks.map((m) => m.at)]);
    const first = Math.min(dayStartMs + 9 * HOUR_MS, ...starts);
    const last = Math.max(dayStartMs + 17 * HOUR_MS, ...ends);
    return {
      from: Math.max(dayStartMs, Math.floor(first / HOUR_MS) * HOUR_MS - HOUR_MS),
      to: Math.min(dayEndMs, Math.ceil(last / HOUR_MS) * HOUR_MS + HOUR_MS),
    };
  });

  protected readonly hours = computed(() => {
    const { from, to } = this.span();
    const n = Math.round((to - from) / HOUR_MS);
    const nowMs = this.nowMs();
    return Array.from({ length: n + 1 }, (_, i) => from + i * HOUR_MS).map((ms) => ({
      x: this.at(ms),
      // The hour beside now would stand under its badge.
      words: Math.abs(ms - nowMs) < (to - from) * BADGE_SHARE ? '' : this.time.time(ms),
    }));
  });

  protected readonly now = computed(() => {
    const { from, to } = this.span();
    const nowMs = this.nowMs();
    return nowMs < from || nowMs > to ? null : { x: this.at(nowMs), words: this.time.time(nowMs) };
  });

  protected readonly lanes = computed(() =>
    this.view().lanes.map((lane) => ({
      ...lane,
      short: shortAddress(lane.address),
      bands: lane.windows.map((w) => ({ x: this.at(w.startMs), width: this.wide(w.endMs - w.startMs) })),
      drawn: lane.marks.map((m): Mark => ({ x: this.at(m.at), state: m.state, followUp: m.followUp })),
      noteX: this.at(Math.max(0, ...lane.windows.map((w) => w.endMs)) - NOTE_MARGIN_MS),
      words: laneWords(lane),
    })),
  );

  private at(ms: number): string {
    const { from, to } = this.span();
    return `${((100 * (ms - from)) / (to - from)).toFixed(3)}%`;
  }

  private wide(ms: number): string {
    const { from, to } = this.span();
    return `${((100 * ms) / (to - from)).toFixed(3)}%`;
  }
}

/** The lane for those who do not see it. */
function laneWords(lane: TodayLane): string {
  const count = (state: MarkState) => lane.marks.filter((m) => m.state === state).length;
  const parts = [
    texts.countSent(count('sent') + count('answered')),
    texts.countToCome(count('to_come')),
    texts.countFailed(count('failed')),
    texts.countAnswered(count('answered')),
  ];
  return `${lane.address}: ${parts.join(', ')}${lane.note === '' ? '' : `; ${lane.note}`}`;
}
