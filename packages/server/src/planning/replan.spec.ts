import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { TestWorld } from '../testing/test-world';
import { MONDAY } from '../testing/test-store';
import { replan } from './replan';

let world: TestWorld;
beforeEach(async () => {
  world = await TestWorld.start();
});
afterEach(() => world.close());

const people = (n: number) =>
  Object.fromEntries(Array.from({ length: n }, (_, i) => [`p${i}@vines.example`, 'silent']));
const planned = async () =>
  (await world.store.pool.query('select enrolment_id, step, mailbox_id, instant from deliveries order by id')).rows;

describe('replan', () => {
  it('changes nothing when nothing has changed', async () => {
    const mailbox = await world.connect('ines');
    await world.begin({ listId: await world.people(people(30)), mailboxIds: [mailbox] });
    const before = await planned();
    expect(before).toHaveLength(60);
    expect(await replan(world.store, MONDAY)).toBe(0);
    expect(await planned()).toEqual(before);
  });

  it('moves nobody to another mailbox once they have been written to', async () => {
    const ines = await world.connect('ines', { dailyQuota: 5 });
    const tomas = await world.connect('tomas', { dailyQuota: 5 });
    await world.begin({ listId: await world.people(people(12)), mailboxIds: [ines, tomas] });
    await world.drive('2026-11-02T20:00:00Z');
    const { rows } = await world.store.pool.query(
      `select e.id, e.mailbox_id as bound, d.mailbox_id as planned from enrolments e join deliveries d on d.enrolment_id = e.id where e.state = 'in_progress'`,
    );
    expect(rows.length).toBeGreaterThan(5);
    for (const r of rows) expect(r.planned).toBe(r.bound);
  });

  it('gives the quota freed by a reply to whoever waits', async () => {
    const mailbox = await world.connect('ines', { dailyQuota: 2 });
    const listId = await world.people({ ...people(8), 'p0@vines.example': 'keen' });
    const id = await world.begin({ listId, mailboxIds: [mailbox] });
    const before = await world.api.get<{ forecast: { lastDay: string } }>(`/campaigns/${id}`);
    await world.drive('2026-11-04T08:00:00Z');
    const left = await world.store.pool.query(`select count(*)::int as n from deliveries where state = 'planned'`);
    expect(left.rows[0].n).toBeLessThan(16);
    const after = await world.api.get<{ forecast: { lastDay: string } }>(`/campaigns/${id}`);
    expect(after.forecast.lastDay <= before.forecast.lastDay).toBe(true);
  });

  it('is left to the process that is at it', async () => {
    const mailbox = await world.connect('ines');
    await world.begin({ listId: await world.people(people(3)), mailboxIds: [mailbox] });
    const results = await Promise.all([replan(world.store, MONDAY), replan(world.store, MONDAY)]);
    expect(results.filter((r) => r === null).length).toBeLessThanOrEqual(1);
    expect(await planned()).toHaveLength(6);
  });
});
