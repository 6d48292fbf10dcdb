import { inject, Injectable } from '@angular/core';
import { MatSnackBar } from '@angular/material/snack-bar';
import { sentenceOf } from './sentence-of';
import { liveTexts } from './texts';

const texts = liveTexts.notices;

/** Short sentences at the foot of the page. */
@Injectable({ providedIn: 'root' })
export class Notices {
  private readonly bar = inject(MatSnackBar);

  say(text: string): void {
    this.bar.open(text, undefined, { duration: 5000 });
  }

  /** Says it at the head of the page, with something to press, for so long. @param act is done when that is pressed */
  offer(text: string, action: string, durationMs: number, act: () => void): void {
    const shown = this.bar.open(text, action, { duration: durationMs, verticalPosition: 'top' });
    shown.onAction().subscribe(act);
  }

  /** Stays until it is closed: what failed should be read. */
  failure(error: unknown): void {
    this.bar.open(sentenceOf(error), texts.close, { duration: 15_000 });
  }
}
