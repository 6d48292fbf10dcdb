import { sql } from 'drizzle-orm';
import { wantPlan } from './want-plan';
import { readAgenda } from '../store/duties/agenda-rows';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { TestWorld } from '../testing/test-world';
import { MONDAY } from '../testing/test-store';
import { nightlyPlanDuty, planNight, replan } from './replan';

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

describe('a plan that is made while something changes', () => {
  it('is made again, holds up nobody meanwhile, and plans nobody who has ended', async () => {
    const mailbox = await world.connect('ines');
    const id = await world.begin({ listId: await world.people(people(40)), mailboxIds: [mailbox] });
    // Somebody who is at a delivery, then asks for a plan: the order in which claims and replies lock.
    const stop = async (n: number) => {
      const { rows } = await world.store.pool.query<{ id: number }>(
        `select e.id from enrolments e join contacts c on c.id = e.contact_id where c.key = 'p${n}@vines.example'`,
      );
      await world.store.db.transaction(async (tx) => {
        await tx.execute(sql`select * from deliveries where enrolment_id = ${rows[0]?.id} order by id for update`);
        await tx.execute(sql`delete from deliveries where enrolment_id = ${rows[0]?.id}`);
        await tx.execute(sql`update enrolments set state = 'unsubscribed' where id = ${rows[0]?.id}`);
        await wantPlan(tx, MONDAY);
      });
    };
    await world.store.pool.query('update deliveries set day = day + 7, instant = instant + 7 * 86400000::bigint');
    const stopped = Array.from({ length: 12 }, (_, n) => n);
    const work = Promise.all([...stopped.map(stop), ...stopped.map(() => replan(world.store, MONDAY))]);
    await expect(work).resolves.toBeDefined();
    await replan(world.store, MONDAY);
    const { rows } = await world.store.pool.query(
      `select 1 from deliveries d join enrolments e on e.id = d.enrolment_id where e.state = 'unsubscribed'`,
    );
    expect(rows).toEqual([]);
    const states = Object.values(await world.states(id));
    expect(states.filter((s) => s === 'unsubscribed')).toHaveLength(12);
  });
});

describe('the night’s plan', () => {
  it('is taken where it is plainly better than what has grown, and leaves the rest alone', async () => {
    const ines = await world.connect('ines', { dailyQuota: 5 });
    await world.begin({ listId: await world.people(people(20)), mailboxIds: [ines] });
    const before = await planned();
    expect(await planNight(world.store, MONDAY)).toBe(false);
    expect(await planned()).toEqual(before);
    // As after weeks of holds: everybody's plan is a month late.
    await world.store.pool.query('update deliveries set day = day + 28, instant = instant + 28 * 86400000::bigint');
    expect(await planNight(world.store, MONDAY)).toBe(true);
    expect((await planned()).map((d) => d.instant)).toEqual(before.map((d) => d.instant));
  });

  it('is made once a night, by the workspace’s own clock', async () => {
    const duty = nightlyPlanDuty(world.store);
    const agenda = () => readAgenda(world.store.db, { firstMs: 0, againMs: 0 }, 0);
    expect(await duty.run(MONDAY, await agenda())).toBe(1);
    expect(await duty.run(MONDAY + 3_600_000, await agenda())).toBe(0);
    // Three in the morning in Dublin, which is on UTC in November.
    expect(await duty.nextDue(MONDAY, await agenda())).toBe(Date.parse('2026-11-03T03:00:00Z'));
    expect(await duty.run(Date.parse('2026-11-03T03:00:00Z'), await agenda())).toBe(1);
  });
});

describe('a fresh plan', () => {
  it('ends on the day that the draft said', async () => {
    const mailboxIds = [
      await world.connect('ines', { dailyQuota: 7 }),
      await world.connect('tomas', { dailyQuota: 3 }),
    ];
    const steps = [
      await world.step({ name: 'One' }),
      await world.step({ name: 'Two' }, 3),
      await world.step({ name: 'Three' }, 4),
    ];
    const draft = await world.draft({ listId: await world.people(people(90)), mailboxIds, steps });
    const { people: n, lastDay } = draft.forecast;
    await world.api.post(`/campaigns/${draft.id}/start`, { people: n, lastDay });
    const { forecast } = await world.api.get<{ forecast: { lastDay: string; lastStartDay: string } }>(
      `/campaigns/${draft.id}`,
    );
    expect([forecast.lastDay, forecast.lastStartDay]).toEqual([lastDay, draft.forecast.lastStartDay]);
  });

  it('lets a campaign that starts later share with one that has planned everything', async () => {
    const ines = await world.connect('ines', { dailyQuota: 10 });
    await world.begin({ name: 'Huge', listId: await world.people(people(120)), mailboxIds: [ines] });
    const few = await world.people({ 'late0@orchards.example': 'silent', 'late1@orchards.example': 'silent' });
    const small = await world.begin({ name: 'Small', listId: few, mailboxIds: [ines] });
    const { rows } = await world.store.pool.query<{ campaign_id: number; last: number }>(
      'select campaign_id, max(day) as last from deliveries where step = 0 group by campaign_id',
    );
    const last = (id: number) => rows.find((r) => r.campaign_id === id)?.last ?? 0;
    expect(last(small)).toBeLessThan(last(small - 1));
  });
});
