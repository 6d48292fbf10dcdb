import { describe, expect, it } from 'vitest';
import type { Store } from '../store/database';
import type { WorkspaceClock } from '../time/workspace-clock';
import { SignalRecorder } from './signal-recorder';

const SIGNAL = {
  deliveryId: 1,
  kind: 'click',
  link: 'https://tidewaterkelp.example/',
  links: 1,
  told: '',
  country: null,
} as const;
const CLOCK = { now: () => Promise.resolve(0) } as WorkspaceClock;

/** A recorder over a database that does with each statement what `write` does. */
function recorderOver(write: () => Promise<unknown>) {
  const told: number[] = [];
  const store = { db: { execute: write } } as unknown as Pick<Store, 'db'>;
  return { recorder: new SignalRecorder(store, CLOCK, (_, lost) => told.push(lost)), told };
}

describe('writing requests down', () => {
  it('lets nobody wait for a database that does not answer', async () => {
    const { recorder } = recorderOver(() => new Promise(() => undefined));
    await Promise.all(Array.from({ length: 50 }, () => recorder.record(SIGNAL)));
  });

  it('gathers what comes while it writes into one statement', async () => {
    let statements = 0;
    const { recorder } = recorderOver(() => {
      statements++;
      return new Promise((resolve) => setImmediate(resolve));
    });
    await Promise.all(Array.from({ length: 400 }, () => recorder.record(SIGNAL)));
    expect(statements).toBeLessThanOrEqual(2);
  });

  it('tries again when the database comes back, and then answers at once', async () => {
    let failures = 2;
    let written = 0;
    const { recorder, told } = recorderOver(() => {
      if (failures-- > 0) return Promise.reject(new Error('away'));
      written++;
      return Promise.resolve();
    });
    await recorder.record(SIGNAL);
    await expect.poll(() => written, { timeout: 60_000 }).toBe(1);
    expect(told).toEqual([0, 0]);
  });

  it('keeps no more than so many while the database is away, and tells what is lost', async () => {
    const { recorder, told } = recorderOver(() => new Promise(() => undefined));
    await Promise.all(Array.from({ length: 10_050 }, () => recorder.record(SIGNAL)));
    expect(told).toEqual(Array<number>(50).fill(1));
  });
});
