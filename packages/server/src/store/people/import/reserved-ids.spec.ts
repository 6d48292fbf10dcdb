import { afterAll, beforeAll, expect, it } from 'vitest';
import { TestWorld } from '../../../testing/test-world';
import { reservedIds } from './reserved-ids';

let world: TestWorld;
beforeAll(async () => {
  world = await TestWorld.start();
});
afterAll(() => world.close());

const nextOf = async (sequence: string): Promise<number> => {
  const { rows } = await world.store.pool.query<{ id: number }>(`select nextval('${sequence}')::int as id`);
  return rows[0]!.id;
};

it('ids are in a row, and nobody’s twice, whoever else takes some at the same time', async () => {
  const before = { row: await nextOf('list_rows_id_seq'), person: await nextOf('contacts_id_seq') };
  const counts = [1, 5000, 8000, 20_000, 300_000, 3];
  const taken: [from: number, count: number][] = [];
  const others: number[] = [];
  const take = async () => {
    const ids = reservedIds(world.store.db);
    for (const count of counts) {
      const { row, person } = await ids(count);
      taken.push([row, count]);
      expect(person).toBeGreaterThan(before.person);
    }
  };
  const takeOne = async () => {
    for (let i = 0; i < 40; i++) others.push(await nextOf('list_rows_id_seq'));
  };
  await Promise.all([take(), take(), takeOne()]);
  const all = [...taken, ...others.map((id): [number, number] => [id, 1])].sort(([a], [b]) => a - b);
  let end = before.row + 1;
  for (const [from, count] of all) {
    expect(from).toBeGreaterThanOrEqual(end);
    end = from + count;
  }
  expect(await nextOf('list_rows_id_seq')).toBeGreaterThanOrEqual(end);
});
