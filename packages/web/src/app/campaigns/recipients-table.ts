import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import type { RecipientView } from '@baton/contract';
import { RECIPIENT_STATE_WORDS, RECIPIENT_STATES, type RecipientState } from '@baton/core';
import { LiveUpdates } from '../live/live-updates';
import { WorkspaceTime } from '../time/workspace-time';
import { CampaignsService } from './campaigns-service';

/** Rows drawn at once; a filter or the search finds the rest. */
const MOST_ROWS = 300;
const TONES: Partial<Record<RecipientState, string>> = {
  replied: 'good',
  done: 'sea',
  in_progress: 'sea',
  bounced: 'bad',
  unsubscribed: 'bad',
  stopped: 'look',
  left_out: 'look',
};

/** Everyone in a campaign: state, mailbox, what was sent and what comes next, live. */
@Component({
  selector: 'bt-recipients-table',
  templateUrl: './recipients-table.html',
  styleUrl: './recipients-table.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RecipientsTable {
  private readonly service = inject(CampaignsService);
  private readonly time = inject(WorkspaceTime);
  readonly campaignId = input.required<number>();
  private readonly recipients = inject(LiveUpdates).viewOf(
    toObservable(this.campaignId),
    ['campaigns', 'today'],
    (id) => this.service.recipients(id),
  );
  protected readonly state = signal<RecipientState | ''>('');
  protected readonly search = signal('');
  protected readonly states = RECIPIENT_STATES.map((state) => ({ state, words: RECIPIENT_STATE_WORDS[state] }));

  private readonly found = computed(() => {
    const text = this.search().trim().toLowerCase();
    return (this.recipients() ?? []).filter(
      (r) =>
        (this.state() === '' || r.state === this.state()) &&
        (text === '' || `${r.address} ${r.name}`.toLowerCase().includes(text)),
    );
  });
  protected readonly rows = computed(() =>
    this.found()
      .slice(0, MOST_ROWS)
      .map((r) => ({
        ...r,
        words: RECIPIENT_STATE_WORDS[r.state],
        tone: TONES[r.state] ?? '',
        cells: r.messages.map((m) => this.cell(m)),
        from: (r.mailbox ?? '').split('@')[0],
      })),
  );
  protected readonly steps = computed(() => Math.max(0, ...(this.recipients() ?? []).map((r) => r.messages.length)));
  protected readonly heads = computed(() =>
    Array.from({ length: this.steps() }, (_, i) => (i === 0 ? 'First message' : `Follow-up ${i}`)),
  );
  protected readonly count = computed(
    () =>
      `${this.found().length} of ${this.recipients()?.length ?? 0}${this.found().length > MOST_ROWS ? `, the first ${MOST_ROWS} shown` : ''}`,
  );

  private cell(m: RecipientView['messages'][number]): { words: string; state: string; title: string } {
    const when = m.at === null ? 'waits for a time' : this.time.both(m.at);
    const words =
      m.state === 'sent' ? when : m.state === 'planned' ? when : `${m.state}${m.at === null ? '' : `, ${when}`}`;
    return { words, state: m.state, title: m.reason };
  }

  protected chooseState(state: string): void {
    this.state.set(state as RecipientState | '');
  }
}
