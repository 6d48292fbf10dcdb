import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { WorkspaceTime } from '../time/workspace-time';
import { LiveUpdates } from '../live/live-updates';
import { MomentPipe } from '../time/workspace-time';
import { MailboxesService } from './mailboxes-service';
import { mailboxesTexts } from './texts';

const texts = mailboxesTexts.mailboxHistory;

/** Of a bar: its height above the line, and the least and the most below it. */
const HEIGHT = 56;
const LEAST_BELOW = 3;
const MOST_BELOW = 10;
/** So many times as high as the most that left on a day are the bars at most, to make room for a quota. */
const MOST_ROOM = 3;

/** What left from a mailbox day by day, and what happened to it. */
@Component({
  selector: 'bt-mailbox-history',
  imports: [MomentPipe],
  template: `
    @if (history(); as h) {
      @if (bars().length > 0) {
        <ol class="bars" [attr.aria-label]="texts.messagesByDay">
          @for (b of bars(); track b.day) {
            <li [attr.aria-label]="b.words" [title]="b.words">
              <span [style.height.%]="b.height"></span>
              @if (b.quota !== null) {
                <b [style.bottom.%]="b.quota"></b>
              }
              <i [style.height.px]="b.troubled"></i>
            </li>
          }
        </ol>
        <p class="quiet ends">
          <span>{{ ends().first }}</span><span
            >{{ texts.atMostADay(ends().most) }}{{ hasQuota() ? texts.quotaIsTheMark : ''
            }}{{ hasTrouble() ? texts.belowTheLine : '' }}</span
          ><span>{{ ends().last }}</span>
        </p>
      } @else {
        <p class="quiet">{{ texts.itHasSentNothingYet }}</p>
      }
      <ul class="events">
        @for (e of h.events; track $index) {
          <li>
            <time class="quiet">{{ e.at | moment }}</time> <span>{{ e.words }}</span>
          </li>
        }
      </ul>
    }
  `,
  styles: `
    ol,
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
    }
    .bars {
      display: flex;
      align-items: end;
      gap: 2px;
      height: 56px;
      margin-bottom: 10px;
      border-bottom: 1px solid var(--hairline);
      li {
        position: relative;
        flex: 1;
        height: 100%;
        display: flex;
        align-items: end;
      }
      /* What it might send on that day; from day to day this is its ramp. */
      b {
        position: absolute;
        left: -1px;
        right: -1px;
        height: 2px;
        margin-bottom: -1px;
        background: var(--ink);
      }
      /* What was troubled hangs below the line, on the same scale. */
      i {
        position: absolute;
        top: 100%;
        left: 0;
        right: 0;
        background: var(--brick);
      }
      span {
        width: 100%;
        background: var(--sea);
      }
    }
    .ends {
      display: flex;
      justify-content: space-between;
      font-size: 12.5px;
      margin: 0;
      padding: 4px 0 12px;
    }
    .events {
      display: grid;
      gap: 4px;
      max-height: 220px;
      overflow-y: auto;
    }
    .events li {
      display: grid;
      grid-template-columns: 128px minmax(0, 1fr);
      gap: 8px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MailboxHistoryView {
  private readonly time = inject(WorkspaceTime);
  protected readonly texts = texts;
  private readonly service = inject(MailboxesService);
  readonly mailboxId = input.required<number>();
  protected readonly history = inject(LiveUpdates).viewOf(toObservable(this.mailboxId), ['mailboxes', 'today'], (id) =>
    this.service.history(id),
  );
  private readonly most = computed(() => Math.max(0, ...(this.history()?.days ?? []).map((d) => d.units)));
  /** Where the bars end: what it might send stands on their scale, as far as that shows what left. */
  private readonly top = computed(() => {
    const quotas = (this.history()?.days ?? []).map((d) => d.quota ?? 0);
    return Math.max(this.most(), Math.min(Math.max(0, ...quotas), MOST_ROOM * this.most()));
  });
  protected readonly bars = computed(() => {
    const top = this.top();
    if (top === 0) return [];
    return (this.history()?.days ?? []).map(({ day, units, quota, health }) => {
      const troubled = health === null ? 0 : health.bounces + health.refusals + health.complaints;
      return {
        day,
        height: (100 * units) / top,
        // Beyond the scale it is only said.
        quota: quota === null || quota > top ? null : (100 * quota) / top,
        // Where there is any, it is seen.
        troubled: troubled === 0 ? 0 : Math.min(MOST_BELOW, Math.max(LEAST_BELOW, (HEIGHT * troubled) / top)),
        words: texts.ofDay(this.time.dayWords(day), units, quota, health),
      };
    });
  });
  protected readonly hasQuota = computed(() => this.bars().some((b) => b.quota !== null));
  protected readonly hasTrouble = computed(() => this.bars().some((b) => b.troubled > 0));
  protected readonly ends = computed(() => {
    const bars = this.bars();
    const wordsOf = (day?: string) => (day ? this.time.dayWords(day) : '');
    return { first: wordsOf(bars[0]?.day), last: wordsOf(bars.at(-1)?.day), most: this.most() };
  });
}
