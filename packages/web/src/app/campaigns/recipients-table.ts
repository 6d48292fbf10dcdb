import { ScrollingModule } from '@angular/cdk/scrolling';
import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, signal } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { ChosenRecipients, RecipientPage, RecipientSort, RecipientView } from '@baton/contract';
import { deliveryWords, RECIPIENT_STATES, recipientStateWords, type RecipientState } from '@baton/core';
import { combineLatest, debounceTime, distinctUntilChanged, firstValueFrom, startWith } from 'rxjs';
import { LiveUpdates } from '../live/live-updates';
import { Notices } from '../live/notices';
import { shortAddress } from '../look/short-address';
import { WorkspaceTime } from '../time/workspace-time';
import { Ticks } from '../look/ticks';
import { NewCampaigns } from './new-campaigns';
import { ActOnPeople, type WantedAct } from './act-on-people';
import { CampaignsService } from './campaigns-service';
import { typedText } from '../look/event-input';
import { outcomeWords } from '../replies/outcomes';
import { campaignsTexts } from './texts';

const texts = campaignsTexts.recipientsTable;
const actTexts = campaignsTexts.actOnPeople;

/** Rows asked for at once; the rest come when they are scrolled to. */
const PAGE = 200;

/** More rows than are seen at once. */
const SEEN = 40;
const TONES: Partial<Record<RecipientState, string>> = {
  replied: 'good',
  done: 'sea',
  in_progress: 'sea',
  bounced: 'bad',
  unsubscribed: 'bad',
  stopped: 'look',
  left_out: 'look',
};

type Message = RecipientView['messages'][number];

interface Order {
  sort: RecipientSort;
  descending: boolean;
}

const OF_THE_LIST: Order = { sort: '', descending: false };

const SORTED_BY = [
  { sort: 'who', words: texts.who },
  { sort: 'state', words: texts.state },
  { sort: 'from', words: texts.from },
] as const;

