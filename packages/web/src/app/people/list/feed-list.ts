import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { FeedChoices, ListHead } from '@baton/contract';
import { firstValueFrom, type Observable } from 'rxjs';
import { sentenceOf } from '../../live/sentence-of';
import { DIALOG_PARTS } from '../../look/dialog-parts';
import { ListsService } from './lists-service';
import { chosenOption, isTicked, typedText } from '../../look/event-input';
import { peopleListTexts } from './texts';

const texts = peopleListTexts.feedList;

const SCHEDULES = [
  { minutes: 15, words: texts.every15Minutes },
  { minutes: 60, words: texts.everyHour },
  { minutes: 360, words: texts.every6Hours },
  { minutes: 1440, words: texts.everyDay },
];

/** From where a list is fed by itself, and what the last look there found. */
@Component({
  selector: 'bt-feed-list',
  imports: [DIALOG_PARTS],
  template: `
    <h2 mat-dialog-title>{{ texts.importIntoAutomatically(head.list.name) }}</h2>
    <mat-dialog-content>
      <p class="quiet">
        {{ texts.newRowsAreAddedTo }}
      </p>
      <label
        >{{ texts.from }}&ngsp;<select [value]="kind()" (change)="kind.set(chosenOption($event))">
          <option value="folder" [selected]="kind() === 'folder'">{{ texts.aFolderOnTheMachine }}</option>
          <option value="url" [selected]="kind() === 'url'">{{ texts.aWebAddress }}</option>
        </select></label
      >
      <label
        >{{ kind() === 'folder' ? texts.folder : texts.address }}&ngsp;<input
          maxlength="2000"
          [placeholder]="kind() === 'folder' ? texts.homeInesLists : texts.httpsFilesTidewaterkelpExample"
          [value]="place()"
          (input)="place.set(typedText($event))"
      /></label>
      <label
        >{{ texts.check }}&ngsp;<select [value]="every()" (change)="every.set(+typedText($event))">
          @for (s of schedules; track s.minutes) {
            <option [value]="s.minutes" [selected]="s.minutes === every()">{{ s.words }}</option>
          }
        </select></label
      >
      <label
        >{{ texts.peopleAlreadyOnTheList }}&ngsp;<select [value]="how()" (change)="how.set(chosenOption($event))">
          <option value="update" [selected]="how() === 'update'">{{ texts.areUpdated }}</option>
          <option value="add" [selected]="how() === 'add'">{{ texts.stayAsTheyAre }}</option>
        </select></label
      >
      @if (kind() === 'url') {
        <label class="check"
          ><input
            type="checkbox"
            class="bare"
            [checked]="allowPrivate()"
            (change)="allowPrivate.set(isTicked($event))"
          />{{ texts.allowAddressesOnThisMachine }}</label
        >
      }
      @if (problem()) {
        <p class="trouble" role="alert">{{ problem() }}</p>
      } @else if (head.feed?.found) {
        <p>{{ texts.lastCheck(head.feed?.found) }}</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      @if (head.feed) {
        <button matButton (click)="stop()" [disabled]="busy()">{{ texts.stopAutomaticImport }}</button>
      }
      <button matButton mat-dialog-close>{{ texts.cancel }}</button>
      <button matButton="filled" [disabled]="place().trim() === '' || busy()" (click)="save()">
        {{ busy() ? texts.checking : texts.checkNowAnd(words()) }}
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
  protected readonly texts = texts;
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
