import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { dayNumber, dayWords, isoDate } from '@baton/core';
import { catchError, of, switchMap } from 'rxjs';
import { MomentPipe } from '../time/workspace-time';
import { MailboxesService } from './mailboxes-service';

/** What left from a mailbox day by day, and what happened to it. */
@Component({
  selector: 'bt-mailbox-history',
  imports: [MomentPipe],
  template: `
    @if (history(); as h) {
      @if (bars().length > 0) {
        <ol class="bars" aria-label="Messages by day">
          @for (b of bars(); track b.day) {
            <li [attr.aria-label]="b.words" [title]="b.words"><span [style.height.%]="b.height"></span></li>
          }
        </ol>
        <p class="quiet ends">
          <span>{{ ends().first }}</span><span>at most {{ ends().most }} a day</span><span>{{ ends().last }}</span>
        </p>
      } @else {
        <p class="quiet">Nothing has left from it yet.</p>
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
    .bars {
      display: flex;
      align-items: end;
      gap: 2px;
      height: 56px;
      border-bottom: 1px solid var(--hairline);
      li {
        flex: 1;
        max-width: 22px;
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
      padding: 4px 0 12px;
    }
    .events {
      display: grid;
      gap: 4px;
      max-height: 220px;
      overflow-y: auto;
    }
    time {
      display: inline-block;
      min-width: 118px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MailboxHistoryView {
  private readonly service = inject(MailboxesService);
  readonly mailboxId = input.required<number>();
  protected readonly history = toSignal(
    toObservable(this.mailboxId).pipe(switchMap((id) => this.service.history(id).pipe(catchError(() => of(null))))),
  );
  /** One bar a day from the first on which something left; those between them are days on which nothing did. */
  protected readonly bars = computed(() => {
    const days = this.history()?.days ?? [];
    const [first, last] = [days[0], days.at(-1)];
    if (!first || !last) return [];
    const units = new Map(days.map((d) => [d.day, d.units]));
    const most = Math.max(...units.values());
    const from = dayNumber(first.day);
    return Array.from({ length: dayNumber(last.day) - from + 1 }, (_, i) => {
      const day = isoDate(from + i);
      const n = units.get(day) ?? 0;
      return { day, height: (100 * n) / most, words: `${dayWords(day)}: ${n}`, n };
    });
  });
  protected readonly ends = computed(() => {
    const bars = this.bars();
    const wordsOf = (day?: string) => (day ? dayWords(day) : '');
    return {
      first: wordsOf(bars[0]?.day),
      last: wordsOf(bars.at(-1)?.day),
      most: Math.max(0, ...bars.map((b) => b.n)),
    };
  });
}
