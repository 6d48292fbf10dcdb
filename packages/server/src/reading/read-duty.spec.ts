import { MINUTE_MS } from '@baton/core';
import { expect, it } from 'vitest';
import type { Agenda } from '../store/duties/agenda-rows';
import { readDuty, type ReadingParts } from './read-duty';

const EVERY_MS = 3 * MINUTE_MS;
const LAST_MS = Date.parse('2026-11-02T09:00:10Z');

/** When each of these mailboxes is read next, all read at the same time before. */
async function dues(ids: readonly number[], waitMs: number): Promise<number[]> {
  const parts = { pace: { now: (ms: number) => ms, waitMs }, everyMs: EVERY_MS } as unknown as ReadingParts;
  const duty = readDuty(parts);
  return Promise.all(
    ids.map(
      async (id) =>
        (await duty.nextDue(LAST_MS, { toRead: [{ id, lastReadAt: LAST_MS }] } as unknown as Agenda)) ?? NaN,
    ),
  );
}

const ids = Array.from({ length: 200 }, (_, i) => i + 1);

it('in real time mailboxes are read one after another, each as often as all', async () => {
  const at = await dues(ids, 50);
  expect(at.every((t) => t > LAST_MS && t <= LAST_MS + EVERY_MS)).toBe(true);
  // In no ten seconds of the three minutes more than a few.
  const bySlice = new Map<number, number>();
  for (const t of at) bySlice.set(Math.floor(t / 10_000), (bySlice.get(Math.floor(t / 10_000)) ?? 0) + 1);
  expect(Math.max(...bySlice.values())).toBeLessThan(30);
});

it('simulated they are read at the same moments, so that a week goes by in seconds', async () => {
  expect(new Set(await dues(ids, Infinity))).toEqual(new Set([Date.parse('2026-11-02T09:03:00Z')]));
});
