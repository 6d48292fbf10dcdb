import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { PersonRow } from '@baton/contract';
import { ADDRESS_KEY, NOTES_KEY, noteWords, TICK, tagsOf } from '@baton/core';
import { cellText, type GridColumn } from './grid-columns';
import type { CellRange } from './grid-cursor';
import { typedText } from '../../../look/event-input';
import { peopleListTexts } from '../texts';
import { CountPipe } from '../../../look/count-pipe';

const texts = peopleListTexts.gridRow;

/** The id of a cell's element, by which the sheet tells where its cursor is. */
export const cellId = (row: number, column: number): string => `cell-${row}-${column}`;

/** One person's row in the sheet. It is drawn anew only when something in it changes, not when the sheet scrolls. */
@Component({
  selector: 'bt-grid-row',
  imports: [CountPipe, RouterLink],
  templateUrl: './grid-row.html',
  styleUrl: './grid-row.scss',
  host: {
    role: 'row',
    '[class.picked]': 'isPicked()',
    '[attr.aria-rowindex]': 'index() + 2',
    '[attr.aria-selected]': 'isPicked()',
  },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GridRow {
  protected readonly texts = texts;
  protected readonly typedText = typedText;
  /** Its place in the order, 0-based. */
  readonly index = input.required<number>();
  /** As it is counted on screen, from 1. */
  protected readonly place = computed(() => this.index() + 1);
  /** Undefined until it has come. */
  readonly person = input.required<PersonRow | undefined>();
  readonly columns = input.required<readonly GridColumn[]>();
  readonly isPicked = input.required<boolean>();
  readonly readonly = input.required<boolean>();
  /** The cells marked, if any of them are in this row. */
  readonly mark = input.required<CellRange | null>();
  /** The column of the cursor, if it is in this row. */
  readonly focus = input.required<number | null>();
  /** What is being written, if it is in this row. */
  readonly editing = input.required<{ column: number; value: string } | null>();
  readonly typed = output<string>();
  readonly editKey = output<KeyboardEvent>();
  readonly editLeft = output();
  readonly gutterPressed = output<MouseEvent>();
  readonly tickPressed = output<number>();

  protected readonly cells = computed(() => {
    const [index, person, mark, focus, editing] = [
      this.index(),
      this.person(),
      this.mark(),
      this.focus(),
      this.editing(),
    ];
    return this.columns().map((column, at) => ({
      column,
      id: cellId(index, at),
      shown: person ? shownAs(person, column) : texts.nothing,
      text: person ? cellText(person, column.key) : '',
      isMarked: mark !== null && at >= mark.left && at <= mark.right,
      isFocus: focus === at,
      editing: editing?.column === at ? editing.value : null,
    }));
  });
  protected readonly noteWords = noteWords;
  protected readonly tagsOf = tagsOf;
  protected readonly tick = TICK;
}

/** How a cell is drawn. A tick column shows what is neither a tick nor blank as it is. */
function shownAs(person: PersonRow, { key, kind }: GridColumn): 'address' | 'notes' | 'tick' | 'tags' | 'text' {
  if (key === ADDRESS_KEY) return 'address';
  if (key === NOTES_KEY) return 'notes';
  const value = person.fields[key] ?? '';
  if (kind === 'tick') return value === '' || value === TICK ? 'tick' : 'text';
  return kind === 'tags' ? 'tags' : 'text';
}
