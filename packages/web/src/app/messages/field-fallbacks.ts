import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { fieldsOf, isMessageField, type MessageContent } from '@baton/core';
import { isKnown, type FieldChoice } from './editor/field-choice';
import { typedText } from '../look/event-input';
import { messagesTexts } from './texts';

const texts = messagesTexts.fieldFallbacks;

/** The fields in use, each with its fallback, to be set in one place for all of its uses. */
@Component({
  selector: 'bt-field-fallbacks',
  template: `
    <h2 class="section">
      {{ texts.fields }} <span class="quiet">{{ texts.andTheirFallbacks }}</span>
    </h2>
    @for (u of uses(); track u.key) {
      <label
        ><span
          >{{ u.name }}
          @if (u.unknown) {
            <span class="tag look">{{ texts.notOnThisList }}</span>
          }
        </span>
        <input
          class="bare"
          [value]="u.fallback"
          [placeholder]="u.hint"
          (change)="changed.emit({ name: u.name, fallback: typedText($event), which: u.differs ? 'missing' : 'all' })"
      /></label>
    }
  `,
  styles: `
    :host {
      display: block;
    }
    h2 {
      margin: 0;
      padding: 8px 14px;
      font: 600 14px/1.4 var(--sans);
      .quiet {
        font-weight: 400;
      }
    }
    label {
      display: grid;
      grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
      align-items: center;
      min-height: 35px;
      padding: 0 14px;
      border-top: 1px solid var(--hairline);
    }
    input {
      height: 34px;
      border: 0;
      background: none;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FieldFallbacks {
  protected readonly texts = texts;
  protected readonly typedText = typedText;
  readonly content = input.required<MessageContent>();
  readonly choices = input.required<readonly FieldChoice[]>();
  /** '' takes the fallback away. */
  readonly changed = output<{ name: string; fallback: string; which: 'all' | 'missing' }>();

  protected readonly uses = computed(() => {
    const uses = fieldsOf(this.content()).filter((u) => !u.guarded && !isMessageField(u.name));
    return [...new Set(uses.map((u) => u.key))].map((key) => {
      const own = uses.filter((u) => u.key === key);
      const fallbacks = new Set(own.map((u) => u.fallback));
      const missing = own.filter((u) => u.fallback === null).length;
      const hint =
        fallbacks.size === 1
          ? texts.noFallback
          : missing === 0
            ? texts.differsBetweenPlaces
            : texts.noneInOfPlaces(missing, own.length);
      return {
        key,
        name: (own[0]?.name ?? key).replaceAll('_', ' '),
        /** The one that all uses have; where they differ, the box fills only the gaps. */
        fallback: fallbacks.size === 1 ? (own[0]?.fallback ?? '') : '',
        differs: fallbacks.size > 1,
        hint,
        unknown: !isKnown(this.choices(), own[0]?.name ?? key),
      };
    });
  });
  readonly any = computed(() => this.uses().length > 0);
}
