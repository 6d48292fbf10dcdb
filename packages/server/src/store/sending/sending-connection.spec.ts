import { sql } from 'drizzle-orm';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createTestStore, type TestStore } from '../../testing/test-store';
import { prepared } from '../database';
import { endWith, withSendingLock, type SendingConnection } from './sending-connection';

let store: TestStore;
beforeEach(async () => {
  store = await createTestStore();
  await store.pool.query('create table scraps (id int primary key, words text not null)');
});
afterEach(() => store.drop());

const scraps = async () =>
  (await store.pool.query<{ id: number }>('select id from scraps order by id')).rows.map((r) => r.id);
const noted = prepared<{ id: number }, { id: number }>(
  'note',
  (value) => sql`insert into scraps values (${value('id')}, 'kelp') returning id`,
);
const note = (id: number) => sql`insert into scraps values (${id}, 'kelp')`;
const locked = <T>(work: (on: SendingConnection) => Promise<T>) => withSendingLock(store, 1, work);

describe('a sending connection', () => {
  it('keeps all that a transaction did, the last statement with it', async () => {
    const result = await locked((on) =>
      on.transaction(async (tx) => {
        await tx.execute(note(1));
        await tx.execute(note(2));
        return endWith(noted.bind({ id: 3 }), ([row]) => row?.id);
      }),
    );
    expect(result).toBe(3);
    expect(await scraps()).toEqual([1, 2, 3]);
  });

  it.each<[string, (on: SendingConnection) => Promise<unknown>, RegExp]>([
    [
      'a statement in the middle',
      (on) =>
        on.transaction(async (tx) => {
          await tx.execute(note(1));
          await tx.execute(note(1));
          return { result: 'done' };
        }),
      /Failed query/,
    ],
    [
      'the last statement',
      (on) =>
        on.transaction(async (tx) => {
          await tx.execute(note(1));
          return endWith(noted.bind({ id: 1 }), () => 'done');
        }),
      /duplicate key/,
    ],
    [
      'what is no statement',
      (on) =>
        on.transaction(async (tx) => {
          await tx.execute(note(1));
          throw new Error('out of kelp');
        }),
      /out of kelp/,
    ],
    // What was not there when it was committed must not be taken for kept.
    [
      'a statement whose failure nobody minds',
      (on) =>
        on.transaction(async (tx) => {
          await tx.execute(note(1));
          await tx.execute(note(1)).catch(() => undefined);
          return { result: 'done' };
        }),
      /rolled back/,
    ],
  ])('keeps nothing where %s fails, says so, and goes on', async (_, failing, words) => {
    await locked(async (on) => {
      await expect(failing(on)).rejects.toThrow(words);
      expect(await scraps()).toEqual([]);
      await on.transaction(async (tx) => {
        await tx.execute(note(5));
        return { result: 'done' };
      });
    });
    expect(await scraps()).toEqual([5]);
  });

  it('is one mailbox’s and one process’s alone', async () => {
    await locked(async () => {
      expect(await locked(() => Promise.resolve('too'))).toBeNull();
      expect(await withSendingLock(store, 2, () => Promise.resolve('another'))).toBe('another');
    });
    expect(await locked(() => Promise.resolve('again'))).toBe('again');
  });

  it('knows that it has lost its lock, and does nothing more', async () => {
    await locked(async (on) => {
      const { rows } = await on.db.execute<{ pid: number }>(sql`select pg_backend_pid() as pid`);
      await store.pool.query('select pg_terminate_backend($1)', [rows[0]?.pid]);
      await expect(on.db.execute(note(1))).rejects.toThrow();
      await vi.waitFor(() => expect(on.isHeld()).toBe(false), { timeout: 60_000 });
    });
    expect(await scraps()).toEqual([]);
    expect(await locked(() => Promise.resolve('again'))).toBe('again');
  });
});
