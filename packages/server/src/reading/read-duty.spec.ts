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

it('a mailbox whose server tells of new mail is read at once, though not again within five seconds', async () => {
  let tell: () => void = () => undefined;
  const asked: number[] = [];
  const reader = {
    tellOfNew: (told: () => void) => (tell = told),
    isUnchanged: () => Promise.resolve(asked.push(1) > 0),
  };
  // One that is not read soon anyway.
  const id = ids[(await dues(ids, 50)).findIndex((t) => t > LAST_MS + MINUTE_MS)] as number;
  const mailbox = { id, smtp: {}, imap: {}, username: 'ines', uidNext: 1, sentUidNext: 1, folders: [] };
  const rows = () => Object.assign(Promise.resolve([mailbox]), { where: rows, orderBy: rows, set: rows, from: rows });
  const parts = {
    ...{ pace: { now: (ms: number) => ms, waitMs: 50 }, everyMs: EVERY_MS },
    store: { db: { select: rows, update: rows } },
    connections: { reader: () => reader },
  } as unknown as ReadingParts;
  const duty = readDuty(parts);
  const at = (lastReadAt: number) => ({ toRead: [{ id, lastReadAt }] }) as unknown as Agenda;
  await duty.run(LAST_MS, at(LAST_MS - EVERY_MS));
  await duty.settle?.();
  expect(asked).toHaveLength(1);
  expect(await duty.nextDue(LAST_MS, at(LAST_MS))).toBeGreaterThan(LAST_MS + 5_000);
  tell();
  expect(await duty.nextDue(LAST_MS, at(LAST_MS))).toBe(LAST_MS + 5_000);
  await duty.run(LAST_MS + 5_000, at(LAST_MS));
  await duty.settle?.();
  expect(asked).toHaveLength(2);
  expect(await duty.nextDue(LAST_MS + 5_000, at(LAST_MS + 5_000))).toBeGreaterThan(LAST_MS + 10_000);
});

it('simulated they are read at the same moments, so that a week goes by in seconds', async () => {
  expect(new Set(await dues(ids, Infinity))).toEqual(new Set([Date.parse('2026-11-02T09:03:00Z')]));
});
