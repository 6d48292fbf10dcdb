import type {
  ConnectedLine,
  FoundServers,
  MailboxHistory,
  MailboxRules,
  MailboxView,
  PlanBoard,
} from '@baton/contract';
import { weekdayWindows, type MailboxHealth, type RecordFinding } from '@baton/core';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { TestWorld } from '../testing/test-world';

let world: TestWorld;
beforeEach(async () => {
  world = await TestWorld.start();
});
afterEach(() => world.close());

const rules = () => world.api.get<MailboxRules>('/mailboxes/rules');
const people = (n: number, domain = (i: number) => `vines${i}`) =>
  Object.fromEntries(Array.from({ length: n }, (_, i) => [`p${i}@${domain(i)}.example`, 'silent']));
const record = (of: string, records: string[]) =>
  world.desk.call('PUT', `/records/${encodeURIComponent(of)}`, { records });

describe('days off for all', () => {
  it('are taken from a calendar, close every mailbox, and are not working days', async () => {
    const ines = await world.connect('ines', { dailyQuota: 5 });
    const ics = [
      'BEGIN:VCALENDAR',
      'BEGIN:VEVENT',
      'DTSTART;VALUE=DATE:20261103',
      'SUMMARY:Harbour day',
      'END:VEVENT',
      'END:VCALENDAR',
    ];
    expect(await world.api.post('/mailboxes/holidays', { calendar: ics.join('\r\n') })).toEqual({ days: 1 });
    expect(await world.api.post('/mailboxes/holidays', { calendar: ics.join('\r\n') })).toEqual({ days: 0 });
    await expect(world.api.post('/mailboxes/holidays', { calendar: 'x' })).rejects.toThrow('not a calendar file');
    await world.begin({ listId: await world.people(people(8)), mailboxIds: [ines] });
    const board = await world.api.get<PlanBoard>('/plan');
    expect(board.holidays).toEqual([{ day: '2026-11-03', name: 'Harbour day' }]);
    expect(board.loads.some((l) => l.day === '2026-11-03')).toBe(false);
    // Two working days after Monday, with Tuesday off, is Thursday.
    const followUps = board.loads.filter((l) => l.followUps > 0).map((l) => l.day);
    expect(followUps.sort()[0]).toBe('2026-11-05');
  });

  it('keep their bounds', async () => {
    const now = await rules();
    const change = (over: object) => world.api.put('/mailboxes/rules', { ...now, rest: { ...now.rest, ...over } });
    await expect(change({ days: 0 })).rejects.toThrow('Working days of rest must be 1 or more.');
    await expect(change({ bounces: 2.5 })).rejects.toThrow('Hard bounces must be a whole number.');
    await expect(change({ complaints: -1 })).rejects.toThrow('Number of complaints must be 0 or more.');
    await expect(change({ among: null })).rejects.toThrow('Messages looked at must be a number.');
    await expect(
      world.api.put('/mailboxes/rules', { ...now, holidays: [{ day: '2026-02-30', name: '' }] }),
    ).rejects.toThrow('is not a date');
    expect(await rules()).toEqual(now);
  });
});

