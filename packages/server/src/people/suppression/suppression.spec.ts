import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { SuppressionImport, SuppressionList, SuppressionView } from '@baton/contract';
import { TestWorld } from '../../testing/test-world';

let world: TestWorld;
beforeAll(async () => {
  world = await TestWorld.start();
});
afterAll(() => world.close());

const find = (search: string) => world.api.get<SuppressionList>(`/suppressions?search=${encodeURIComponent(search)}`);
const entries = async () => (await find('')).entries;

describe('the suppression list', () => {
  it('comes from a file, at once stops whom it covers, and goes into a file that comes back the same', async () => {
    const mailbox = await world.connect('ines');
    const listId = await world.people({
      'a@vines.example': 'silent',
      'b@slate.example': 'silent',
      'c@oak.example': 'silent',
    });
    const id = await world.begin({ listId, mailboxIds: [mailbox] });
    const csv = 'who,reason\nA@vines.example,asked\nslate.example,customer\nslate.example,again\nnothing at all,';
    const done = await world.api.upload<SuppressionImport>('/suppressions/import', 'left.csv', csv);
    expect(done).toMatchObject({ added: 2, known: 1, aside: [{ line: 5 }] });
    expect(await world.states(id)).toEqual({
      'a@vines.example': 'stopped',
      'b@slate.example': 'stopped',
      'c@oak.example': 'waiting',
    });
    const before = await entries();
    expect(before.map((e) => [e.kind, e.key, e.reason, e.source])).toEqual(
      expect.arrayContaining([
        ['address', 'a@vines.example', 'asked', 'left.csv'],
        ['domain', 'slate.example', 'customer', 'left.csv'],
      ]),
    );
    const file = await (await fetch(`${world.url}/api/suppressions.csv`)).text();
    for (const e of before) await world.api.remove(`/suppressions/${e.id}`);
    expect(await entries()).toEqual([]);
    await world.api.upload('/suppressions/import', 'back.csv', file);
    const keys = (all: SuppressionView[]) => all.map((e) => `${e.kind} ${e.key} ${e.reason}`).sort();
    expect(keys(await entries())).toEqual(keys(before));
  });

  it('is searched by address, reason and source, and shows the domain that covers an address', async () => {
    const lines = Array.from({ length: 600 }, (_, i) => `p${i}@many.example,${i % 2 === 0 ? 'asked' : 'customer'}`);
    await world.api.upload(
      '/suppressions/import',
      'many.csv',
      ['who,reason', 'cellar.example,all', ...lines].join('\n'),
    );
    const all = await find('');
    expect(all.found).toBe(all.total);
    expect(all.entries).toHaveLength(500);
    expect(await find('p41@')).toMatchObject({ found: 1, entries: [{ key: 'p41@many.example', reason: 'customer' }] });
    expect((await find('Customer')).found).toBeGreaterThanOrEqual(300);
    expect((await find('many.csv')).found).toBe(601);
    expect((await find('Odile@Cellar.example')).entries.map((e) => e.key)).toEqual(['cellar.example']);
    expect(await find('100 %')).toMatchObject({ found: 0, entries: [], total: all.total });
  });

  it('takes only addresses and domains', async () => {
    await expect(world.api.post('/suppressions', { what: 'not one', reason: '' })).rejects.toThrow(
      'neither an address nor a domain',
    );
  });
});
