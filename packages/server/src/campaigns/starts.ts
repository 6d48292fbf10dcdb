import { DomainError } from '@baton/core';
import type { StartProgress } from '@baton/contract';

/** Told by a start as it goes on; throws where it has been cancelled. */
export type TellProgress = (progress: StartProgress) => void;

interface UnderWay {
  progress: StartProgress;
  isCancelled: boolean;
}

/** Campaigns that are being started in this process: a large one takes a while, and can be cancelled until it is running. */
export class Starts {
  private readonly underWay = new Map<number, UnderWay>();

  /**
   * @param start one transaction up to the phase `planning`, which it tells at its end: a cancelled or killed one leaves a draft
   * @throws DomainError `conflict` where it is being started already, or is cancelled
   */
  async run(id: number, start: (tell: TellProgress) => Promise<void>): Promise<void> {
    if (this.underWay.has(id)) throw new DomainError('conflict', 'The campaign is being started already.');
    const own: UnderWay = { progress: { phase: 'reading', done: 0, of: 0 }, isCancelled: false };
    this.underWay.set(id, own);
    try {
      await start((progress) => {
        if (own.isCancelled)
          throw new DomainError('conflict', 'The start has been cancelled; the campaign is a draft as before.');
        own.progress = progress;
      });
    } finally {
      this.underWay.delete(id);
    }
  }

  /** How far the start of a campaign is; null where it is not being started. */
  progress(id: number): StartProgress | null {
    return this.underWay.get(id)?.progress ?? null;
  }

  /** @throws DomainError `conflict` where it is not being started any more, or cannot be stopped */
  cancel(id: number): void {
    const own = this.underWay.get(id);
    if (!own || own.progress.phase === 'planning')
      throw new DomainError('conflict', 'It is too late to cancel; a start can be undone while nothing has left.');
    own.isCancelled = true;
  }
}