/** Everyone in a campaign: state, mailbox, what was sent and what comes next, live. */
@Component({
  selector: 'bt-recipients-table',
  imports: [ActOnPeople, MatButton, RouterLink, ScrollingModule],
  templateUrl: './recipients-table.html',
  styleUrl: './recipients-table.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RecipientsTable {
  protected readonly texts = texts;
  protected readonly typedText = typedText;
  private readonly service = inject(CampaignsService);
  private readonly notices = inject(Notices);
  private readonly newCampaigns = inject(NewCampaigns);
  private readonly time = inject(WorkspaceTime);
  readonly campaignId = input.required<number>();
  protected readonly outcomeWords = outcomeWords;
  /** How many messages the campaign has: so many columns. */
  readonly steps = input.required<number>();
  /** Whether more is to come, so that something can be done about it for recipients that are ticked. */
  readonly isOpen = input(false);
  /** The campaign's mailboxes. */
  readonly mailboxes = input<readonly { id: number; address: string }[]>([]);
  /** Shown as it would be if it were started now. */
  readonly isDraft = input(false);

  protected readonly state = signal<RecipientState | ''>('');
  protected readonly search = signal('');
  protected readonly order = signal<Order>(OF_THE_LIST);
  protected readonly states = RECIPIENT_STATES.map((state) => ({ state, words: recipientStateWords(state) }));
  private readonly found = inject(LiveUpdates).viewOf(
    combineLatest([
      toObservable(this.campaignId),
      toObservable(this.state),
      toObservable(this.search).pipe(debounceTime(150), startWith(''), distinctUntilChanged()),
      toObservable(this.order),
    ]),
    ['campaigns', 'people', 'messages', 'mailboxes', 'progress'],
    ([id, state, search, order]) => this.service.recipients(id, { state, search, ...order, offset: 0, limit: PAGE }),
  );
  private readonly loaded = linkedSignal<RecipientPage | undefined, RecipientView[]>({
    source: this.found,
    computation: (page, before) => {
      // What was scrolled to stays; only its first page is new.
      const rest = before && page && before.source?.total === page.total ? before.value.slice(PAGE) : [];
      return [...(page?.people ?? []), ...rest];
    },
  });
  protected readonly rows = computed(() =>
    this.loaded().map((r) => ({
      ...r,
      words: recipientStateWords(r.state),
      tone: TONES[r.state] ?? '',
      from: r.mailbox === null ? '' : shortAddress(r.mailbox),
      cells: this.heads().map((_, step) => this.cell(r.messages.find((m) => m.step === step))),
    })),
  );
  /** As many as the campaign has messages; of one that was taken out while it ran, some have had more. */
  protected readonly columns = computed(() =>
    this.loaded().reduce((most, r) => Math.max(most, r.messages.length), this.steps()),
  );
  protected readonly heads = computed(() =>
    Array.from({ length: this.columns() }, (_, i) => (i === 0 ? texts.firstMessage : texts.followUp(i))),
  );
  /** The columns with how they are ordered by. */
  protected readonly sortable = computed(() => {
    const steps = this.heads().map((words, i) => ({ sort: `step_${i}` as const, words }));
    const outcome = { sort: 'outcome' as const, words: texts.outcome };
    const all = [...SORTED_BY, ...steps, outcome];
    const { sort, descending } = this.order();
    return all.map((c) => ({
      ...c,
      sorted: c.sort !== sort ? null : descending ? ('descending' as const) : ('ascending' as const),
      arrow: c.sort !== sort ? '' : descending ? '↓' : '↑',
    }));
  });
  protected readonly count = computed(() => {
    const total = this.found()?.total;
    return total === undefined ? '' : texts.people(total);
  });
  private loading = false;

  private cell(m: Message | undefined) {
    if (!m) return { words: '', state: '', title: '', unsettled: null };
    const when = m.at === null ? texts.noTimeYet : this.time.both(m.at);
    const words = m.state === 'sent' || m.state === 'planned' ? when : `${deliveryWords(m.state)}, ${when}`;
    return {
      words: m.state === 'unconfirmed' ? deliveryWords(m.state) : words,
      state: m.state,
      title: m.reason === '' ? words : `${words}: ${m.reason}`,
      unsettled: m.state === 'unconfirmed' ? m.deliveryId : null,
    };
  }

  private readonly ticks = new Ticks();
  protected readonly ticked = this.ticks.ids;
  /** Whether everybody is meant whom the search finds, loaded or not. */
  protected readonly meansAll = signal(false);
  protected readonly total = computed(() => this.found()?.total ?? 0);
  protected readonly tickedCount = computed(() => (this.meansAll() ? this.total() : this.ticked().size));
  protected readonly hasAllTicked = computed(
    () => this.rows().length > 0 && this.rows().every((r) => this.meansAll() || this.ticked().has(r.enrolmentId)),
  );

  private loadedIds(): number[] {
    return this.loaded().map((r) => r.enrolmentId);
  }

  protected tick(id: number, event: MouseEvent): void {
    if (this.meansAll()) this.ticks.put(this.loadedIds(), true);
    this.meansAll.set(false);
    this.ticks.press(id, event, this.loadedIds());
  }

  protected tickAll(isOn: boolean): void {
    if (isOn) this.ticks.put(this.loadedIds(), true);
    else this.untick();
  }

  protected untick(): void {
    this.meansAll.set(false);
    this.ticks.clear();
  }

  /** Those that are ticked. */
  private chosen(): ChosenRecipients {
    return this.meansAll()
      ? { found: { state: this.state(), search: this.search(), people: this.total() } }
      : { enrolmentIds: [...this.ticked()] };
  }

  protected begin(): void {
    void this.newCampaigns.begin({ kind: 'recipients', campaignId: this.campaignId(), who: this.chosen() });
  }

  protected async act(wanted: WantedAct): Promise<void> {
    const whom = this.chosen();
    try {
      const { words, passedOver } = await firstValueFrom(this.service.act(this.campaignId(), { ...wanted, ...whom }));
      const others = passedOver.map((p) => actTexts.passedOver(p.people, p.reason));
      this.notices.say([words, ...others].filter((t) => t !== '').join(' '));
      this.untick();
    } catch (error) {
      this.notices.failure(error);
    }
  }

  protected readonly byId = (_: number, row: RecipientView): number => row.enrolmentId;

  protected readonly isChecked = (event: Event): boolean => (event.target as HTMLInputElement).checked;

  protected find(words: string): void {
    this.untick();
    this.search.set(words);
  }

  /** Ascending at the first press, descending at the second, and then as the list has them. */
  protected sort(by: RecipientSort): void {
    const { sort, descending } = this.order();
    if (sort !== by) this.order.set({ sort: by, descending: false });
    else this.order.set(descending ? OF_THE_LIST : { sort, descending: true });
  }

  protected chooseState(state: string): void {
    this.untick();
    this.state.set(state as RecipientState | '');
  }

  /** @param firstShown the row at the top of what is seen, of which there are fewer than {@link SEEN} */
  protected async loadMore(firstShown: number): Promise<void> {
    const lastShown = firstShown + SEEN;
    const have = this.loaded().length;
    if (this.loading || have >= (this.found()?.total ?? 0) || lastShown < have - PAGE / 4) return;
    this.loading = true;
    try {
      const query = { state: this.state(), search: this.search(), ...this.order(), offset: have, limit: PAGE };
      const next = await firstValueFrom(this.service.recipients(this.campaignId(), query));
      this.loaded.update((rows) => [...rows, ...next.people]);
    } catch (error) {
      this.notices.failure(error);
    } finally {
      this.loading = false;
    }
  }

  protected async settle(deliveryId: number, left: boolean): Promise<void> {
    try {
      await firstValueFrom(this.service.settle(deliveryId, left));
      this.notices.say(left ? texts.recordedAsSent : texts.plannedAgain);
    } catch (error) {
      this.notices.failure(error);
    }
  }
}