describe('a mailbox’s history', () => {
  it('tells what left day by day, and what happened, the newest first', async () => {
    const ines = await world.connect('ines', { dailyQuota: 5 });
    await world.begin({ listId: await world.people(people(8)), mailboxIds: [ines], steps: [await world.step({})] });
    await world.drive('2026-11-03T20:00:00Z');
    await world.api.post(`/mailboxes/${ines}/hold`);
    await world.api.post(`/mailboxes/${ines}/release`);
    await world.api.put(`/mailboxes/${ines}`, { ...world.mailboxChoices('ines', { dailyQuota: 8 }) });
    await world.api.post('/plan/apply', { changes: [{ kind: 'quota', mailbox: ines, to: 9 }] });
    const { days, events } = await world.api.get<MailboxHistory>(`/mailboxes/${ines}/history`);
    expect([days.length, days.at(-1)?.day]).toEqual([56, '2026-11-03']);
    const none = { bounces: 0, refusals: 0, complaints: 0, replies: 0 };
    expect(days.filter((d) => d.units > 0)).toEqual([
      { day: '2026-11-02', units: 5, quota: 5, health: { ...none, sent: 5 } },
      { day: '2026-11-03', units: 3, quota: 5, health: { ...none, sent: 3 } },
    ]);
    expect(events.map((e) => e.words)).toEqual([
      'daily quota changed from 8 to 9 in the plan',
      'quota changed from 5 to 8',
      'released',
      'held',
      'connected',
    ]);
    expect(events[0]?.at).toBe(Date.parse('2026-11-03T20:00:00Z'));
    await expect(world.api.get('/mailboxes/999/history')).rejects.toThrow('no such mailbox');
  });
});

it('a mailbox’s history says what came of each day’s messages, on its own clock', async () => {
  const far = await world.connect('ines', {
    zone: 'Pacific/Auckland',
    dailyQuota: 20,
    windows: weekdayWindows(0, 1439),
  });
  const listId = await world.people({ 'gone@a.example': 'unknown', 'keen@b.example': 'keen', 'c@c.example': 'silent' });
  await world.begin({ listId, mailboxIds: [far], steps: [await world.step({})], windowZone: 'workspace' });
  await world.drive('2026-11-06T20:00:00Z');
  const { days } = await world.api.get<MailboxHistory>(`/mailboxes/${far}/history`);
  const told = days.filter((d) => d.health !== null);
  const sum = (what: keyof MailboxHealth) => told.reduce((n, d) => n + (d.health?.[what] ?? 0), 0);
  expect([sum('bounces') + sum('refusals'), sum('replies'), sum('sent')]).toEqual([1, 1, 3]);
  // Whatever counts towards its quota of a day left on that day.
  for (const d of days) expect(d.units).toBeLessThanOrEqual(d.health?.sent ?? 0);
});

it('a mailbox’s history tells how its ramp rose beside what left', async () => {
  const ramp = { first: 2, add: 3, every: 1 };
  const slow = await world.connect('ines', { dailyQuota: 20, ramp });
  await world.begin({ listId: await world.people(people(12)), mailboxIds: [slow], steps: [await world.step({})] });
  await world.drive('2026-11-05T20:00:00Z');
  const { days } = await world.api.get<MailboxHistory>(`/mailboxes/${slow}/history`);
  expect(days.filter((d) => d.units > 0).map((d) => [d.units, d.quota])).toEqual([
    [2, 2],
    [5, 5],
    [5, 8],
  ]);
});

describe('a limit to one domain', () => {
  it('holds on every day of every mailbox', async () => {
    const ines = await world.connect('ines', { dailyQuota: 20 });
    await world.api.put('/mailboxes/rules', { ...(await rules()), domainCap: 2 });
    const listId = await world.people(people(10, (i) => (i < 6 ? 'vines' : `other${i}`)));
    await world.begin({ listId, mailboxIds: [ines] });
    const { rows } = await world.store.pool.query<{ n: number }>(
      `select count(*)::int as n from deliveries d join enrolments e on e.id = d.enrolment_id join contacts c on c.id = e.contact_id
       where c.domain = 'vines.example' group by d.mailbox_id, d.day`,
    );
    expect(Math.max(...rows.map((r) => r.n))).toBe(2);
  });
});

