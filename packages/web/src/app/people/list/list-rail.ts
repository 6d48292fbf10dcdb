import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { Router, RouterLink, RouterLinkActive } from '@angular/router';
import type { ImportProgress, ListView, RemovedList, SegmentView } from '@baton/contract';
import { firstValueFrom } from 'rxjs';
import { LiveUpdates } from '../../live/live-updates';
import { Notices } from '../../live/notices';
import { CombineLists } from './combine-lists';
import { ListsService } from './lists-service';
import { PeopleService } from '../person/people-service';
import { peopleListTexts } from './texts';
import { CountPipe } from '../../look/count-pipe';

const texts = peopleListTexts.listRail;

/** The lists, the suppression list, and the way to a new list. */
@Component({
  selector: 'bt-list-rail',
  imports: [CountPipe, RouterLink, RouterLinkActive, MatButton],
  template: `
    <a matButton="filled" routerLink="/people/import">{{ texts.importPeople }}</a>
    @for (i of imports(); track i.id) {
      <a class="item" routerLink="/people/import" [queryParams]="{ importId: i.id }"
        ><span>{{ i.name }}</span
        >&ngsp;<b>{{ progressWords(i) }}</b></a
      >
    }
    <h2 class="section">{{ texts.lists }}</h2>
    @for (list of lists(); track list.id) {
      <a
        class="item"
        [routerLink]="['/people', list.id]"
        routerLinkActive="here"
        [routerLinkActiveOptions]="{
          paths: 'exact',
          queryParams: 'exact',
          fragment: 'ignored',
          matrixParams: 'ignored',
        }"
        ariaCurrentWhenActive="page"
        ><span>{{ list.name }}</span
        >&ngsp;<b>{{ list.people | count }}</b></a
      >
      @for (s of segmentsOf(list.id); track s.id) {
        <a
          class="item segment"
          [routerLink]="['/people', list.id]"
          [queryParams]="{ segment: s.id }"
          routerLinkActive="here"
          ariaCurrentWhenActive="page"
          ><span>{{ s.name }}</span
          >&ngsp;<b>{{ s.people | count }}</b></a
        >
      }
    } @empty {
      <p class="quiet">{{ texts.noneYet }}</p>
    }
    @if ((lists()?.length ?? 0) > 1) {
      <button matButton (click)="combine()">{{ texts.combineLists }}</button>
    }
    @if (removed()?.length) {
      <details>
        <summary>{{ texts.deleted(removed()?.length) }}</summary>
        @for (list of removed(); track list.id) {
          <div class="item">
            <span>{{ list.name }}</span>
            <button class="choice" (click)="restore(list)">{{ texts.restore }}</button>
          </div>
        }
      </details>
    }
    <h2 class="section">{{ texts.neverWriteTo }}</h2>
    <a class="item" routerLink="/people/suppressions" routerLinkActive="here" ariaCurrentWhenActive="page"
      ><span>{{ texts.suppressionList }}</span
      >&ngsp;<b>{{ suppressions()?.total | count }}</b></a
    >
  `,
  styleUrl: './list-rail.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ListRail {
  protected readonly texts = texts;
  private readonly people = inject(PeopleService);
  private readonly service = inject(ListsService);
  private readonly live = inject(LiveUpdates);
  private readonly notices = inject(Notices);
  private readonly dialog = inject(MatDialog);
  private readonly router = inject(Router);
  protected readonly lists = this.live.view(['people'], () => this.service.lists());
  protected readonly removed = this.live.view(['people'], () => this.service.removedLists());
  protected readonly suppressions = this.live.view(['people'], () => this.people.suppressions());
  private readonly segments = this.live.view(['people'], () => this.service.segments());

  protected readonly imports = this.live.view(['imports'], () => this.people.imports());

  protected progressWords({ state, progress }: { state: string; progress: ImportProgress | null }): string {
    if (state === 'taking') return progress?.step === 'reading' ? `${Math.floor(100 * progress.share)} %` : '…';
    return state === 'failed' ? 'failed' : 'counted';
  }

  protected segmentsOf(listId: number): SegmentView[] {
    return this.segments()?.filter((s) => s.listId === listId) ?? [];
  }

  protected async combine(): Promise<void> {
    const dialog = this.dialog.open<CombineLists, ListView[], number>(CombineLists, {
      data: this.lists() ?? [],
      width: '460px',
    });
    const listId = await firstValueFrom(dialog.afterClosed());
    if (listId !== undefined) void this.router.navigate(['/people', listId]);
  }

  protected restore(list: RemovedList): void {
    this.service.restore(list.id).subscribe({
      next: () => void this.router.navigate(['/people', list.id]),
      error: (error: unknown) => this.notices.failure(error),
    });
  }
}
