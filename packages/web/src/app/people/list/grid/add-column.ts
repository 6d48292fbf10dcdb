import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { ListHead, PersonRow } from '@baton/contract';
import {
  COLUMN_KINDS,
  compileTemplate,
  findFault,
  OUTCOME_COLUMNS,
  outcomeColumn,
  type ColumnKind,
  type ListColumn,
} from '@baton/core';
import { Notices } from '../../../live/notices';
import { ListsService } from '../lists-service';
import { chosenOption, typedText } from '../../../look/event-input';
import { peopleListTexts } from '../texts';
import { Panel } from '../../../look/panel';

const texts = peopleListTexts.addColumn;

const KIND_NAMES: Record<ColumnKind | 'computed', string> = {
  text: texts.text,
  number: texts.numbers,
  date: texts.dates,
  tick: texts.ticks,
  tags: texts.tags,
  computed: texts.computedByAFormula,
};

/** A new column: to write into, or computed in the language of the messages, with what it would make of the first rows. */
@Component({
  selector: 'bt-add-column',
  imports: [MatButton, Panel],
  template: `
    <div [btPanel]="texts.addAColumn" (closed)="closed.emit()">
      <section>
        <label class="line"
          >{{ texts.name }}&ngsp;<input [value]="name()" (input)="name.set(typedText($event))" (keydown.enter)="add()"
        /></label>
        <label class="line"
          >{{ texts.type }}&ngsp;<select [value]="kind()" (change)="kind.set(chosenOption($event))">
            @for (k of kinds; track k.kind) {
              <option [value]="k.kind" [selected]="k.kind === kind()">{{ k.name }}</option>
            }
          </select></label
        >
        @if (kind() === 'computed') {
          <label
            >{{ texts.formula
            }}<textarea
              rows="3"
              spellcheck="false"
              [value]="formula()"
              (input)="formula.set(typedText($event))"
            ></textarea>
          </label>
          @if (fault(); as words) {
            <p class="trouble">{{ words }}</p>
          } @else {
            <div class="values">
              @for (made of preview(); track $index) {
                <p>{{ made || texts.blank }}</p>
              }
            </div>
          }
        }
        <button matButton="filled" [disabled]="!canAdd()" (click)="add()">
          {{ texts.add(name().trim() || texts.theColumn) }}
        </button>
      </section>
      @if (hidden().length > 0) {
        <section>
          <span class="quiet">{{ texts.hidden }}</span>
          @for (c of hidden(); track c.key) {
            <div class="line">
              <span class="grow">{{ c.name }}</span>
              <button matButton (click)="show(c.key)">{{ texts.show }}</button>
            </div>
          }
        </section>
      }
    </div>
  `,
  styleUrl: './panel.scss',
  styles: `
    .grow {
      flex: 1;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class AddColumn {
  protected readonly texts = texts;
  protected readonly chosenOption = chosenOption;
  protected readonly typedText = typedText;
  private readonly lists = inject(ListsService);
  private readonly notices = inject(Notices);
  readonly listId = input.required<number>();
  readonly columns = input.required<ListColumn[]>();
  readonly outcomes = input.required<ListHead['outcomes']>();
  /** The first rows, to show what a formula makes of them. */
  readonly sample = input.required<PersonRow[]>();
  readonly closed = output();

  protected readonly kinds = [...COLUMN_KINDS, 'computed' as const].map((kind) => ({ kind, name: KIND_NAMES[kind] }));
  protected readonly name = signal('');
  protected readonly kind = signal<ColumnKind | 'computed'>('text');
  protected readonly formula = signal('{{ given_name | capitalize }}');
  protected readonly hidden = computed(() => [
    ...this.columns().filter((c) => c.hidden && c.role !== 'address'),
    ...OUTCOME_COLUMNS.filter(({ key }) => this.outcomes().some((o) => o.key === key && o.hidden)),
  ]);
  protected readonly fault = computed(() => findFault(this.formula())?.message ?? null);
  protected readonly preview = computed(() => {
    if (this.fault() !== null) return [];
    const template = compileTemplate(this.formula());
    return this.sample().map((p) => template.render(p.fields).text.trim());
  });
  protected readonly canAdd = computed(
    () => this.name().trim() !== '' && (this.kind() !== 'computed' || this.fault() === null),
  );

  protected add(): void {
    const kind = this.kind();
    if (!this.canAdd()) return;
    this.change(
      this.lists.addColumn(this.listId(), {
        name: this.name().trim(),
        kind: kind === 'computed' ? 'text' : kind,
        formula: kind === 'computed' ? this.formula() : null,
        after: null,
      }),
    );
  }

  protected show(key: string): void {
    if (outcomeColumn(key)) {
      const hidden = this.outcomes().filter((o) => o.hidden && o.key !== key);
      this.change(
        this.lists.hideOutcomes(
          this.listId(),
          hidden.map((o) => o.key),
        ),
      );
      return;
    }
    const columns = this.columns().map((c) => ({ key: c.key, hidden: c.hidden && c.key !== key }));
    this.change(this.lists.arrange(this.listId(), columns));
  }

  private change(request: ReturnType<ListsService['arrange']>): void {
    request.subscribe({
      next: () => this.closed.emit(),
      error: (error: unknown) => this.notices.failure(error),
    });
  }
}
