import pLimit, { type LimitFunction } from 'p-limit';

/**
 * Work that goes on by itself, one task for each key at a time: a slow one holds up nobody else, and is not begun again
 * before it has ended.
 */
export class KeyedTasks {
  private readonly running = new Map<number, Promise<void>>();
  private readonly limited: LimitFunction;
  private done = 0;

  /** @param atOnce tasks that run at the same time; the others wait */
  constructor(atOnce: number) {
    this.limited = pLimit(atOnce);
  }

  isBusy(key: number): boolean {
    return this.running.has(key);
  }

  /** @param task how many things it did; what it throws the next turn throws */
  begin(key: number, task: () => Promise<number>): void {
    if (this.running.has(key)) return;
    const running = this.limited(task)
      .then((n) => void (this.done += n))
      .finally(() => this.running.delete(key));
    this.running.set(key, running);
  }

  /**
   * Waits until all tasks have ended, but no longer than asked.
   *
   * @returns how many things were done since the last turn
   */
  async turn(mostMs: number): Promise<number> {
    const all = Promise.all(this.running.values());
    if (Number.isFinite(mostMs)) {
      let timer: NodeJS.Timeout | undefined;
      await Promise.race([all, new Promise((resolve) => (timer = setTimeout(resolve, mostMs)))]);
      clearTimeout(timer);
    } else await all;
    const { done } = this;
    this.done = 0;
    return done;
  }
}
