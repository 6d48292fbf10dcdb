import { afterEach, beforeEach, expect, it } from 'vitest';
import { silentPeople, TestWorld } from '../testing/test-world';

let world: TestWorld;
beforeEach(async () => {
  world = await TestWorld.start();
});
afterEach(() => world.close());

it('a running brief says when the next message leaves, or what keeps it', async () => {
  const [ines, tomas] = [await world.connect('ines'), await world.connect('tomas')];
  const listId = await world.people(silentPeople(6));
  const draft = await world.draft({ listId, mailboxIds: [ines, tomas], dailyLimit: 2 });
  expect(draft.standing).toEqual([]);
  const { people, lastDay } = draft.forecast;
  await world.api.post(`/campaigns/${draft.id}/start`, { people, lastDay });
  const says = async () => (await world.brief(draft.id)).standing;
  await world.drive('2026-11-02T20:00:00Z');
  const [next, windows, limit] = await says();
  expect(next).toMatch(/^The next message leaves on Tue 3 Nov at \d+:\d\d from (ines|tomas)@tidewaterkelp\.example\.$/);
  expect(windows).toBe(
    'ines@tidewaterkelp.example and tomas@tidewaterkelp.example are outside their sending windows (wait for it, or widen it).',
  );
  expect(limit).toBe('Its limit of 2 a day is used up for today (wait, or raise it).');
  await world.store.pool.query(`update campaigns set state = 'held' where id = $1`, [draft.id]);
  expect(await says()).toEqual(['It is held: nothing leaves until it is released.']);
  await world.store.pool.query(`update campaigns set state = 'running' where id = $1`, [draft.id]);
  await world.store.pool.query(`update mailboxes set problem = 'no' where id = $1`, [ines]);
  expect((await says()).join(' ')).toContain('ines@tidewaterkelp.example cannot sign in (sign in again).');
});
