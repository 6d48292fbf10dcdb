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
import {
  canApply,
  changeKey,
  clockWords,
  minuteOf,
  newChange,
  PLAN_CHANGE_KINDS,
  whatIfKind,
  type ChangeEntry,
  type ChangeTarget,
  type PlanChange,
  type PlanChangeKind,
} from '@baton/core';
import { firstValueFrom } from 'rxjs';
import { WorkspaceTime } from '../time/workspace-time';
import { AskName } from '../look/ask-name';
import { PlanState } from './plan-state';
import { chipWords, subjectOf } from './plan-words';
import { planTexts } from './texts';
import { DateField } from '../time/date-field';

const texts = planTexts.whatIfBar;

/** Changes that are tried out, and what becomes of them. */
@Component({
  selector: 'bt-what-if-bar',
  imports: [DateField, MatButton, MatMenu, MatMenuItem, MatMenuTrigger],
  templateUrl: './what-if-bar.html',
  styleUrl: './what-if-bar.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WhatIfBar {
  private readonly time = inject(WorkspaceTime);
  protected readonly texts = texts;
  protected readonly state = inject(PlanState);
  private readonly dialog = inject(MatDialog);
  private readonly injector = inject(Injector);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  readonly board = input.required<PlanBoard>();
  /** The change whose values are being set under the bar. */
  private readonly openKey = signal<string | null>(null);

  protected readonly campaigns = computed(() => this.board().campaigns.filter((c) => c.state !== 'finished'));
  /** What can be tried with what there is. */
  protected readonly kinds = computed(() =>
    PLAN_CHANGE_KINDS.map((kind) => ({ kind, ...whatIfKind(kind) })).filter(
      ({ targets }) =>
        (this.campaigns().length > 0 || !targets.includes('campaign')) &&
        (this.board().mailboxes.length > 0 || !targets.includes('mailbox')),
    ),
  );
  protected readonly chips = computed(() =>
    this.state.changes().map((change) => ({
      change,
      ...chipWords(change, this.board(), this.time.form()),
      open: changeKey(change) === this.openKey(),
    })),
  );
  private readonly openChange = computed(
    () => this.state.changes().find((c) => changeKey(c) === this.openKey()) ?? null,
  );
  /** The change whose values are shown: what it is about, and how its value is set. */
  protected readonly open = computed(() => {
    const change = this.openChange();
    if (!change) return null;
    const { entry } = whatIfKind(change.kind);
    const { mailbox = null, campaign = null, step = null } = change as Partial<Record<ChangeTarget, number>>;
    return { ...{ mailbox, campaign, step, entry }, value: valueOf(change, entry) };
  });
  /** Numbers of the follow-ups of the campaign that the open change is about. */
  protected readonly followUps = computed(() => {
    const steps = this.board().campaigns.find((c) => c.id === this.open()?.campaign)?.delays.length ?? 0;
    return Array.from({ length: Math.max(0, steps - 1) }, (_, i) => i + 1);
  });
  protected readonly canApply = computed(
    () => this.state.fault() === '' && this.state.changes().some((c) => canApply(c.kind)),
  );

  /** A new change begins with the current value. */
  protected add(kind: PlanChangeKind): void {
    const board = this.board();
    const { targets } = whatIfKind(kind);
    const campaign =
      this.campaigns().find((c) =>
        kind === 'start' ? !c.hasBegun : targets.includes('step') ? c.delays.length > 1 : true,
      ) ?? this.campaigns()[0];
    // Of a campaign and a mailbox: one that it does not use, which is what people look for.
    const unused = board.mailboxes.find((m) => !campaign?.mailboxIds.includes(m.id));
    const mailbox = (targets.includes('campaign') ? unused : undefined) ?? board.mailboxes[0];
    const change = this.begin(kind, { mailbox: mailbox?.id ?? 0, campaign: campaign?.id ?? 0, step: 1 });
    if (!change) return;
    // A change that changes nothing is no start: what is or is not so, is turned around.
    this.set(whatIfKind(kind).entry.form === 'tick' ? ({ ...change, to: !change.to } as PlanChange) : change);
    // The menu gives the focus back to its button; what is to be typed next is the value.
    afterNextRender(() => setTimeout(() => this.focusValue()), { injector: this.injector });
  }

  private focusValue(): void {
    const values = this.host.querySelectorAll<HTMLElement>('.values input, .values select');
    [...values].at(-1)?.focus();
  }

  private begin(kind: PlanChangeKind, ids: Record<ChangeTarget, number>): PlanChange | null {
    return newChange(kind, ids, subjectOf(this.board(), { kind, ...ids } as unknown as PlanChange));
  }

  protected set(change: PlanChange): void {
    this.state.change(change);
    this.openKey.set(changeKey(change));
  }

  /** The same kind of change of something else, beginning with what is so there. */
  protected retarget(target: ChangeTarget, id: string): void {
    const from = this.openChange();
    if (!from) return;
    const { mailbox = 0, campaign = 0, step = 1 } = from as Partial<Record<ChangeTarget, number>>;
    const ids = { mailbox, campaign, step: target === 'campaign' ? 1 : step, [target]: Number(id) };
    const change = this.begin(from.kind, ids);
    if (!change) return;
    this.state.drop(from);
    this.set(change);
  }

  protected show(change: PlanChange): void {
    this.openKey.set(changeKey(change) === this.openKey() ? null : changeKey(change));
  }

  private setTo(to: PlanChange['to']): void {
    const change = this.openChange();
    if (change) this.set({ ...change, to } as PlanChange);
  }

  protected setNumber(event: Event): void {
    const entry = this.open()?.entry;
    const { value, valueAsNumber } = event.target as HTMLInputElement;
    if (entry?.form === 'number')
      this.setTo(entry.optional && value.trim() === '' ? null : valueAsNumber / (entry.scale ?? 1));
  }

  protected setDate(day: string): void {
    if (day !== '') this.setTo(day);
  }

  protected setTick(event: Event): void {
    this.setTo((event.target as HTMLInputElement).checked);
  }

  protected setWindow(which: 0 | 1, event: Event): void {
    const change = this.openChange();
    const minute = minuteOf((event.target as HTMLInputElement).value);
    if (change?.kind === 'window' && minute !== null)
      this.setTo(which === 0 ? [minute, change.to[1]] : [change.to[0], minute]);
  }

  protected async keep(): Promise<void> {
    const data = { title: texts.nameOfTheVariant, value: '', label: texts.save };
    const name = await firstValueFrom(
      this.dialog.open<AskName, unknown, string>(AskName, { data, width: '380px' }).afterClosed(),
    );
    if (name !== undefined) await this.state.keepVariant(name);
  }
}

/** A change's value as its field shows it. */
function valueOf({ to }: PlanChange, entry: ChangeEntry) {
  const span = Array.isArray(to) ? to : null;
  return {
    number: typeof to === 'number' && entry.form === 'number' ? to * (entry.scale ?? 1) : null,
    date: typeof to === 'string' ? to : '',
    ticked: to === true,
    from: span ? clockWords(span[0]) : '',
    to: span ? clockWords(span[1]) : '',
  };
}
