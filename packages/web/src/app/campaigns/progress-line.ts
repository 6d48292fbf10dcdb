import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { recipientStateWords, type RecipientState } from '@baton/core';
import { CountPipe } from '../look/count-pipe';

/** What went well first, then what is under way, then what ended otherwise. */
const ORDER: readonly RecipientState[] = [
  'replied',
  'done',
  'in_progress',
  'waiting',
  'bounced',
  'unsubscribed',
  'stopped',
  'left_out',
];

/** A campaign's people as one line, each state as wide as it has people, and the same in words. */
@Component({
  selector: 'bt-progress-line',
  imports: [CountPipe],
  template: `
    <span class="line" aria-hidden="true">
      @for (p of parts(); track p.state) {
        <span [class]="p.state" [style.flex-grow]="p.n"></span>
      }
    </span>
    <span class="words">
      @for (p of parts(); track p.state) {
        <span><i [class]="p.state" aria-hidden="true"></i>{{ p.n | count }} {{ p.words }}</span>
      }
    </span>
  `,
  styleUrl: './progress-line.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ProgressLine {
  readonly states = input.required<Partial<Record<RecipientState, number>>>();
  protected readonly parts = computed(() =>
    ORDER.map((state) => ({ state, words: recipientStateWords(state), n: this.states()[state] ?? 0 })).filter(
      (p) => p.n > 0,
    ),
  );
}
