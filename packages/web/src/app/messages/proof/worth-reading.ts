import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { Reading, RiskyProof } from '@baton/contract';
import type { MessageCheck } from '@baton/core';
import { messagesProofTexts } from './texts';

const texts = messagesProofTexts.worthReading;

/** Cards in one row. */
const SHOWN = 6;

/** The proofs that are worth reading first, each with its reason, and what is to be mended or looked at in the text. */
@Component({
  selector: 'bt-worth-reading',
  imports: [MatButton],
  templateUrl: './worth-reading.html',
  styleUrl: './worth-reading.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WorthReading {
  protected readonly texts = texts;
  readonly reading = input.required<Reading | null>();
  readonly busy = input.required<boolean>();
  /** The recipient shown. */
  readonly index = input.required<number>();
  readonly chosen = output<number>();
  readonly checkPressed = output<MessageCheck>();

  protected readonly tab = signal<'worth' | 'checks'>('worth');
  protected readonly page = signal(0);
  protected readonly worth = computed(() => this.reading()?.worth ?? []);
  protected readonly pages = computed(() => Math.max(1, Math.ceil(this.worth().length / SHOWN)));
  protected readonly shown = computed(() => {
    const from = Math.min(this.page(), this.pages() - 1) * SHOWN;
    return this.worth().slice(from, from + SHOWN);
  });
  protected readonly checks = computed(() => {
    const checks = this.reading()?.checks ?? [];
    return [...checks.filter((c) => c.level === 'stop'), ...checks.filter((c) => c.level === 'look')];
  });
  protected readonly summary = computed(() => {
    const stop = this.checks().filter((c) => c.level === 'stop').length;
    const look = this.checks().length - stop;
    if (stop + look === 0) return texts.nothingToFix;
    return [stop > 0 ? texts.toFix(stop) : '', look > 0 ? texts.toCheck(look) : ''].filter((w) => w !== '').join(', ');
  });

  protected allReasons(proof: RiskyProof): string {
    return proof.reasons.map((r) => r.words).join('; ');
  }

  protected turn(by: number): void {
    this.page.update((p) => (p + by + this.pages()) % this.pages());
  }
}
