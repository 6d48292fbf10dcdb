import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import type { BriefChange, ChangeView } from '@baton/contract';
import { catchError, debounceTime, map, of, startWith, switchMap, tap } from 'rxjs';
import { Notices } from '../live/notices';
import { sentenceOf } from '../live/sentence-of';
import { BriefPlan } from './brief-plan';
import { BriefState } from './brief-state';
import { CampaignsService } from './campaigns-service';
import { campaignsTexts } from './texts';

const texts = campaignsTexts.changeSheet;

/** Choices that come quickly one after the other are looked at together. */
const PAUSE_MS = 200;

interface Looked {
  change: BriefChange;
  view: ChangeView | null;
  problem: string;
}

/** What the choices made for a campaign that runs would do, before they are made. */
@Component({
  selector: 'bt-brief-change-sheet',
  imports: [MatButton, BriefPlan],
  templateUrl: './brief-change-sheet.html',
  styleUrl: './brief-change-sheet.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BriefChangeSheet {
  protected readonly texts = texts;
  private readonly service = inject(CampaignsService);
  private readonly notices = inject(Notices);
  private readonly state = inject(BriefState);
  readonly campaignId = input.required<number>();
  readonly change = input.required<BriefChange>();
  readonly mailboxes = input.required<readonly { id: number; address: string }[]>();

  private readonly looked = toSignal(
    toObservable(this.change).pipe(
      debounceTime(PAUSE_MS),
      switchMap((change) =>
        this.service.previewChange(this.campaignId(), change).pipe(
          tap((view) => this.state.name(change, view.names)),
          map((view): Looked => ({ change, view, problem: '' })),
          catchError((error: unknown) => of<Looked>({ change, view: null, problem: sentenceOf(error) })),
          startWith(null),
        ),
      ),
    ),
    { initialValue: null },
  );
  /** What is known of the choices as they are now. */
  protected readonly current = computed(() => {
    const looked = this.looked();
    return looked?.change === this.change() ? looked : null;
  });
  protected readonly view = computed(() => this.current()?.view ?? null);
  protected readonly problems = computed(() => {
    const problem = this.current()?.problem ?? '';
    return problem === '' ? (this.view()?.faults ?? []) : [problem];
  });
  protected readonly isSame = computed(() => this.view()?.changes.length === 0);
  protected readonly isMaking = signal(false);
  protected readonly canApply = computed(
    () => this.view() !== null && this.problems().length === 0 && !this.isSame() && !this.isMaking(),
  );

  protected async apply(): Promise<void> {
    this.isMaking.set(true);
    if (await this.state.apply()) this.notices.say(texts.applied);
    this.isMaking.set(false);
  }

  protected drop(): void {
    this.state.drop();
  }
}
