import type { BatchPage, MailboxView, PlanBoard, PlanVariant, PlanWork, TodayView } from '@baton/contract';
import { planSends } from '@baton/core';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { beginRest } from '../mailboxes/rest';
import { MONDAY } from '../testing/test-store';
import { TestWorld } from '../testing/test-world';
import { replan } from './replan';

let world: TestWorld;
beforeEach(async () => {
  world = await TestWorld.start();
});
afterEach(() => world.close());

const people = (n: number, persona = 'silent', domain = 'vines.example') =>
  Object.fromEntries(Array.from({ length: n }, (_, i) => [`p${i}@${domain}`, persona]));
const board = () => world.api.get<PlanBoard>('/plan');
const batch = (day: string, mailbox: number) => world.api.get<BatchPage>(`/plan/batch?day=${day}&mailbox=${mailbox}`);
const sentOn = async () =>
  (
    await world.store.pool.query<{ day: number; n: number }>(
      `select day, count(*)::int as n from deliveries where state = 'sent' group by day order by day`,
    )
  ).rows.map((r) => r.n);

describe('the plan board', () => {
  it('has every message, under the ceilings, and says when each campaign ends', async () => {
    const ines = await world.connect('ines', { dailyQuota: 10 });
    const wren = await world.connect('wren', { dailyQuota: 20, ramp: { first: 2, add: 1, every: 1 } });
    const id = await world.begin({ listId: await world.people(people(30)), mailboxIds: [ines, wren] });
    const plan = await board();
    expect(plan.loads.reduce((n, l) => n + l.messages, 0)).toBe(60);
    const ceiling = (mailbox: number, day: string) => {
      const row = plan.mailboxes.find((m) => m.id === mailbox);
      return row?.ceilings[(Date.parse(day) - Date.parse(plan.from)) / 86_400_000];
    };
    for (const l of plan.loads) expect(l.first + l.followUps).toBeLessThanOrEqual(ceiling(l.mailboxId, l.day) ?? -1);
    expect([ceiling(wren, '2026-11-02'), ceiling(wren, '2026-11-03'), ceiling(wren, '2026-11-07')]).toEqual([
      2,
      3,
      null,
    ]);
    const campaign = plan.campaigns.find((c) => c.id === id);
    expect(campaign).toMatchObject({ state: 'running', hasBegun: false, mailboxIds: [ines, wren], sent: 0 });
    expect(campaign?.lastDay).toBe(
      plan.loads
        .map((l) => l.day)
        .sort()
        .at(-1),
    );
  });

  it('gives what a what-if is computed from', async () => {
    const ines = await world.connect('ines');
    await world.begin({ listId: await world.people(people(5)), mailboxIds: [ines] });
    const { input, ids } = await world.api.get<PlanWork>('/plan/work');
    expect(ids.mailboxes).toEqual([ines]);
    expect(planSends(input).deliveries).toHaveLength(10);
  });

  it('does not call late what waits for somebody’s return', async () => {
    const ines = await world.connect('ines');
    const listId = await world.people(people(5));
    await world.desk.call('PUT', '/people/p2@vines.example', { awayUntil: '2026-11-25' });
    await world.begin({ listId, mailboxIds: [ines] });
    await world.drive('2026-11-03T20:00:00Z');
    const { input } = await world.api.get<PlanWork>('/plan/work');
    const plan = planSends(input);
    const followUps = plan.deliveries.filter((d) => d.step > 0).map((d) => d.day);
    expect(Math.max(...followUps)).toBeGreaterThanOrEqual(Date.parse('2026-11-26') / 86_400_000);
    expect(plan.campaigns[0]?.late).toBe(0);
  });
});

