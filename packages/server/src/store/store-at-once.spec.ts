import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { TestWorld } from '../testing/test-world';
import type { StagedRow } from './copy-writer';
import { addList } from './list-rows';
import { makeStaged, stageRows, storeStagedContacts } from './staged-rows';
import { storeAtOnce, type NewList } from './store-at-once';

let world: TestWorld;
beforeAll(async () => {
  world = await TestWorld.start();
});
afterAll(() => world.close());

const ROWS = 20_500;
const IMPORT = 9002;

async function stage(from: number, rows: number): Promise<void> {
  await makeStaged(world.store.db, IMPORT);
  const all = Array.from({ length: rows }, (_, i): StagedRow => {
    const key = `p${from + i}@grove${i % 9}.example`;
    const rest = { zone: null, sendOn: null, notes: [], plain: null, at: 0 };
    return { line: i + 2, address: key, key, domain: `grove${i % 9}.example`, fields: { n: String(i) }, ...rest };
  });
  await stageRows(
    world.store,
    IMPORT,
    (async function* () {
      yield all;
    })(),
  );
}

const newList = (name: string, rows: number): NewList => ({
  importId: IMPORT,
  rows,
  now: 5,
  addList: (tx) => addList(tx, { name, source: 'large.csv', createdAt: 5 }, []),
  finish: () => Promise.resolve(),
});

async function asked<T extends object>(query: string): Promise<T[]> {
  return (await world.store.pool.query<T>(query)).rows;
}

const indexes = () =>
  asked(`select indexname, indexdef from pg_indexes where tablename in ('contacts', 'list_rows') order by 1`);
const constraints = () =>
  asked(`select conname, pg_get_constraintdef(oid) as def from pg_constraint where contype = 'u' order by 1`);
const counted = async () =>
  (
    await asked<{ people: number; rows: number; lists: number }>(
      `select (select count(*)::int from contacts) as people, (select count(*)::int from list_rows) as rows, (select count(*)::int from lists) as lists`,
    )
  )[0];

describe('very many rows stored at once', () => {
  it('are people and rows as ever: who is known stays who they are, and every index is there again', async () => {
    await stage(0, 500);
    await world.store.db.transaction((tx) => storeStagedContacts(tx, IMPORT, 1));
    const before = [await indexes(), await constraints()];
    await stage(0, ROWS);
    const listId = await storeAtOnce(world.store, newList('Large', ROWS));
    expect(listId).not.toBeNull();
    expect(await counted()).toEqual({ people: ROWS, rows: ROWS, lists: 1 });
    const [sound] = await asked(`
      select count(*)::int as rows, count(*) filter (where c.key like 'p' || (r.fields->>'n') || '@%')::int as own,
        count(*) filter (where c.created_at = 1)::int as known, min(position) as first
      from list_rows r join contacts c on c.id = r.contact_id where r.list_id = ${listId}`);
    expect(sound).toEqual({ rows: ROWS, own: ROWS, known: 500, first: 2 });
    expect([await indexes(), await constraints()]).toEqual(before);
    // Whoever comes next gets ids of their own.
    await stage(ROWS, 1);
    await world.store.db.transaction((tx) => storeStagedContacts(tx, IMPORT, 6));
    expect((await counted())?.people).toBe(ROWS + 1);
  });

  it('are left to be stored one by one where more is there already', async () => {
    await stage(50_000, ROWS - 1);
    expect(await storeAtOnce(world.store, newList('Fewer', ROWS - 1))).toBeNull();
    expect((await counted())?.lists).toBe(1);
  });

  it('are left to be stored one by one where somebody keeps the tables, and leave nothing behind', async () => {
    await stage(100_000, ROWS + 500);
    const other = await world.store.pool.connect();
    try {
      await other.query('begin; lock table contacts in row exclusive mode');
      expect(await storeAtOnce(world.store, newList('Waiting', ROWS + 500))).toBeNull();
      expect(await counted()).toEqual({ people: ROWS + 1, rows: ROWS, lists: 1 });
    } finally {
      await other.query('rollback');
      other.release();
    }
    expect(await storeAtOnce(world.store, newList('Then', ROWS + 500))).not.toBeNull();
    expect(await counted()).toEqual({ people: 2 * ROWS + 501, rows: 2 * ROWS + 500, lists: 2 });
  });
});
