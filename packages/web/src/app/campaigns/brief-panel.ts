import { ChangeDetectionStrategy, Component, computed, inject, input, output, linkedSignal } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { RouterLink } from '@angular/router';
import {
  MOST_DAILY_LIMIT,
  MOST_DAYS_AGO,
  MOST_FIRST,
  MOST_OF_COMPANY,
  type BriefChoices,
  type BriefView,
} from '@baton/contract';
import { EMPTY } from 'rxjs';
import { LiveUpdates } from '../live/live-updates';
import { MailboxesService } from '../mailboxes/mailboxes-service';
import { ListsService } from '../people/list/lists-service';
import { AudienceParts } from './audience-parts';
import { BriefSteps } from './brief-steps';
import { clockWords, minuteOf, MINUTES_A_DAY, WATCHES, type WatchChoices, type Watches } from '@baton/core';
import { chosenOption, typedText, wholeNumber } from '../look/event-input';
import { weekdays } from '../look/language';
import { campaignsTexts } from './texts';
import { CountPipe } from '../look/count-pipe';
import { DateField } from '../time/date-field';
import { WorkspaceTime } from '../time/workspace-time';

const texts = campaignsTexts.briefPanel;

export type PanelName = 'audience' | 'messages' | 'watching' | 'mailboxes' | 'time';

const TITLES: Record<PanelName, string> = {
  audience: texts.audience,
  messages: texts.messages,
  watching: texts.watching,
  mailboxes: texts.mailboxes,
  time: texts.time,
};

