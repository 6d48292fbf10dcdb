import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  Injector,
  input,
  signal,
} from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import type { PlanBoard } from '@baton/contract';
import { changeKey, type PlanChange } from '@baton/core';
import { firstValueFrom } from 'rxjs';
import { clockWords, minuteOf } from '../campaigns/brief-words';
import { AskName } from '../people/ask-name';
import { PlanState } from './plan-state';
import { changeWords } from './plan-words';

type Kind = PlanChange['kind'];

/** What can be tried, in the words of the menu. */
const KINDS: readonly { kind: Kind; words: string; of: 'mailbox' | 'campaign' | 'all' }[] = [
  { kind: 'quota', words: 'A mailbox’s quota a day', of: 'mailbox' },
  { kind: 'window', words: 'A mailbox’s hours', of: 'mailbox' },
  { kind: 'pace', words: 'A mailbox’s pace', of: 'mailbox' },
  { kind: 'start', words: 'A campaign’s start', of: 'campaign' },
  { kind: 'spacing', words: 'The wait before a follow-up', of: 'campaign' },
  { kind: 'limit', words: 'A campaign’s limit a day', of: 'campaign' },
  { kind: 'share', words: 'A campaign’s share of the starts', of: 'campaign' },
  { kind: 'use', words: 'Which mailboxes a campaign uses', of: 'campaign' },
  { kind: 'replies', words: 'How many answer', of: 'all' },
];

/** Changes that are one number, with the words around it. */
const NUMBERS = {
  quota: { lead: 'sends', trail: 'a day', label: 'Messages a day', min: 0, max: 100_000, step: 1 },
  pace: {
    lead: 'at least',
    trail: 'seconds apart',
    label: 'Seconds between two messages',
    min: 0,
    max: 86_400,
    step: 10,
  },
  spacing: {
    lead: 'leaves',
    trail: 'working days after the one before',
    label: 'Working days',
    min: 1,
    max: 250,
    step: 1,
  },
  share: {
    lead: 'starts',
    trail: 'people for each one of another campaign',
    label: 'People for each one of another campaign',
    min: 1,
    max: 9,
    step: 1,
  },
} as const;

const isNumber = (change: PlanChange): change is Extract<PlanChange, { kind: keyof typeof NUMBERS }> =>
  change.kind in NUMBERS;

