import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  Injector,
  input,
  output,
  signal,
} from '@angular/core';
import { CdkDrag, CdkDropList, type CdkDragEnd } from '@angular/cdk/drag-drop';
import { toObservable } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { RouterLink } from '@angular/router';
import type { BatchMessage, PlanBoard } from '@baton/contract';
import { deliveryWords } from '@baton/core';
import { firstValueFrom } from 'rxjs';
import { WorkspaceTime } from '../time/workspace-time';
import { LiveUpdates } from '../live/live-updates';
import { Notices } from '../live/notices';
import { PeopleService } from '../people/person/people-service';
import { PersonProofView } from '../people/person/person-proof';
import { MomentPipe } from '../time/workspace-time';
import { DayDrag } from './day-drag';
import { PlanService } from './plan-service';
import { planTexts } from './texts';
import { DateField } from '../time/date-field';

const texts = planTexts.batchPanel;

/** Messages of a batch that are shown at once. */
const PAGE = 100;

/** How many more at a press. */
const MORE = 400;

/** One mailbox's messages of a day, in order, each with its proof; the batch can be held. */
@Component({
  selector: 'bt-batch-panel',
  imports: [CdkDrag, CdkDropList, DateField, MatButton, MomentPipe, RouterLink],
  templateUrl: './batch-panel.html',
  styleUrl: './batch-panel.scss',
  host: { '(keydown.escape)': 'leave()' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BatchPanel {
  private readonly time = inject(WorkspaceTime);
  protected readonly texts = texts;
  protected readonly drag = inject(DayDrag);
  private readonly service = inject(PlanService);
  private readonly people = inject(PeopleService);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  private readonly live = inject(LiveUpdates);
  private readonly injector = inject(Injector);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  readonly board = input.required<PlanBoard>();
  readonly day = input.required<string>();
  readonly mailboxId = input.required<number>();
  readonly closed = output();
  readonly move = output<{ message: number; day: string }>();

  protected readonly shown = signal(PAGE);
  private readonly asked = computed(() => ({ day: this.day(), mailbox: this.mailboxId(), shown: this.shown() }));
  protected readonly batch = this.live.viewOf(
    toObservable(this.asked),
    ['progress', 'today'],
    ({ day, mailbox, shown }) => this.service.batch(day, mailbox, 0, shown),
  );
  protected readonly moving = signal<number | null>(null);

  protected readonly mailbox = computed(() => this.board().mailboxes.find((m) => m.id === this.mailboxId()));
  protected readonly title = computed(() => this.time.dayWords(this.day(), 'long'));
  protected readonly counts = computed(() => this.batch()?.counts);
  protected readonly hasMore = computed(() => {
    const batch = this.batch();
    return batch !== undefined && batch.counts.total > batch.messages.length;
  });
  protected readonly stateWords = deliveryWords;
  protected readonly sentence = computed(() => {
    const counts = this.counts();
    if (!counts) return '';
    const { gone, held, toCome, total } = counts;
    if (total === 0) return texts.nothingIsPlannedFromThis;
    const parts = [
      gone > 0 ? texts.gone(gone) : '',
      toCome > 0 ? texts.toCome(toCome) : '',
      held > 0 ? texts.held(held) : '',
    ].filter((p) => p !== '');
    return `${texts.messages(total)}: ${parts.join(', ')}.`;
  });

  protected showMore(): void {
    this.shown.update((n) => n + MORE);
  }

  protected campaign(m: BatchMessage) {
    return this.board().campaigns.find((c) => c.id === m.campaignId);
  }

  protected canMove(m: BatchMessage): boolean {
    return m.state === 'planned' || m.state === 'held';
  }

  protected async setHeld(held: boolean, whole: boolean): Promise<void> {
    try {
      const { messages } = await firstValueFrom(
        this.service.setHeld(this.day(), whole ? null : this.mailboxId(), held),
      );
      const n = texts.messages(messages);
      this.notices.say(held ? texts.heldUntilYouReleaseThem(n) : texts.released(n));
      // The button that was pressed makes room for others.
      this.focus('h2');
    } catch (error) {
      this.notices.failure(error);
    }
  }

  protected async showProof(m: BatchMessage): Promise<void> {
    try {
      const data = await firstValueFrom(this.people.proof(m.contactId, m.campaignId, m.step));
      this.dialog.open(PersonProofView, { data, width: '640px' });
    } catch (error) {
      this.notices.failure(error);
    }
  }

  protected drop(event: CdkDragEnd, m: BatchMessage): void {
    const day = this.drag.ended(event);
    if (day !== null && day !== this.day()) this.move.emit({ message: m.deliveryId, day });
  }

  /** Escape leaves a move that was begun; without one, the batch. */
  protected leave(): void {
    if (this.moving() === null) this.closed.emit();
    else this.moving.set(null);
  }

  protected startMove(m: BatchMessage): void {
    this.moving.set(m.deliveryId);
    this.focus('li bt-date-field input');
  }

  protected moveTo(m: BatchMessage, day: string): void {
    if (day === '') return;
    this.moving.set(null);
    this.focus('h2');
    this.move.emit({ message: m.deliveryId, day });
  }

  /** Moves the focus to this element once it is drawn. */
  focus(what: string): void {
    afterNextRender(() => this.host.querySelector<HTMLElement>(what)?.focus(), { injector: this.injector });
  }
}
