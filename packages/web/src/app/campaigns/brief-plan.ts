import { NgTemplateOutlet } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { Forecast } from '@baton/contract';
import { WorkspaceTime } from '../time/workspace-time';
import { campaignsTexts } from './texts';
import { CountPipe } from '../look/count-pipe';

const texts = campaignsTexts.briefPlan;

/** Mailboxes shown before the others are asked for. */
const MAILBOXES_SHOWN = 8;

interface Load {
  first: number;
  followUps: number;
}

interface Row extends Load {
  name: string;
  /** Widths of its bar, in per cent of the largest row's. */
  firstWidth: number;
  followUpsWidth: number;
}

/** What a campaign sends if nobody replies: by day, and by mailbox; one mailbox or sixty. */
@Component({
  selector: 'bt-brief-plan',
  imports: [CountPipe, NgTemplateOutlet],
  templateUrl: './brief-plan.html',
  styleUrl: './brief-plan.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BriefPlan {
  private readonly time = inject(WorkspaceTime);
  protected readonly texts = texts;
  readonly loads = input.required<Forecast['loads']>();
  readonly mailboxes = input.required<readonly { id: number; address: string }[]>();

  protected readonly byDay = computed(() =>
    rowsOf(summed(this.loads(), (l) => l.day).map(([day, load]) => ({ name: this.time.dayWords(day), ...load }))),
  );
  private readonly byMailbox = computed(() => {
    const sums = new Map(summed(this.loads(), (l) => l.mailboxId));
    const rows = this.mailboxes().map((m) => ({ name: m.address, ...(sums.get(m.id) ?? { first: 0, followUps: 0 }) }));
    return rowsOf(rows.sort((a, b) => b.first + b.followUps - (a.first + a.followUps)));
  });
  protected readonly busiest = computed(() => this.byMailbox().slice(0, MAILBOXES_SHOWN));
  protected readonly others = computed(() => this.byMailbox().slice(MAILBOXES_SHOWN));
}

function summed<K>(loads: Forecast['loads'], keyOf: (load: Forecast['loads'][number]) => K): [K, Load][] {
  const sums = new Map<K, Load>();
  for (const load of loads) {
    const sum = sums.get(keyOf(load)) ?? { first: 0, followUps: 0 };
    sums.set(keyOf(load), { first: sum.first + load.first, followUps: sum.followUps + load.followUps });
  }
  return [...sums];
}

function rowsOf(rows: readonly (Load & { name: string })[]): Row[] {
  const most = Math.max(1, ...rows.map((r) => r.first + r.followUps));
  return rows.map((r) => ({ ...r, firstWidth: (100 * r.first) / most, followUpsWidth: (100 * r.followUps) / most }));
}
