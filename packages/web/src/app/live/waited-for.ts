import { signal } from '@angular/core';
import { sentenceOf } from './sentence-of';

/** Work that a form waits for: whether it is under way, and why it failed the last time, in a sentence. */
export class WaitedFor {
  private readonly isBusy = signal(false);
  private readonly failure = signal('');
  readonly busy = this.isBusy.asReadonly();
  readonly problem = this.failure.asReadonly();

  async run(work: () => Promise<void>): Promise<void> {
    this.isBusy.set(true);
    this.failure.set('');
    try {
      await work();
    } catch (error) {
      this.failure.set(sentenceOf(error));
    } finally {
      this.isBusy.set(false);
    }
  }

  /** Says what is wrong before anything is begun; '' for nothing. */
  say(problem: string): void {
    this.failure.set(problem);
  }
}