describe('a what-if that is applied', () => {
  it('changes mailbox and campaign and plans anew', async () => {
    const ines = await world.connect('ines', { dailyQuota: 4 });
    const id = await world.begin({ listId: await world.people(people(20)), mailboxIds: [ines] });
    const before = (await board()).campaigns[0]?.lastDay ?? '';
    await world.api.post('/plan/apply', {
      changes: [
        { kind: 'quota', mailbox: ines, to: 40 },
        { kind: 'start', campaign: id, to: '2026-11-04' },
        { kind: 'spacing', campaign: id, step: 1, to: 3 },
        { kind: 'share', campaign: id, to: 3 },
        { kind: 'replies', to: 0.1 },
      ],
    });
    const after = await board();
    expect(after.mailboxes[0]?.dailyQuota).toBe(40);
    expect(after.campaigns[0]).toMatchObject({ startDate: '2026-11-04', delays: [0, 3], share: 3 });
    expect(after.loads.map((l) => l.day).sort()[0]).toBe('2026-11-04');
    expect((after.campaigns[0]?.lastDay ?? '') < before).toBe(true);
  });

  it('lets the campaign with the larger share start first', async () => {
    const ines = await world.connect('ines', { dailyQuota: 10 });
    const mailboxIds = [ines];
    const even = await world.begin({ name: 'Even', listId: await world.people(people(30)), mailboxIds });
    const others = people(30, 'silent', 'gardens.example');
    const thrice = await world.begin({ name: 'Thrice', listId: await world.people(others), mailboxIds, share: 3 });
    const { campaigns } = await board();
    const lastStart = (id: number) => campaigns.find((c) => c.id === id)?.lastStartDay ?? '';
    expect(Object.fromEntries(campaigns.map((c) => [c.id, c.share]))).toEqual({ [even]: 1, [thrice]: 3 });
    expect(lastStart(thrice) < lastStart(even)).toBe(true);
  });

  it.each([
    [[{ kind: 'quota', mailbox: 1, to: -4 }], 'whole number from 0'],
    [[{ kind: 'start', campaign: 1, to: '2026-10-01' }], 'from today on'],
    [[{ kind: 'share', campaign: 1, to: 12 }], 'from 1 to 9'],
    [[{ kind: 'limit', campaign: 99, to: 3 }], 'ended or is gone'],
    [[{ kind: 'use', campaign: 1, mailbox: 1, to: false }], 'no mailbox to send from'],
    [[{ kind: 'teleport', campaign: 1 }], 'does not match any of the allowed'],
  ])('refuses %j with a sentence and changes nothing', async (changes, words) => {
    const ines = await world.connect('ines');
    await world.begin({ listId: await world.people(people(3)), mailboxIds: [ines] });
    await expect(world.api.post('/plan/apply', { changes })).rejects.toThrow(words as string);
    expect((await board()).mailboxes[0]?.dailyQuota).toBe(50);
  });

  it('is kept as a variant under its name until it is removed', async () => {
    const changes = [{ kind: 'replies', to: 0.05 }];
    await world.api.post('/plan/variants', { name: 'More answers', changes });
    const { id } = await world.api.post<{ id: number }>('/plan/variants', {
      name: 'More answers',
      changes: [{ kind: 'replies', to: 0.08 }],
    });
    const kept = await world.api.get<PlanVariant[]>('/plan/variants');
    expect(kept.map((v) => [v.name, v.changes])).toEqual([['More answers', [{ kind: 'replies', to: 0.08 }]]]);
    await world.api.remove(`/plan/variants/${id}`);
    expect(await world.api.get('/plan/variants')).toEqual([]);
  });
});

describe('a day’s batch', () => {
  it('waits while it is held, is said to need a person, and leaves when it is released', async () => {
    const ines = await world.connect('ines', { dailyQuota: 5 });
    await world.begin({
      listId: await world.people(people(10)),
      mailboxIds: [ines],
      steps: [await world.step({ name: 'Only' })],
    });
    expect(await world.api.post('/plan/batch', { day: '2026-11-03', mailboxId: ines, held: true })).toEqual({
      messages: 5,
    });
    await world.drive('2026-11-03T20:00:00Z');
    expect(await sentOn()).toEqual([5]);
    const { needs } = await world.api.get<TodayView>('/today');
    expect(needs.find((n) => n.kind === 'held')).toMatchObject({ title: '5 messages of Tue 3 Nov held' });
    // Its day has passed: the night gives it another one, and it still waits.
    await world.drive('2026-11-04T12:00:00Z');
    expect(await sentOn()).toEqual([5]);
    const next = await batch('2026-11-04', ines);
    expect(next.messages.map((m) => m.state)).toEqual(Array(5).fill('held'));
    await world.api.post('/plan/batch', { day: '2026-11-04', mailboxId: null, held: false });
    await world.drive('2026-11-05T20:00:00Z');
    expect((await sentOn()).reduce((a, b) => a + b)).toBe(10);
  });

  it('is shown in order of time with people and what they get', async () => {
    const ines = await world.connect('ines', { dailyQuota: 5 });
    await world.begin({ listId: await world.people(people(8)), mailboxIds: [ines] });
    const { messages, counts } = await batch('2026-11-02', ines);
    expect(counts).toEqual({ total: 5, gone: 0, toCome: 5, held: 0 });
    expect(messages.map((m) => m.at)).toEqual(messages.map((m) => m.at).sort((a, b) => (a ?? 0) - (b ?? 0)));
    expect(messages[0]).toMatchObject({ step: 0, state: 'planned' });
    expect(messages[0]?.name).toMatch(/^P\d/);
  });

  it('counts the whole batch, however little of it is on the page', async () => {
    const ines = await world.connect('ines', { dailyQuota: 5, paceSeconds: 3600 });
    await world.begin({ listId: await world.people(people(8)), mailboxIds: [ines] });
    await world.drive('2026-11-02T10:30:00Z');
    await world.api.post('/plan/batch', { day: '2026-11-02', mailboxId: ines, held: true });
    const gone = (await batch('2026-11-02', ines)).messages.filter((m) => m.state === 'sent').length;
    expect(gone).toBeGreaterThan(0);
    const page = await world.api.get<BatchPage>(`/plan/batch?day=2026-11-02&mailbox=${ines}&limit=1`);
    expect(page.messages).toHaveLength(1);
    expect(page.counts).toEqual({ total: 5, gone, toCome: 0, held: 5 - gone });
  });

  it('lets one message move to another day, or says why it cannot', async () => {
    const ines = await world.connect('ines', { dailyQuota: 6 });
    await world.begin({ listId: await world.people(people(4)), mailboxIds: [ines] });
    const [first] = (await batch('2026-11-02', ines)).messages;
    const id = first?.deliveryId ?? 0;
    const others = await world.store.pool.query(`select * from deliveries where enrolment_id <> $1 order by id`, [
      first?.enrolmentId,
    ]);
    expect(await world.api.post(`/plan/messages/${id}/move`, { day: '2026-11-05' })).toEqual({
      day: '2026-11-05',
      others: 0,
    });
    const moved = (await batch('2026-11-05', ines)).messages.find((m) => m.deliveryId === id);
    expect(moved).toMatchObject({ address: first?.address, state: 'planned' });
    const after = await world.store.pool.query(`select * from deliveries where enrolment_id <> $1 order by id`, [
      first?.enrolmentId,
    ]);
    expect(after.rows).toEqual(others.rows);
    await expect(world.api.post(`/plan/messages/${id}/move`, { day: '2026-11-07' })).rejects.toThrow('no room');
    expect((await batch('2026-11-05', ines)).messages.some((m) => m.deliveryId === id)).toBe(true);
  });
});

