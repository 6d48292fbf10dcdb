import { randomBytes } from 'node:crypto';
import { inject } from 'vitest';
import { openStore, type Store } from '../store/database';
import { ensureWorkspace } from '../store/workspace-rows';
import { TEMPLATE, withDatabase } from './global-setup';

export interface TestStore extends Store {
  /** Closes it and drops its database. */
  drop(): Promise<void>;
}

/** Monday, eight in the morning in Dublin: a working week lies ahead. */
export const MONDAY = Date.parse('2026-11-02T08:00:00Z');

/** A database of the test's own, with its workspace, whose clock is at `nowMs` and is driven. */
export async function createTestStore(nowMs = MONDAY): Promise<TestStore> {
  const root = openStore(inject('postgresUrl'));
  const name = `baton_test_${randomBytes(6).toString('hex')}`;
  await root.pool.query(`create database ${name} template ${TEMPLATE} strategy wal_log`);
  const store = openStore(withDatabase(inject('postgresUrl'), name));
  await ensureWorkspace(store.db, {
    workspace: { name: 'Tidewater Kelp Works', zone: 'Europe/Dublin', postalAddress: '4 Slip Road, Carrow Bay' },
    clock: { simulated: true, nowMs, anchorRealMs: 0, rate: 0 },
  });
  return {
    ...store,
    async drop() {
      await store.close();
      await root.pool.query(`drop database ${name} with (force)`);
      await root.close();
    },
  };
}
