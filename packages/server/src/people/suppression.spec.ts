import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { SuppressionImport, SuppressionView } from '@baton/contract';
import { TestWorld } from '../testing/test-world';

let world: TestWorld;
beforeAll(async () => {
  world = await TestWorld.start();
});
afterAll(() => world.close());

const entries = () => world.api.get<SuppressionView[]>('/suppressions');

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
    const file = await (await fetch(`${world.config.publicUrl}/api/suppressions.csv`)).text();
    for (const e of before) await world.api.remove(`/suppressions/${e.id}`);
    expect(await entries()).toEqual([]);
    await world.api.upload('/suppressions/import', 'back.csv', file);
    const keys = (all: SuppressionView[]) => all.map((e) => `${e.kind} ${e.key} ${e.reason}`).sort();
    expect(keys(await entries())).toEqual(keys(before));
  });

  it('takes only addresses and domains', async () => {
    await expect(world.api.post('/suppressions', { what: 'not one', reason: '' })).rejects.toThrow(
      'neither an address nor a domain',
    );
  });
});