describe('what is found of a domain', () => {
  it('is explained by record, through the resolver', async () => {
    const ines = await world.connect('ines');
    const find = () => world.api.get<RecordFinding[]>(`/mailboxes/${ines}/records`);
    expect((await find()).map((f) => [f.record, f.state])).toEqual([
      ['SPF', 'bad'],
      ['DKIM', 'look'],
      ['DMARC', 'bad'],
    ]);
    await record('TXT tidewaterkelp.example', ['v=spf1 mx -all']);
    await record('TXT default._domainkey.tidewaterkelp.example', ['v=DKIM1; p=abc']);
    await record('TXT _DMARC.tidewaterkelp.example', ['v=DMARC1; p=reject']);
    expect((await find()).map((f) => f.state)).toEqual(['good', 'good', 'good']);
  });

  it('gives the servers that the domain announces, else those of the usual names that exist', async () => {
    const servers = (address: string) => world.api.get<FoundServers>(`/mailboxes/servers?address=${address}`);
    expect(await servers('ines@tidewaterkelp.example')).toEqual({
      smtp: { host: 'smtp.tidewaterkelp.example', port: 465, security: 'tls' },
      imap: { host: 'imap.tidewaterkelp.example', port: 993, security: 'tls' },
      announced: false,
    });
    await record('A mail.tidewaterkelp.example', ['192.0.2.1']);
    expect((await servers('ines@tidewaterkelp.example')).smtp.host).toBe('mail.tidewaterkelp.example');
    await record('SRV _submission._tcp.tidewaterkelp.example', ['20 1 587 late.example.', '10 1 587 out.example.']);
    await record('SRV _imaps._tcp.tidewaterkelp.example', ['0 1 993 in.example']);
    await record('SRV _submissions._tcp.tidewaterkelp.example', ['0 0 0 .']);
    expect(await servers('ines@tidewaterkelp.example')).toEqual({
      smtp: { host: 'out.example', port: 587, security: 'starttls' },
      imap: { host: 'in.example', port: 993, security: 'tls' },
      announced: true,
    });
    await expect(servers('nobody')).rejects.toThrow('has no @');
  });
});

describe('health and ramp', () => {
  it('are shown with what came of a fortnight, the ramp climbing by days on which it sent', async () => {
    const wren = await world.connect('wren', { dailyQuota: 40, ramp: { first: 3, add: 2, every: 1 } });
    const listId = await world.people({ ...people(12), 'p0@vines0.example': 'keen', 'p1@vines1.example': 'unknown' });
    await world.begin({ listId, mailboxIds: [wren], steps: [await world.step({ name: 'Only' })] });
    await world.drive('2026-11-04T20:00:00Z');
    const view = async () => (await world.api.get<MailboxView[]>('/mailboxes'))[0];
    expect((await view())?.health).toEqual({ sent: 12, bounces: 1, refusals: 0, complaints: 0, replies: 1 });
    // Three days on which it sent; days without mail do not raise it.
    await world.drive('2026-11-20T08:00:00Z');
    const later = await view();
    expect(later?.quotaToday).toBe(3 + 2 * 3);
    expect(later?.climbed).toBe(3);
  });
});

describe('many mailboxes from a file', () => {
  it('are each tested; those that work are kept, the others told of', async () => {
    for (const name of ['ines', 'tomas'])
      await world.desk.call('POST', '/accounts', { address: `${name}@tidewaterkelp.example`, password: 'right' });
    const servers = `127.0.0.1,${world.provider.smtpPort},none,127.0.0.1,${world.provider.imapPort},none`;
    const file = [
      'address,password,quota,smtp host,smtp port,smtp security,imap host,imap port,imap security',
      `ines@tidewaterkelp.example,right,55,${servers}`,
      `tomas@tidewaterkelp.example,wrong,,${servers}`,
      `nobody,right,,${servers}`,
    ].join('\n');
    const lines = await world.api.post<ConnectedLine[]>('/mailboxes/many', { file });
    expect(lines.map((l) => [l.line, l.ok])).toEqual([
      [2, true],
      [3, false],
      [4, false],
    ]);
    expect(lines[1]?.words).toContain('password is wrong');
    const kept = await world.api.get<MailboxView[]>('/mailboxes');
    expect(kept.map((m) => [m.address, m.dailyQuota, m.ramp?.first])).toEqual([['ines@tidewaterkelp.example', 55, 5]]);
  });
});