describe('the plan as a calendar', () => {
  it('is a file, and a subscription under an address that can be ended', async () => {
    const ines = await world.connect('ines', { dailyQuota: 5 });
    await world.begin({ listId: await world.people(people(8)), mailboxIds: [ines] });
    const get = (path: string) => fetch(`${world.url}${path}`);
    const file = await (await get('/api/plan/calendar.ics')).text();
    expect(file).toContain('SUMMARY:5 messages');
    expect(file).toContain('SUMMARY:Trial ends');
    const { path } = await world.api.post<{ path: string }>('/plan/calendar', { subscribed: true });
    expect(await (await get(path)).text()).toContain('BEGIN:VCALENDAR');
    expect((await get('/calendar/guess.ics')).status).toBe(404);
    await world.api.post('/plan/calendar', { subscribed: false });
    expect((await get(path)).status).toBe(404);
  });
});

describe('health', () => {
  it('says how many messages leave elsewhere and how many later because a mailbox rests', async () => {
    const ines = await world.connect('ines', { dailyQuota: 8 });
    const tomas = await world.connect('tomas', { dailyQuota: 8 });
    const listId = await world.people(people(30, 'silent'));
    await world.begin({ listId, mailboxIds: [ines, tomas], steps: [await world.step({ name: 'Only' })] });
    const planned = async () => {
      const { rows } = await world.store.pool.query<{ id: number; mailbox_id: number; day: number }>(
        `select enrolment_id as id, mailbox_id, day from deliveries where state = 'planned' order by 1`,
      );
      return rows;
    };
    const before = await planned();
    await world.store.db.transaction((tx) => beginRest(tx, ines, { why: 'too much', days: 2, nowMs: MONDAY }));
    await replan(world.store, MONDAY);
    const after = new Map((await planned()).map((r) => [r.id, r]));
    const own = before.filter((r) => r.mailbox_id === ines).map((r) => [r, after.get(r.id)] as const);
    const elsewhere = own.filter(([, now]) => now?.mailbox_id === tomas).length;
    const later = own.filter(([was, now]) => now?.mailbox_id === ines && now.day > was.day).length;
    expect(elsewhere + later).toBeGreaterThan(0);
    const [mailbox] = await world.api.get<MailboxView[]>('/mailboxes');
    expect(mailbox?.restMoved).toEqual({ elsewhere, later });
  });

  it('lets a mailbox rest at its third hard bounce, says why, and moves nobody else', async () => {
    const ines = await world.connect('ines', { dailyQuota: 8, ramp: { first: 8, add: 1, every: 1 } });
    const listId = await world.people({
      ...people(20, 'silent'),
      ...Object.fromEntries([1, 2, 3, 4].map((i) => [`p${i}@vines.example`, 'unknown'])),
    });
    await world.begin({ listId, mailboxIds: [ines], steps: [await world.step({ name: 'Only' })] });
    await world.drive('2026-11-03T08:00:00Z');
    const row = (await board()).mailboxes[0];
    expect(row?.note).toBe('rests until Thu 5 Nov');
    const { rows } = await world.store.pool.query('select rest_reason, rest_moved from mailboxes');
    expect(rows[0].rest_reason).toMatch(/^3 of its last \d messages bounced/);
    // All of Tuesday's and Wednesday's that had not left, and with them those behind.
    expect(rows[0].rest_moved.elsewhere).toBe(0);
    expect(rows[0].rest_moved.later).toBeGreaterThanOrEqual(8);
    const sent = await sentOn();
    await world.drive('2026-11-04T20:00:00Z');
    expect(await sentOn()).toEqual(sent);
    await world.drive('2026-11-06T20:00:00Z');
    expect((await sentOn()).reduce((a, b) => a + b, 0)).toBeGreaterThan(sent.reduce((a, b) => a + b, 0));
  });
});