/** What the pressed choice of a brief needs. */
@Component({
  selector: 'bt-brief-panel',
  imports: [AudienceParts, BriefSteps, DateField, CountPipe, MatCheckbox, MatButton, RouterLink],
  templateUrl: './brief-panel.html',
  styleUrls: ['./brief-lines.scss', './brief-panel.scss'],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BriefPanel {
  protected readonly texts = texts;
  protected readonly typedText = typedText;
  protected readonly mostDaysAgo = MOST_DAYS_AGO;
  protected readonly mostOfCompany = MOST_OF_COMPANY;
  protected readonly mostFirst = MOST_FIRST;
  protected readonly groupWaits = [1, 2, 3, 4, 5, 10];
  private readonly live = inject(LiveUpdates);
  private readonly people = inject(ListsService);
  private readonly mailboxesService = inject(MailboxesService);
  readonly brief = input.required<BriefView>();
  readonly panel = input.required<PanelName>();
  readonly changes = output<Partial<BriefChoices>>();
  readonly closed = output();
  protected readonly isDraft = computed(() => this.brief().state === 'draft');

  protected readonly lists = this.live.view(['people'], () => this.people.lists());
  protected readonly allSegments = this.live.view(['people'], () => this.people.segments());
  protected readonly segments = computed(
    () => this.allSegments()?.filter((s) => s.listId === this.brief().listId) ?? [],
  );
  /** Columns that may name a mailbox. */
  private readonly list = this.live.viewOf(
    toObservable(computed(() => (this.panel() === 'mailboxes' ? (this.brief().listId ?? 0) : 0))),
    ['people'],
    (id) => (id === 0 ? EMPTY : this.people.list(id)),
  );
  protected readonly columns = computed(() => this.list()?.columns.filter((c) => c.role !== 'address') ?? []);
  /** What the audience is for at first. */
  protected readonly main = computed(() => {
    const { listId, segmentId } = this.brief();
    return listId === null ? [] : [{ listId, segmentId }];
  });
  protected readonly mailboxes = this.live.view(['mailboxes'], () => this.mailboxesService.all());
  /** What was refused; it goes with the next choice, and with the panel. */
  protected readonly problem = linkedSignal<PanelName, string>({ source: this.panel, computation: () => '' });
  protected readonly title = computed(() => TITLES[this.panel()]);
  protected readonly weekdays = weekdays('short').map((name, i) => ({ day: i + 1, name }));
  protected readonly watches = WATCHES;
  protected readonly watched = [
    { what: 'watchesClicks', label: texts.clicks },
    { what: 'watchesOpens', label: texts.opens },
  ] as const;
  protected readonly shares = [1, 2, 3, 4, 5, 6, 7, 8, 9];
  private readonly time = inject(WorkspaceTime);
  protected readonly clockWords = clockWords;

  protected chooseList(id: string): void {
    this.change({ listId: id === '' ? null : Number(id), segmentId: null });
  }

  protected setWindowZone(event: Event): void {
    this.change({ windowZone: chosenOption<BriefChoices['windowZone']>(event) });
  }

  protected chooseSegment(id: string): void {
    this.change({ segmentId: id === '' ? null : Number(id) });
  }

  protected readonly doubtful = computed(() => {
    const out = this.brief().leaveOutDoubtful;
    return out === null ? 'ask' : out ? 'out' : 'in';
  });

  protected chooseDoubtful(choice: string): void {
    this.change({ leaveOutDoubtful: choice === 'ask' ? null : choice === 'out' });
  }

  protected change(choices: Partial<BriefChoices>): void {
    this.problem.set('');
    this.changes.emit(choices);
  }

  /** What cannot be is said, and the field shows again what holds. */
  private refuse(event: Event, was: string, words: string): void {
    (event.target as HTMLInputElement).value = was;
    this.problem.set(words);
  }

  protected setWatches(what: keyof WatchChoices, event: Event): void {
    this.change({ [what]: chosenOption<Watches>(event) });
  }

  protected toggleMailbox(id: number, on: boolean): void {
    const ids = this.brief().mailboxIds;
    this.change({ mailboxIds: on ? [...ids, id] : ids.filter((m) => m !== id) });
  }

  protected setStart(startDate: string): void {
    if (startDate !== '') this.change({ startDate });
  }

  /** A last day may be left out. */
  protected setEnd(endDate: string): void {
    this.change(endDate === '' ? { endDate: null, endMinute: null } : { endDate });
  }

  protected readonly timeOf = (minute: number | null): string => (minute === null ? '' : clockWords(minute));

  /** `2026-11-24 09:00`, on whatever clock, in words. */
  protected momentOf(local: string): string {
    const [day = '', time = ''] = local.split(' ');
    return `${this.time.dayWords(day)} ${time}`;
  }

  protected setMinute(which: 'startMinute' | 'endMinute', event: Event): void {
    const typed = typedText(event).trim();
    const minute = typed === '' ? null : minuteOf(typed);
    const isNoTime = typed !== '' && (minute === null || (which === 'startMinute' && minute === MINUTES_A_DAY));
    if (isNoTime) this.refuse(event, this.timeOf(this.brief()[which]), texts.noTime(typed));
    // Midnight at the end is no time of that day at all.
    else this.change({ [which]: which === 'endMinute' && minute === 0 ? null : minute });
  }

  /** A number that may be left out. */
  protected setNumber(
    which: 'dailyLimit' | 'notWithinDays' | 'mostPerCompany' | 'firstGroup',
    event: Event,
    most: number,
    problem = texts.numberRange(most),
  ): void {
    const { value, validity } = event.target as HTMLInputElement;
    // What is no number at all is blank to a script, but not to the person who typed it.
    const isBlank = value.trim() === '' && !validity.badInput;
    const n = wholeNumber(event, 1, most);
    if (!isBlank && n === null) this.refuse(event, String(this.brief()[which] ?? ''), problem);
    else this.change({ [which]: n });
  }

  protected chooseSender(key: string): void {
    this.change({ senderKey: key === '' ? null : key });
  }

  protected chooseGroup(choice: string): void {
    this.change(choice === 'hand' ? { groupByHand: true } : { groupByHand: false, groupWait: Number(choice) });
  }

  protected setDailyLimit(event: Event): void {
    this.setNumber('dailyLimit', event, MOST_DAILY_LIMIT, texts.limitRange(MOST_DAILY_LIMIT));
  }

  /** How many are left out for a reason, beside those who are named. */
  protected others({ people, who }: { people: number; who: readonly unknown[] }): string {
    return people > who.length ? texts.andMore(people - who.length) : '';
  }

  protected toggleWeekday(day: number, on: boolean): void {
    const { window } = this.brief();
    const weekdays = on ? [...window.weekdays, day].sort() : window.weekdays.filter((d) => d !== day);
    if (weekdays.length > 0) this.change({ window: { ...window, weekdays } });
  }

  protected setHour(which: 'from' | 'to', event: Event): void {
    const { window } = this.brief();
    const minute = minuteOf(typedText(event));
    const changed = { ...window, [which]: minute ?? window[which] };
    const was = clockWords(window[which]);
    if (minute === null) this.refuse(event, was, texts.noTime(typedText(event)));
    else if (changed.from >= changed.to) this.refuse(event, was, texts.endsBeforeItBegins);
    else this.change({ window: changed });
  }
}
