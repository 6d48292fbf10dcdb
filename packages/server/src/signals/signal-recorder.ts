import { setTimeout as pause } from 'node:timers/promises';
import type { Store } from '../store/database';
import { addSignals, type NewSignal } from '../store/signals/signal-rows';
import { backOffMs } from '../time/back-off';
import type { WorkspaceClock } from '../time/workspace-clock';

/** Requests written in one statement. */
const AT_ONCE = 500;
/** Requests that wait while the database is away; what comes on top of them is not counted. */
const MOST_WAITING = 10_000;
/** Pauses after the database could not be written to, the first and the longest. */
const FAILED_MS = 250;
const FAILED_MOST_MS = 10_000;
/** Whoever follows a link waits no longer for its being written down: longer than that, the disk is slow or the database away. */
const PATIENCE_MS = 30;

interface Waiting {
  signal: Omit<NewSignal, 'at'>;
  done: () => void;
}

/**
 * Writes down the requests for pictures and links. While some are written, others gather for the next statement, so that many
 * cost little more than one.
 */
export class SignalRecorder {
  private waiting: Waiting[] = [];
  private isWriting = false;

  constructor(
    private readonly store: Pick<Store, 'db'>,
    private readonly clock: WorkspaceClock,
    private readonly failed: (error: unknown, lost: number) => void,
  ) {}

  /** Until it has been written down, or that has taken too long: then it will be later. */
  async record(signal: Omit<NewSignal, 'at'>): Promise<void> {
    if (this.waiting.length >= MOST_WAITING) return this.failed(new Error('too many signals wait'), 1);
    const written = new Promise<void>((done) => this.waiting.push({ signal, done }));
    void this.write();
    const patience = new AbortController();
    await Promise.race([written, pause(PATIENCE_MS, undefined, { signal: patience.signal }).catch(() => undefined)]);
    patience.abort();
  }

  private async write(): Promise<void> {
    if (this.isWriting) return;
    this.isWriting = true;
    for (let failures = 0; this.waiting.length > 0;) {
      const some = this.waiting.slice(0, AT_ONCE);
      try {
        const at = await this.clock.now();
        await addSignals(
          this.store.db,
          some.map(({ signal }) => ({ ...signal, at })),
        );
        failures = 0;
        this.waiting = this.waiting.slice(some.length);
        for (const { done } of some) done();
      } catch (error) {
        failures++;
        this.failed(error, 0);
        await pause(backOffMs(failures, FAILED_MS, FAILED_MOST_MS), undefined, { ref: false });
      }
    }
    this.isWriting = false;
  }
}
