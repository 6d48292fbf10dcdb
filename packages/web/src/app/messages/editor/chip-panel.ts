import { ChangeDetectionStrategy, Component, computed, input, linkedSignal, output } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { fieldKey, fieldMeant, type EitherNode, type FieldNode } from '@baton/core';
import { isKnown, type FieldChoice } from './field-choice';
import { typedText } from '../../look/event-input';
import { messagesEditorTexts } from './texts';
import { Panel } from '../../look/panel';

const texts = messagesEditorTexts.chipPanel;

/** Ways in which a value is written, as filters of Liquid. */
const WAYS = [
  { filters: '', words: texts.asInTheList },
  { filters: 'capitalize', words: texts.capitalised },
  { filters: 'upcase', words: texts.upperCase },
  { filters: 'downcase', words: texts.lowerCase },
];

/** A field's name, filters and fallback; or the two texts of a choice. */
@Component({
  selector: 'bt-chip-panel',
  imports: [MatButton, Panel],
  templateUrl: './chip-panel.html',
  styleUrl: '../../people/list/grid/panel.scss',
  styles: `
    .wide {
      width: 100%;
    }
    .panel {
      width: 320px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChipPanel {
  protected readonly texts = texts;
  protected readonly typedText = typedText;
  readonly node = input.required<FieldNode | EitherNode>();
  readonly choices = input.required<readonly FieldChoice[]>();
  readonly changed = output<FieldNode['attrs'] | EitherNode['attrs']>();
  readonly removed = output();
  readonly closed = output();

  protected readonly field = computed(() => {
    const node = this.node();
    return node.type === 'field' ? node.attrs : null;
  });
  protected readonly either = computed(() => {
    const node = this.node();
    return node.type === 'either' ? node.attrs : null;
  });
  protected readonly name = linkedSignal(() => this.field()?.name ?? this.either()?.field ?? '');
  protected readonly fallback = linkedSignal(() => this.field()?.fallback ?? '');
  protected readonly hasFallback = linkedSignal(() => this.field()?.fallback !== null);
  protected readonly filters = linkedSignal(() => this.field()?.filters ?? '');
  protected readonly filled = linkedSignal(() => this.either()?.filled ?? '');
  protected readonly blank = linkedSignal(() => this.either()?.blank ?? '');
  protected readonly ways = computed(() => {
    const own = this.filters();
    return WAYS.some((w) => w.filters === own) ? WAYS : [...WAYS, { filters: own, words: own }];
  });
  /** The field that was probably meant by an unknown name. */
  protected readonly meant = computed(() => {
    if (isKnown(this.choices(), this.name())) return null;
    const known = this.choices().map((c) => ({ name: c.name, key: fieldKey(c.name) }));
    return fieldMeant(fieldKey(this.name()), known) ?? '';
  });

  protected writeFallback(text: string): void {
    this.fallback.set(text);
    this.hasFallback.set(true);
  }

  protected save(): void {
    if (this.node().type === 'field')
      this.changed.emit({
        name: this.name(),
        fallback: this.hasFallback() ? this.fallback() : null,
        filters: this.filters(),
      });
    else this.changed.emit({ field: this.name(), filled: this.filled(), blank: this.blank() });
  }
}
