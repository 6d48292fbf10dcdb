import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { TestWorld } from '../../../testing/test-world';
import type { StagedRow } from './copy-writer';
import { addList, reserveListId } from '../list/list-rows';
import { removeRowsOf } from '../list/row-removal';
import { ensureSortIndex } from '../list/sort-index';
import { dropStaged, stageRows } from './staged-rows';
import { storeNewList } from './store-new-list';

let world: TestWorld;
beforeAll(async () => {
  world = await TestWorld.start();
});
afterAll(() => world.close());

const ROWS = 20_500;
const IMPORT = 9002;

/** Stages people `p{from}`, `p{from + 1}`, … and stores them as a list. @returns its id */
async function store(from: number, rows: number, now = 5): Promise<number> {
  const listId = await reserveListId(world.store.db);
  const all = Array.from({ length: rows }, (_, i): StagedRow => {
    const key = `p${from + i}@grove${i % 9}.example`;
    const rest = { zone: null, sendOn: null, notes: [], plain: null, at: 0 };
    return { line: i + 2, address: key, key, domain: `grove${i % 9}.example`, fields: { n: `${from + i}` }, ...rest };
  });
  await stageRows(
    world.store,
    { importId: IMPORT, newList: listId },
    (async function* () {
      yield all;
    })(),
  );
  await storeNewList(world.store, {
    ...{ importId: IMPORT, listId, rows, now },
    addList: (tx) => addList(tx, { id: listId, name: 'Large', source: 'large.csv', createdAt: now }, []),
    finish: (tx) => dropStaged(tx, IMPORT),
  });
  return listId;
}

async function asked<T extends object>(query: string): Promise<T[]> {
  return (await world.store.pool.query<T>(query)).rows;
}

/** Runs while somebody else has a lock. */
async function locked<T>(lock: string, act: () => Promise<T>): Promise<T> {
  const other = await world.store.pool.connect();
  try {
    await other.query(`begin; ${lock}`);
    return await act();
  } finally {
    await other.query('rollback');
    other.release();
  }
}

const ofPeople = async () => [
  await asked(`select indexname, indexdef from pg_indexes where tablename = 'contacts' order by 1`),
  await asked(`select conname, pg_get_constraintdef(oid) as def from pg_constraint where contype = 'u' order by 1`),
];

/** In which table a list's rows are, and whether each is that of its person, in the order of the file. */
const soundness = (listId: number) =>
  asked(`
    select r.tableoid::regclass::text as place, count(*)::int as rows, min(position) as first,
      count(distinct r.id)::int as ids, count(*) filter (where c.created_at < 5)::int as known,
      count(*) filter (where c.key like 'p' || (r.fields->>'n') || '@%')::int as own
    from list_rows r join contacts c on c.id = r.contact_id where r.list_id = ${listId} group by 1`);
const sound = (place: string, rows: number, known = 0) => [{ place, rows, first: 2, ids: rows, known, own: rows }];

/** Indexes of the lists' table that a partition of it has no counterpart of. */
const indexesMissing = (partition: string) =>
  asked(`
    select i.indexrelid::regclass::text as name from pg_index i where i.indrelid = 'list_rows'::regclass
      and not exists (select from pg_inherits h join pg_index own on own.indexrelid = h.inhrelid
        where h.inhparent = i.indexrelid and own.indrelid = '${partition}'::regclass and own.indisvalid)`);
const leftOver = () => asked(`select relname from pg_class where relname like 'import\\_%\\_${IMPORT}'`);

describe('a list stored at once', () => {
  it('stands among others while it is small', async () => {
    const id = await store(0, 500, 1);
    expect(await soundness(id)).toEqual(sound('list_rows_others', 500, 500));
    expect(await leftOver()).toEqual([]);
  });

  it('has a partition of its own when it is large; who is known stays who they are, and every index is there', async () => {
    const before = await ofPeople();
    const id = await store(0, ROWS);
    expect(await soundness(id)).toEqual(sound(`list_rows_${id}`, ROWS, 500));
    expect(await asked('select count(*)::int as n from contacts')).toEqual([{ n: ROWS }]);
    expect(await indexesMissing(`list_rows_${id}`)).toEqual([]);
    expect(await ofPeople()).toEqual(before);
    expect(await leftOver()).toEqual([]);
    await expect(
      world.store.pool.query(
        `insert into list_rows (list_id, contact_id, position, fields)
         select list_id, contact_id, 0, '{}' from list_rows where list_id = ${id} limit 1`,
      ),
    ).rejects.toThrow('unique');
  });

  it('is the staged table itself where nobody is known yet', async () => {
    const id = await store(50_000, ROWS);
    expect(await soundness(id)).toEqual(sound(`list_rows_${id}`, ROWS));
    expect(await indexesMissing(`list_rows_${id}`)).toEqual([]);
    const [order] = await asked<{ plan: string }[]>(`
      explain (format json) select id from list_rows where list_id = ${id} and removed_at is null order by position limit 5`);
    // Only the list's own rows are looked at, by their order.
    expect(JSON.stringify(order)).toContain(`list_rows_${id}`);
    expect(JSON.stringify(order)).not.toContain('list_rows_others');
  });

  it('has its people stored one by one where more are known, or where somebody keeps them', async () => {
    const more = await store(100_000, ROWS - 400);
    expect(await soundness(more)).toEqual(sound(`list_rows_${more}`, ROWS - 400));
    const kept = await locked('lock table contacts in row exclusive mode', () => store(120_000, 4 * ROWS));
    expect(await soundness(kept)).toEqual(sound(`list_rows_${kept}`, 4 * ROWS));
    expect(await asked(`select relname from pg_class where relname = 'contacts_domain_index'`)).toHaveLength(1);
  });

  it('stands among others where somebody reads these', async () => {
    const id = await locked('lock table list_rows_others in access share mode', () => store(300_000, ROWS));
    expect(await soundness(id)).toEqual(sound('list_rows_others', ROWS));
    expect(await asked(`select to_regclass('list_rows_${id}') as own`)).toEqual([{ own: null }]);
  });

  it('has the index of an order in its own partition; all of it goes with the list', async () => {
    const id = await store(400_000, ROWS);
    await ensureSortIndex(world.store, id, { key: 'n', descending: true }, 'number');
    const sorts = () => asked(`select tablename from pg_indexes where indexname like 'list\\_sort\\_${id}\\_%'`);
    expect(await sorts()).toEqual([{ tablename: `list_rows_${id}` }]);
    await world.store.db.transaction((tx) => removeRowsOf(tx, id));
    expect(await sorts()).toEqual([]);
    expect(await asked(`select to_regclass('list_rows_${id}') as own`)).toEqual([{ own: null }]);
    expect(await soundness(id)).toEqual([]);
  });
});
