import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { BriefView } from '@baton/contract';
import { silentPeople, TestWorld } from '../testing/test-world';

let world: TestWorld;
beforeEach(async () => {
  world = await TestWorld.start();
});
afterEach(() => world.close());

const texts = ({ forecast }: BriefView) => forecast.obstacles.filter((o) => o.kind === 'look').map((o) => o.text);
const people = (n: number, at: string): Record<string, string> =>
  Object.fromEntries(Object.entries(silentPeople(n)).map(([address, p]) => [address.replace('vines', at), p]));

describe('what is worth a look before a campaign starts', () => {
  it('is nothing with a new list and a mailbox that begins slowly', async () => {
    const mailbox = await world.connect('ines', { dailyQuota: 20 });
    const draft = await world.draft({ listId: await world.people(silentPeople(3)), mailboxIds: [mailbox] });
    expect(draft.forecast.obstacles).toEqual([]);
  });

  it('is a list of half a year ago', async () => {
    const mailbox = await world.connect('ines', { dailyQuota: 20 });
    const listId = await world.people(silentPeople(3));
    const ago = 200 * 24 * 3_600_000;
    await world.store.pool.query('update lists set created_at = created_at - $1', [ago]);
    const draft = await world.draft({ listId, mailboxIds: [mailbox] });
    expect(texts(draft)).toEqual([
      'The list People is 6 months old: more of its addresses will bounce than of a new one',
    ]);
    expect(draft.forecast.obstacles[0]?.remedy).toMatchObject({ act: 'open_list', listId });
  });

  it('is a mailbox that has never sent and would begin with many, and one that rests', async () => {
    const young = await world.connect('ines', { dailyQuota: 80 });
    const ramps = await world.connect('tomas', { dailyQuota: 80, ramp: { first: 5, add: 5, every: 1 } });
    const rests = await world.connect('hello', { dailyQuota: 20 });
    await world.store.pool.query(`update mailboxes set rest_until = '2026-11-05' where id = $1`, [rests]);
    const listId = await world.people(silentPeople(3));
    expect(texts(await world.draft({ listId, mailboxIds: [young, ramps, rests] }))).toEqual([
      'Baton has never sent from ines@tidewaterkelp.example and would begin with 80 a day; for a new mailbox a ramp is safer',
      'hello@tidewaterkelp.example rests until Thu 5 Nov',
    ]);
  });

  it('is another campaign that would end plainly later', async () => {
    const mailbox = await world.connect('ines', { dailyQuota: 5 });
    await world.begin({ listId: await world.people(people(20, 'salt')), mailboxIds: [mailbox], name: 'Salt marshes' });
    const big = await world.people(people(60, 'holm'));
    const draft = await world.draft({ listId: big, mailboxIds: [mailbox], name: 'Holm', share: 9 });
    expect(texts(draft)).toEqual([
      expect.stringMatching(/^Salt marshes would end on \w+ \d+ \w+ instead of \w+ \d+ Nov$/),
    ]);
    const small = await world.people(people(1, 'lark'));
    expect(texts(await world.draft({ listId: small, mailboxIds: [mailbox], name: 'Lark' }))).toEqual([]);
  });
});
