import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { WorkspaceTime } from '../time/workspace-time';
import { LiveUpdates } from '../live/live-updates';
import { MomentPipe } from '../time/workspace-time';
import { MailboxesService } from './mailboxes-service';
import { mailboxesTexts } from './texts';

const texts = mailboxesTexts.mailboxHistory;

/** What left from a mailbox day by day, and what happened to it. */
@Component({
  selector: 'bt-mailbox-history',
  imports: [MomentPipe],
  template: `
    @if (history(); as h) {
      @if (bars().length > 0) {
        <ol class="bars" [attr.aria-label]="texts.messagesByDay">
          @for (b of bars(); track b.day) {
            <li [attr.aria-label]="b.words" [title]="b.words"><span [style.height.%]="b.height"></span></li>
          }
        </ol>
        <p class="quiet ends">
          <span>{{ ends().first }}</span><span>{{ texts.atMostADay(ends().most) }}</span
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
      border-bottom: 1px solid var(--hairline);
      li {
        flex: 1;
        height: 100%;
        display: flex;
        align-items: end;
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
  protected readonly bars = computed(() => {
    const most = this.most();
    if (most === 0) return [];
    return (this.history()?.days ?? []).map(({ day, units }) => ({
      day,
      height: (100 * units) / most,
      words: `${this.time.dayWords(day)}: ${units}`,
    }));
  });
  protected readonly ends = computed(() => {
    const bars = this.bars();
    const wordsOf = (day?: string) => (day ? this.time.dayWords(day) : '');
    return { first: wordsOf(bars[0]?.day), last: wordsOf(bars.at(-1)?.day), most: this.most() };
  });
}