/** Changes that are tried out, and what becomes of them. */
@Component({
  selector: 'bt-what-if-bar',
  imports: [MatButton, MatMenu, MatMenuItem, MatMenuTrigger],
  templateUrl: './what-if-bar.html',
  styleUrl: './what-if-bar.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WhatIfBar {
  protected readonly state = inject(PlanState);
  private readonly dialog = inject(MatDialog);
  private readonly injector = inject(Injector);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  readonly board = input.required<PlanBoard>();
  /** The change whose values stand under the bar to be set. */
  private readonly openKey = signal<string | null>(null);
  protected readonly clockWords = clockWords;

  protected readonly campaigns = computed(() => this.board().campaigns.filter((c) => c.state !== 'finished'));
  protected readonly kinds = computed(() =>
    KINDS.filter((k) => k.of !== 'campaign' || this.campaigns().length > 0).filter(
      (k) => k.of !== 'mailbox' || this.board().mailboxes.length > 0,
    ),
  );
  protected readonly chips = computed(() =>
    this.state.changes().map((change) => ({
      change,
      ...changeWords(change, this.board()),
      open: changeKey(change) === this.openKey(),
    })),
  );
  protected readonly open = computed(() => this.state.changes().find((c) => changeKey(c) === this.openKey()) ?? null);
  protected readonly canApply = computed(
    () => this.state.fault() === '' && this.state.changes().some((c) => c.kind !== 'replies'),
  );

  /** A new change begins with what is so now. */
  protected add(kind: Kind): void {
    const mailbox = this.board().mailboxes[0];
    const campaign =
      this.campaigns().find((c) =>
        kind === 'start' ? !c.hasBegun : kind === 'spacing' ? c.delays.length > 1 : true,
      ) ?? this.campaigns()[0];
    const change = this.begin(kind, mailbox?.id ?? 0, campaign?.id ?? 0);
    if (!change) return;
    this.set(change);
    // The menu gives the focus back to its button; what is to be typed next is the value.
    afterNextRender(() => setTimeout(() => this.focusValue()), { injector: this.injector });
  }

  private focusValue(): void {
    const values = this.host.querySelectorAll<HTMLElement>('.values input, .values select');
    [...values].at(-1)?.focus();
  }

  private begin(kind: Kind, mailboxId: number, campaignId: number): PlanChange | null {
    const mailbox = this.board().mailboxes.find((m) => m.id === mailboxId);
    const campaign = this.board().campaigns.find((c) => c.id === campaignId);
    if (kind === 'replies') return { kind, to: 0.05 };
    if (kind === 'quota') return mailbox ? { kind, mailbox: mailboxId, to: mailbox.dailyQuota } : null;
    if (kind === 'pace') return mailbox ? { kind, mailbox: mailboxId, to: mailbox.paceSeconds } : null;
    if (kind === 'window') return mailbox ? { kind, mailbox: mailboxId, to: mailbox.window ?? [540, 1020] } : null;
    if (!campaign) return null;
    if (kind === 'start') {
      const { startDate } = campaign;
      return { kind, campaign: campaignId, to: startDate < this.board().today ? this.board().today : startDate };
    }
    if (kind === 'spacing') return { kind, campaign: campaignId, step: 1, to: campaign.delays[1] ?? 3 };
    if (kind === 'limit') return { kind, campaign: campaignId, to: campaign.dailyLimit };
    if (kind === 'share') return { kind, campaign: campaignId, to: campaign.share };
    const unused = this.board().mailboxes.find((m) => !campaign.mailboxIds.includes(m.id)) ?? mailbox;
    return unused
      ? { kind, campaign: campaignId, mailbox: unused.id, to: !campaign.mailboxIds.includes(unused.id) }
      : null;
  }

  protected set(change: PlanChange): void {
    this.state.change(change);
    this.openKey.set(changeKey(change));
  }

  /** The same kind of change of another mailbox or campaign, beginning with what is so there. */
  protected retarget(from: PlanChange, mailbox: number, campaign: number, step = 1): void {
    let change = this.begin(from.kind, mailbox, campaign);
    if (change?.kind === 'use') change = { ...change, mailbox, to: !this.uses(campaign, mailbox) };
    if (change?.kind === 'spacing') change = { ...change, step, to: this.delays(campaign)[step] ?? 3 };
    if (!change) return;
    this.state.drop(from);
    this.set(change);
  }

  protected show(change: PlanChange): void {
    this.openKey.set(changeKey(change) === this.openKey() ? null : changeKey(change));
  }

  protected delays(campaign: number): number[] {
    return this.board().campaigns.find((c) => c.id === campaign)?.delays ?? [];
  }

  private uses(campaign: number, mailbox: number): boolean {
    return (
      this.board()
        .campaigns.find((c) => c.id === campaign)
        ?.mailboxIds.includes(mailbox) ?? false
    );
  }

  protected setWindow(change: Extract<PlanChange, { kind: 'window' }>, which: 0 | 1, text: string): void {
    const minute = minuteOf(text);
    if (minute !== null) this.set({ ...change, to: which === 0 ? [minute, change.to[1]] : [change.to[0], minute] });
  }

  protected numberOf(change: PlanChange) {
    return isNumber(change) ? { ...NUMBERS[change.kind], value: change.to } : null;
  }

  protected setNumber(change: PlanChange, to: number): void {
    this.set({ ...change, to } as PlanChange);
  }

  protected setLimit(change: Extract<PlanChange, { kind: 'limit' }>, text: string): void {
    this.set({ ...change, to: text.trim() === '' ? null : Number(text) });
  }

  protected async keep(): Promise<void> {
    const data = { title: 'Name of this variant', value: '', label: 'Keep' };
    const name = await firstValueFrom(
      this.dialog.open<AskName, unknown, string>(AskName, { data, width: '380px' }).afterClosed(),
    );
    if (name !== undefined) await this.state.keepVariant(name);
  }
}
