import type { ReplyPage, TodayView } from '@baton/contract';
import { sql } from 'drizzle-orm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ServerParts } from '../http/context';
import { MONDAY } from '../testing/test-store';
import { TestWorld } from '../testing/test-world';
import { systemClock } from '../time/system-clock';
import { workspaceClock } from '../time/workspace-clock';
import { viewToday } from './today-service';

const REPLIES = 28;
let world: TestWorld;

beforeAll(async () => {
  world = await TestWorld.start();
  const mailbox = await world.connect('ines', { dailyQuota: 50 });
  const people = Object.fromEntries(Array.from({ length: REPLIES }, (_, i) => [`p${i}@x.example`, 'silent']));
  await world.begin({ listId: await world.people(people), mailboxIds: [mailbox], steps: [await world.step({})] });
  // As if each of them had replied; what replies do is tested where they are read.
  await world.store.db.execute(sql`
    insert into incoming (mailbox_id, uid_validity, uid, raw, received_at, from_name, from_key, subject, body, message_id,
      kind, because, did, enrolment_id)
    select ${mailbox}, '1', e.id, '', 1000 + e.id, 'P', 'p@x.example', 'Re', 'Yes', e.id || '@x.example', 'reply', '', '', e.id
    from enrolments e`);
});
afterAll(() => world.close());

const needs = async () => (await world.api.get<TodayView>('/today')).needs.filter((n) => n.kind === 'answer');

describe('what needs a person', () => {
  it('counts every reply, also those that are not listed', async () => {
    const listed = await needs();
    expect(listed.reduce((sum, n) => sum + (n.count ?? 1), 0)).toBe(REPLIES);
    expect(listed).toHaveLength(21);
    expect(listed.at(-1)).toMatchObject({ title: '8 more replies', link: '/replies', count: 8 });
  });

  it('agrees with the list of replies, whose pages have them all', async () => {
    const page = (query: string) => world.api.get<ReplyPage>(`/replies?${query}`);
    const first = await page('show=without_outcome&limit=20');
    expect([first.replies.length, first.total, first.counts.all]).toEqual([20, REPLIES, REPLIES]);
    const rest = await page('show=without_outcome&limit=20&offset=20');
    expect(new Set([...first.replies, ...rest.replies].map((r) => r.id)).size).toBe(REPLIES);
    expect(await page('show=bounce')).toMatchObject({ replies: [], total: 0 });
    await expect(page('show=nonsense')).rejects.toThrow('400');
    await expect(page('limit=1001')).rejects.toThrow('400');
  });

  it('has no line for others where all are listed', async () => {
    const { replies } = await world.api.get<ReplyPage>('/replies?show=without_outcome');
    for (const r of replies.slice(20)) await world.api.put(`/replies/${r.id}/outcome`, { outcome: 'later' });
    expect(await needs()).toHaveLength(20);
    expect((await needs()).every((n) => n.count === undefined)).toBe(true);
  });

  it('knows a mailbox that has not been read for ten minutes of real time', async () => {
    const parts = {
      ...{ store: world.store, config: { ...world.config, simulatorUrl: null } },
      clock: workspaceClock(world.store.db, systemClock),
    } as unknown as ServerParts;
    const problems = async () => (await viewToday(parts)).needs.filter((n) => n.kind === 'problem');
    await world.store.db.execute(sql`update mailboxes set last_read_at = ${MONDAY - 9 * 60_000}`);
    expect(await problems()).toEqual([]);
    await world.store.db.execute(sql`update mailboxes set last_read_at = ${MONDAY - 10 * 60_000}`);
    expect(await problems()).toMatchObject([
      { title: 'ines@tidewaterkelp.example has not been read since Mon 2 Nov, 7:50', link: '/mailboxes/1' },
    ]);
  });

  it('is put off until a day to come, and comes back by itself or when it is asked for', async () => {
    const resting = async () => (await world.api.get<TodayView>('/today')).needs.find((n) => n.kind === 'resting');
    await world.store.db.execute(sql`update mailboxes set rest_until = '2026-11-20', last_read_at = ${MONDAY}`);
    const key = (await resting())?.key;
    expect((await resting())?.putOffUntil).toBeUndefined();
    await world.api.put('/today/put-off', { key, until: '2026-11-05' });
    expect((await resting())?.putOffUntil).toBe('2026-11-05');
    await expect(world.api.put('/today/put-off', { key, until: '2026-11-02' })).rejects.toThrow('a day to come only');
    // Something else that is wrong with the mailbox is not put off by that, nor is another rest.
    await world.store.db.execute(sql`update mailboxes set problem = 'The password is wrong.'`);
    const problem = (await world.api.get<TodayView>('/today')).needs.find((n) => n.kind === 'problem');
    expect([problem?.title, problem?.putOffUntil]).toEqual(['ines@tidewaterkelp.example cannot sign in', undefined]);
    await world.store.db.execute(sql`update mailboxes set problem = null, rest_until = '2026-11-19'`);
    expect((await resting())?.putOffUntil).toBeUndefined();
    await world.store.db.execute(sql`update mailboxes set rest_until = '2026-11-20'`);
    await world.api.put('/today/put-off', { key, until: null });
    expect((await resting())?.putOffUntil).toBeUndefined();
    await world.api.put('/today/put-off', { key, until: '2026-11-03' });
    await world.drive('2026-11-03T08:00:00Z');
    expect((await resting())?.putOffUntil).toBeUndefined();
  });
});

describe('an empty workspace', () => {
  it('is led to its first campaign step by step, until one is started', async () => {
    const empty = await TestWorld.start();
    const steps = async () =>
      (await empty.api.get<TodayView>('/today')).firstSteps.filter((s) => s.isDone).map((s) => s.kind);
    await empty.store.db.execute(sql`update workspace set name = 'My workspace', postal_address = ''`);
    expect(await steps()).toEqual([]);
    const own = {
      name: 'Kelp',
      postalAddress: '4 Slip Road',
      zone: 'Europe/Dublin',
      dateForm: 'iso',
      publicAddress: '',
    };
    await empty.api.put('/settings', own);
    expect(await steps()).toEqual(['settings']);
    const mailbox = await empty.connect('ines');
    const listId = await empty.people({ 'ana@vines.example': 'silent' });
    expect(await steps()).toEqual(['settings', 'mailbox', 'people']);
    await empty.begin({ listId, mailboxIds: [mailbox] });
    expect((await empty.api.get<TodayView>('/today')).firstSteps).toEqual([]);
    await empty.close();
  });
});
