import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { MatProgressBar } from '@angular/material/progress-bar';
import type { StartProgress } from '@baton/contract';
import { catchError, combineLatest, exhaustMap, map, of, switchMap, takeWhile, timer } from 'rxjs';
import { Notices } from '../live/notices';
import { CampaignsService } from './campaigns-service';
import { campaignsTexts } from './texts';

const texts = campaignsTexts.startProgress;

/** A short start is over before anybody has to be told of it. */
const FIRST_MS = 500;
const EVERY_MS = 700;

/** How far the start of a campaign is, also of one that was begun in another window; nothing where none is under way. */
@Component({
  selector: 'bt-start-progress-line',
  imports: [MatButton, MatProgressBar],
  template: `
    @if (progress(); as p) {
      <span role="status">{{ words() }}</span>
      @if (p.of > 0) {
        <mat-progress-bar mode="determinate" [value]="percent()" [attr.aria-label]="words()" />
      }
      @if (p.phase !== 'planning') {
        <button matButton="outlined" (click)="cancel()">{{ texts.cancel }}</button>
      }
    }
  `,
  styles: `
    :host {
      display: flex;
      align-items: center;
      flex-wrap: wrap;
      gap: 4px 14px;
      white-space: nowrap;
    }
    mat-progress-bar {
      width: 120px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class StartProgressLine {
  protected readonly texts = texts;
  private readonly service = inject(CampaignsService);
  private readonly notices = inject(Notices);
  readonly campaignId = input.required<number>();
  /** Whether it was begun here and has not been answered yet. */
  readonly isStarting = input.required<boolean>();

  readonly progress = toSignal(
    combineLatest([toObservable(this.campaignId), toObservable(this.isStarting)]).pipe(
      switchMap(([id, isStarting]) =>
        timer(isStarting ? FIRST_MS : 0, EVERY_MS).pipe(
          exhaustMap(() => this.service.startProgress(id).pipe(catchError(() => of({ progress: null })))),
          map((answer) => answer.progress),
          takeWhile((progress) => isStarting || progress !== null, true),
        ),
      ),
    ),
    { initialValue: null },
  );
  protected readonly words = computed(() => {
    const progress = this.progress();
    return progress === null ? '' : wordsOf(progress);
  });

  protected readonly percent = computed(() => {
    const progress = this.progress();
    return progress && progress.of > 0 ? (100 * progress.done) / progress.of : 0;
  });

  protected cancel(): void {
    this.service.cancelStart(this.campaignId()).subscribe({ error: (error: unknown) => this.notices.failure(error) });
  }
}

const wordsOf = ({ phase, done, of: all }: StartProgress): string =>
  phase === 'reading' ? texts.reading : phase === 'enrolling' ? texts.enrolling(done, all) : texts.planning;
