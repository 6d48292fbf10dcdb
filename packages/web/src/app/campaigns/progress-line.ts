import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { RecipientState } from '@baton/core';

const PARTS: { state: RecipientState; words: string }[] = [
  { state: 'replied', words: 'replied' },
  { state: 'done', words: 'done' },
  { state: 'in_progress', words: 'in progress' },
  { state: 'waiting', words: 'waiting' },
  { state: 'bounced', words: 'bounced' },
  { state: 'unsubscribed', words: 'unsubscribed' },
  { state: 'stopped', words: 'stopped' },
  { state: 'left_out', words: 'left out' },
];

/** A campaign's people as one line, each state as wide as it has people, and the same in words. */
@Component({
  selector: 'bt-progress-line',
  template: `
    <span class="line" aria-hidden="true">
      @for (p of parts(); track p.state) {
        <span [class]="p.state" [style.flex-grow]="p.n"></span>
      }
    </span>
    <span class="words">
      @for (p of parts(); track p.state) {
        <span><i [class]="p.state" aria-hidden="true"></i>{{ p.n }} {{ p.words }}</span>
      }
    </span>
  `,
  styleUrl: './progress-line.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ProgressLine {
  readonly states = input.required<Partial<Record<RecipientState, number>>>();
  protected readonly parts = computed(() =>
    PARTS.map((p) => ({ ...p, n: this.states()[p.state] ?? 0 })).filter((p) => p.n > 0),
  );
}
