import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { ListView, SetOperation } from '@baton/contract';
import { Notices } from '../../live/notices';
import { DIALOG_PARTS } from '../../look/dialog-parts';
import { ListsService } from './lists-service';
import { typedText } from '../../look/event-input';
import { peopleListTexts } from './texts';

const texts = peopleListTexts.combineLists;

const WAYS: { how: SetOperation; words: string; between: string }[] = [
  { how: 'union', words: texts.onAnyOfTheLists, between: texts.or },
  { how: 'intersection', words: texts.onAllOfTheLists, between: texts.and },
  { how: 'difference', words: texts.onTheFirstListBut, between: texts.without },
];

/** Makes a list of the people of others. Closes with its id, or with nothing. */
@Component({
  selector: 'bt-combine-lists',
  imports: [DIALOG_PARTS],
  template: `
    <h2 mat-dialog-title>{{ texts.combineLists }}</h2>
    <mat-dialog-content>
      <p class="quiet">{{ texts.createsANewListThe }}</p>
      <fieldset>
        <legend>{{ texts.people }}</legend>
        @for (way of ways; track way.how) {
          <label
            ><input type="radio" class="bare" name="how" [checked]="how() === way.how" (change)="how.set(way.how)" />{{
              way.words
            }}</label
          >
        }
      </fieldset>
      <fieldset>
        <legend>{{ texts.listsInOrder }}</legend>
        @for (list of lists; track list.id) {
          <label
            ><input
              type="checkbox"
              class="bare"
              [checked]="chosen().includes(list.id)"
              (change)="toggle(list.id)"
            /><span>{{ list.name }}</span
            ><b>{{ place(list.id) }}</b></label
          >
        }
      </fieldset>
      <label class="name"
        >{{ texts.nameOfTheNewList }} <input maxlength="120" [value]="name()" (input)="typed.set(typedText($event))"
      /></label>
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button matButton mat-dialog-close>{{ texts.cancel }}</button>
      <button matButton="filled" [disabled]="chosen().length < 2 || name().trim() === ''" (click)="make()">
        {{ texts.createTheList }}
      </button>
    </mat-dialog-actions>
  `,
  styles: `
    fieldset {
      margin: 14px 0 0;
      padding: 0;
      border: 0;
    }
    legend {
      padding: 0 0 4px;
      font-weight: 600;
    }
    label {
      display: flex;
      align-items: center;
      gap: 8px;
      min-height: 30px;
    }
    span {
      flex: 1;
    }
    b {
      color: var(--brass);
    }
    .name {
      flex-direction: column;
      align-items: stretch;
      gap: 4px;
      margin-top: 14px;
    }
    input[type='radio'],
    input[type='checkbox'] {
      accent-color: var(--sea);
      margin: 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CombineLists {
  protected readonly texts = texts;
  protected readonly typedText = typedText;
  private readonly service = inject(ListsService);
  private readonly notices = inject(Notices);
  private readonly ref = inject<MatDialogRef<CombineLists, number>>(MatDialogRef);
  protected readonly lists = inject<ListView[]>(MAT_DIALOG_DATA);
  protected readonly ways = WAYS;
  protected readonly how = signal<SetOperation>('union');
  protected readonly chosen = signal<number[]>([]);
  protected readonly typed = signal<string | null>(null);
  protected readonly name = computed(() => {
    const between = WAYS.find((w) => w.how === this.how())?.between ?? ' ';
    const names = this.chosen().map((id) => this.lists.find((l) => l.id === id)?.name);
    return this.typed() ?? names.join(between).slice(0, 120);
  });

  protected toggle(id: number): void {
    this.chosen.update((ids) => (ids.includes(id) ? ids.filter((i) => i !== id) : [...ids, id]));
  }

  protected place(id: number): string {
    const at = this.chosen().indexOf(id);
    return at < 0 ? '' : String(at + 1);
  }

  protected make(): void {
    this.service.combine(this.name().trim(), this.how(), this.chosen()).subscribe({
      next: ({ listId }) => this.ref.close(listId),
      error: (error: unknown) => this.notices.failure(error),
    });
  }
}
