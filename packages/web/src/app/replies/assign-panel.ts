import { ChangeDetectionStrategy, Component, input, linkedSignal, output } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { typedText } from '../look/event-input';
import { repliesTexts } from './texts';

const texts = repliesTexts.assign;

/** Asks which colleague sees to a message; one that messages are assigned to already, or another. */
@Component({
  selector: 'bt-assign-panel',
  imports: [MatButton],
  template: `
    <form (submit)="take($event)">
      <label
        >{{ texts.name }}
        <input
          autocomplete="off"
          maxlength="100"
          list="colleagues"
          [value]="typed()"
          (input)="typed.set(typedText($event))"
        />
      </label>
      <datalist id="colleagues">
        @for (name of colleagues(); track name) {
          <option [value]="name"></option>
        }
      </datalist>
      <div class="acts">
        <button matButton="filled" [disabled]="typed().trim() === ''">{{ texts.assign }}</button>
        @if (name() !== '') {
          <button matButton type="button" (click)="chosen.emit('')">{{ texts.nobody }}</button>
        }
      </div>
    </form>
  `,
  styles: `
    form {
      display: grid;
      gap: 10px;
      width: 260px;
      padding: 12px 14px;
    }
    label {
      display: grid;
      gap: 4px;
    }
    input {
      padding: 5px 9px;
      border: 1px solid var(--line);
      background: var(--sheet);
    }
    .acts {
      display: flex;
      gap: 8px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class AssignPanel {
  protected readonly texts = texts;
  protected readonly typedText = typedText;
  /** Who sees to it now; '' for nobody. */
  readonly name = input.required<string>();
  readonly colleagues = input.required<readonly string[]>();
  readonly chosen = output<string>();
  protected readonly typed = linkedSignal(() => this.name());

  protected take(event: Event): void {
    event.preventDefault();
    const name = this.typed().trim();
    if (name !== '') this.chosen.emit(name);
  }
}
