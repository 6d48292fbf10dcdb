import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { FeedChoices, ListHead } from '@baton/contract';
import { firstValueFrom, type Observable } from 'rxjs';
import { sentenceOf } from '../../live/sentence-of';
import { DIALOG_PARTS } from '../../look/dialog-parts';
import { ListsService } from './lists-service';
import { chosenOption, isTicked, typedText } from '../../look/event-input';

const SCHEDULES = [
  { minutes: 15, words: 'every 15 minutes' },
  { minutes: 60, words: 'every hour' },
  { minutes: 360, words: 'every 6 hours' },
  { minutes: 1440, words: 'every day' },
];

/** From where a list is fed by itself, and what the last look there found. */
@Component({
  selector: 'bt-feed-list',
  imports: [DIALOG_PARTS],
  template: `
    <h2 mat-dialog-title>Import into {{ head.list.name }} automatically</h2>
    <mat-dialog-content>
      <p class="quiet">
        New rows are added to the list automatically, with the columns used the last time for such a file. Campaigns
        that add new people as they arrive will write to them.
      </p>
      <label
        >From&ngsp;<select [value]="kind()" (change)="kind.set(chosenOption($event))">
          <option value="folder" [selected]="kind() === 'folder'">a folder on the machine Baton runs on</option>
          <option value="url" [selected]="kind() === 'url'">a web address</option>
        </select></label
      >
      <label
        >{{ kind() === 'folder' ? 'Folder' : 'Address' }}&ngsp;<input
          maxlength="2000"
          [placeholder]="kind() === 'folder' ? '/home/ines/lists' : 'https://files.tidewaterkelp.example/growers.csv'"
          [value]="place()"
          (input)="place.set(typedText($event))"
      /></label>
      <label
        >Check&ngsp;<select [value]="every()" (change)="every.set(+typedText($event))">
          @for (s of schedules; track s.minutes) {
            <option [value]="s.minutes" [selected]="s.minutes === every()">{{ s.words }}</option>
          }
        </select></label
      >
      <label
        >People already on the list&ngsp;<select [value]="how()" (change)="how.set(chosenOption($event))">
          <option value="update" [selected]="how() === 'update'">are updated</option>
          <option value="add" [selected]="how() === 'add'">stay as they are</option>
        </select></label
      >
      @if (kind() === 'url') {
        <label class="check"
          ><input
            type="checkbox"
            class="bare"
            [checked]="allowPrivate()"
            (change)="allowPrivate.set(isTicked($event))"
          />Allow addresses on this machine and its network</label
        >
      }
      @if (problem()) {
        <p class="trouble" role="alert">{{ problem() }}</p>
      } @else if (head.feed?.found) {
        <p>Last check: {{ head.feed?.found }}</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      @if (head.feed) {
        <button matButton (click)="stop()" [disabled]="busy()">Stop automatic import</button>
      }
      <button matButton mat-dialog-close>Cancel</button>
      <button matButton="filled" [disabled]="place().trim() === '' || busy()" (click)="save()">
        {{ busy() ? 'Checking …' : 'Check now, and ' + words() }}
      </button>
    </mat-dialog-actions>
  `,
  styles: `
    label {
      display: grid;
      gap: 4px;
      margin-top: 12px;
    }
    .check {
      display: flex;
      align-items: center;
      gap: 8px;
    }
    p {
      margin-top: 12px;
    }
    input[type='checkbox'] {
      accent-color: var(--sea);
      margin: 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FeedList {
  protected readonly chosenOption = chosenOption;
  protected readonly isTicked = isTicked;
  protected readonly typedText = typedText;
  private readonly lists = inject(ListsService);
  private readonly ref = inject<MatDialogRef<FeedList>>(MatDialogRef);
  protected readonly head = inject<ListHead>(MAT_DIALOG_DATA);
  protected readonly schedules = SCHEDULES;
  protected readonly kind = signal<FeedChoices['kind']>(this.head.feed?.kind ?? 'folder');
  protected readonly place = signal(this.head.feed?.place ?? '');
  protected readonly how = signal<FeedChoices['how']>(this.head.feed?.how ?? 'update');
  protected readonly every = signal(this.head.feed?.everyMinutes ?? 60);
  protected readonly allowPrivate = signal(this.head.feed?.allowPrivate ?? false);
  protected readonly busy = signal(false);
  protected readonly problem = signal('');
  protected readonly words = computed(() => SCHEDULES.find((s) => s.minutes === this.every())?.words ?? '');

  protected save(): Promise<void> {
    return this.run(
      this.lists.feed(this.head.list.id, {
        kind: this.kind(),
        place: this.place().trim(),
        how: this.how(),
        everyMinutes: this.every(),
        allowPrivate: this.kind() === 'url' && this.allowPrivate(),
      }),
    );
  }

  protected stop(): Promise<void> {
    return this.run(this.lists.stopFeed(this.head.list.id));
  }

  private async run(request: Observable<unknown>): Promise<void> {
    this.busy.set(true);
    try {
      await firstValueFrom(request);
      this.ref.close();
    } catch (error) {
      this.problem.set(sentenceOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
