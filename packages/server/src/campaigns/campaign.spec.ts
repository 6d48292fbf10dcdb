import providers from 'email-providers/all.json';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { BriefView, CampaignSummary, Need, RecipientPage, ShellView, TodayView } from '@baton/contract';
import { UNDO_START_MS } from '@baton/core';
import { TestWorld } from '../testing/test-world';

let world: TestWorld;
let mailbox: number;
beforeEach(async () => {
  world = await TestWorld.start();
  mailbox = await world.connect('ines');
});
afterEach(() => world.close());

const brief = (id: number) => world.api.get<BriefView>(`/campaigns/${id}`);
const obstacles = (b: BriefView) => b.forecast.obstacles.map((o) => o.text).join(' | ');

describe('a draft', () => {
  it('says what is missing, each with what settles it', async () => {
    const { id } = await world.api.post<{ id: number }>('/campaigns', { name: 'Empty' });
    const b = await brief(id);
    expect(b.forecast.obstacles.map((o) => o.remedy.act)).toEqual(['audience', 'messages', 'mailboxes']);
    const needs = await world.api.get<Need[]>('/today/drafts');
    expect(needs).toMatchObject([{ kind: 'fix', title: 'Empty (draft)', link: `/campaigns/${id}` }]);
  });

  it('counts who is left out and why, person by person, before and after the start', async () => {
    await world.api.post('/suppressions', { what: 'gone@x.example', reason: '' });
    const listId = await world.importCsv('email,company\na@x.example,Cedar\nb@x.example,\ngone@x.example,Slate');
    const steps = [await world.step({ body: 'For {{ company }}, {{ unsubscribe_link }}' })];
    const draft = await world.draft({ listId, mailboxIds: [mailbox], steps });
    expect(draft.forecast.people).toBe(2);
    expect(obstacles(draft)).toContain('1 person has no company, and there is no fallback');
    const left = await world.draft({ listId, mailboxIds: [mailbox], steps, leaveOutBlank: true, name: 'Left' });
    expect(left.forecast.leftOut).toMatchObject([
      { code: 'blank', reason: 'no value for company', people: 1, who: ['b@x.example'] },
      { code: 'suppressed', reason: 'on the suppression list', people: 1, who: ['gone@x.example'] },
    ]);
    expect(left.forecast.leftOut[0]?.settledBy).toContain('fill in the field');
    expect(left.forecast.obstacles.filter((o) => o.kind === 'fix')).toEqual([]);
    await world.api.post(`/campaigns/${left.id}/start`, { people: 1, lastDay: left.forecast.lastDay });
    const page = await world.api.get<RecipientPage>(`/campaigns/${left.id}/recipients`);
    expect(page.people.map((p) => [p.address, p.state, p.reason])).toEqual([
      ['a@x.example', 'waiting', ''],
      ['b@x.example', 'left_out', 'no value for company'],
      ['gone@x.example', 'left_out', 'on the suppression list: added by hand'],
    ]);
  });

  it('says beforehand which person gets what from which mailbox and when', async () => {
    const people = Object.fromEntries(Array.from({ length: 5 }, (_, i) => [`p${i}@x.example`, 'silent']));
    const draft = await world.draft({ listId: await world.people(people), mailboxIds: [mailbox] });
    await world.api.post('/suppressions', { what: 'p3@x.example', reason: '' });
    const page = await world.api.get<RecipientPage>(`/campaigns/${draft.id}/recipients?limit=2&offset=2`);
    expect(page.total).toBe(5);
    expect(page.people).toMatchObject([
      {
        address: 'p2@x.example',
        state: 'waiting',
        mailbox: 'ines@tidewaterkelp.example',
        messages: [{ step: 0 }, { step: 1 }],
      },
      {
        address: 'p3@x.example',
        state: 'left_out',
        reason: 'on the suppression list: added by hand',
        mailbox: null,
        messages: [],
      },
    ]);
    await world.api.post(`/campaigns/${draft.id}/start`, {
      people: 4,
      lastDay: (await brief(draft.id)).forecast.lastDay,
    });
    const started = await world.api.get<RecipientPage>(`/campaigns/${draft.id}/recipients?limit=2&offset=2`);
    expect(started.people[0]?.messages.map((m) => m.at)).toEqual(page.people[0]?.messages.map((m) => m.at));
  });

  it('writes to nobody before their own date', async () => {
    const listId = await world.importCsv('email,Send on\na@x.example,2026-11-05\nb@x.example,');
    const id = await world.begin({ listId, mailboxIds: [mailbox], steps: [await world.step({})] });
    await world.drive('2026-11-04T20:00:00Z');
    expect(await world.states(id)).toEqual({ 'a@x.example': 'waiting', 'b@x.example': 'done' });
    await world.drive('2026-11-05T20:00:00Z');
    expect((await world.states(id))['a@x.example']).toBe('done');
  });

  it('does not start when it would do something else than was shown', async () => {
    const listId = await world.people({ 'a@x.example': 'silent', 'b@x.example': 'silent' });
    const draft = await world.draft({ listId, mailboxIds: [mailbox] });
    await world.api.post('/suppressions', { what: 'b@x.example', reason: '' });
    const start = () => world.api.post(`/campaigns/${draft.id}/start`, { people: 2, lastDay: draft.forecast.lastDay });
    await expect(start()).rejects.toThrow('The numbers have changed');
    expect((await brief(draft.id)).state).toBe('draft');
  });

  it('starts once, however often it is pressed', async () => {
    const draft = await world.draft({ listId: await world.people({ 'a@x.example': 'silent' }), mailboxIds: [mailbox] });
    const shown = { people: 1, lastDay: draft.forecast.lastDay };
    const both = await Promise.allSettled([1, 2].map(() => world.api.post(`/campaigns/${draft.id}/start`, shown)));
    expect(both.map((b) => b.status).sort()).toEqual(['fulfilled', 'rejected']);
    await world.drive('2026-11-02T20:00:00Z');
    expect(await world.inbox('a@x.example')).toHaveLength(1);
    await expect(world.api.put(`/campaigns/${draft.id}`, { ...draft, name: 'x' })).rejects.toThrow('409');
  });

  it('leaves out who is still being written to by another campaign, unless that is allowed', async () => {
    const listId = await world.people(Object.fromEntries(['a', 'b', 'c'].map((n) => [`${n}@vines.example`, 'silent'])));
    await world.begin({ name: 'Autumn', listId, mailboxIds: [mailbox] });
    const { forecast } = await world.draft({ name: 'Winter', listId, mailboxIds: [mailbox], allowsOthers: false });
    expect(forecast.people).toBe(0);
    expect(forecast.leftOut).toMatchObject([
      { code: 'other_campaign', reason: 'still being written to by Autumn', people: 3 },
    ]);
    const both = await world.draft({ name: 'Winter', listId, mailboxIds: [mailbox] });
    expect(both.forecast.obstacles.map((o) => [o.kind, o.text])).toContainEqual([
      'look',
      '3 people are also being written to by Autumn, and would get both',
    ]);
    // Everybody has had all of it.
    await world.drive('2026-11-10T20:00:00Z');
    const later = await world.draft({ name: 'Spring', listId, mailboxIds: [mailbox], startDate: '2026-11-16' });
    expect(later.forecast.people).toBe(3);
    const spaced = { name: 'Spaced', listId, mailboxIds: [mailbox], startDate: '2026-11-16' };
    const lately = await world.draft({ ...spaced, notWithinDays: 30 });
    expect(lately.forecast.leftOut).toMatchObject([{ code: 'written_lately', reason: 'written to lately', people: 3 }]);
    expect((await world.draft({ ...spaced, notWithinDays: 3 })).forecast.people).toBe(3);
  });

  it('writes to no more of one company than asked for, in the order of the list', async () => {
    // A domain that the list of mail providers has, whatever it is: its people have nothing to do with each other.
    const shared = (providers as string[])[0] as string;
    const people = ['a@vines.example', 'b@vines.example', 'c@vines.example', 'd@grove.example'];
    const addresses = [...people, ...['e', 'f', 'g'].map((name) => `${name}@${shared}`)];
    const listId = await world.importCsv(`email\n${addresses.join('\n')}`);
    const draft = await world.draft({ listId, mailboxIds: [mailbox], mostPerCompany: 2 });
    expect(draft.forecast.people).toBe(6);
    expect(draft.forecast.leftOut).toMatchObject([
      { code: 'company', reason: 'enough others of their company are written to', people: 1, who: ['c@vines.example'] },
    ]);
  });

  it('plans around what runs already', async () => {
    const many = Object.fromEntries(Array.from({ length: 60 }, (_, i) => [`p${i}@x.example`, 'silent']));
    await world.begin({ listId: await world.people(many), mailboxIds: [mailbox], steps: [await world.step({})] });
    const listId = await world.people({ 'late@x.example': 'silent' });
    const draft = await world.draft({ listId, mailboxIds: [mailbox], steps: [await world.step({})] });
    const loads = (await world.store.pool.query('select day, count(*)::int as n from deliveries group by day')).rows;
    expect(Math.max(...loads.map((l) => l.n as number))).toBeLessThanOrEqual(50);
    expect(draft.forecast.firstDay).not.toBeNull();
  });
});

describe('a running campaign', () => {
  it('is finished when everybody is done, and its rows can be taken away with what became of each', async () => {
    for (const [a, persona] of [
      ['a@x.example', 'reader'],
      ['b@x.example', 'keen'],
    ])
      await world.desk.call('PUT', `/people/${a}`, { persona });
    const listId = await world.importCsv('email,company,note\na@x.example,Cedar,=1+1\nb@x.example,"Slate, Ltd",x');
    const id = await world.begin({ listId, mailboxIds: [mailbox] });
    await world.drive('2026-11-06T20:00:00Z');
    const [summary] = await world.api.get<CampaignSummary[]>('/campaigns');
    expect(summary).toMatchObject({
      ...{ state: 'finished', states: { done: 1, replied: 1 } },
      results: { written: 2, bounced: 0, replied: 1 },
    });
    const csv = await (await fetch(`${world.url}/api/campaigns/${id}/outcomes.csv`)).text();
    const lines = csv.replace('\ufeff', '').trim().split('\r\n');
    expect(lines[0]).toBe(
      'email,company,note,state,reason,mailbox,sent,follow-up 1 sent,replied,outcome,opens,first opened,last opened,clicks,links followed',
    );
    expect(lines[1]).toMatch(
      /^a@x\.example,Cedar,'=1\+1,done,,ines@tidewaterkelp\.example,2026-11-02 \d\d:\d\d,2026-11-\d\d \d\d:\d\d,,,,,,,$/,
    );
    expect(lines[2]).toMatch(
      /^b@x\.example,"Slate, Ltd",x,replied,replied,ines@tidewaterkelp\.example,2026-11-02 \d\d:\d\d,,2026-11-0\d \d\d:\d\d,,,,,,$/,
    );
  });

  it('shows its recipients a page at a time, by state and by what is looked for', async () => {
    const listId = await world.people({ 'a@x.example': 'reader', 'b@x.example': 'unknown', 'c@y.example': 'reader' });
    const id = await world.begin({ listId, mailboxIds: [mailbox] });
    await world.drive('2026-11-02T20:00:00Z');
    const page = (query: string) => world.api.get<RecipientPage>(`/campaigns/${id}/recipients?${query}`);
    expect((await page('state=bounced')).people.map((p) => p.address)).toEqual(['b@x.example']);
    expect((await page('search=y.example')).people.map((p) => p.address)).toEqual(['c@y.example']);
    const second = await page('offset=1&limit=1');
    expect([second.total, second.people.map((p) => p.address)]).toEqual([3, ['b@x.example']]);
    await expect(page('state=odd')).rejects.toThrow('400');
  });
});

describe('today', () => {
  it('counts the day’s messages and says what waits for a person', async () => {
    const listId = await world.people({ 'a@x.example': 'keen', 'b@x.example': 'silent', 'c@x.example': 'silent' });
    await world.begin({ listId, mailboxIds: [mailbox], steps: [await world.step({})] });
    await world.drive('2026-11-02T13:00:00Z');
    const halfway = await world.api.get<ShellView>('/shell');
    expect(halfway.plannedToday).toBe(3);
    expect(halfway.sentToday).toBeGreaterThan(0);
    expect(halfway.sentToday).toBeLessThan(3);
    await world.drive('2026-11-04T09:00:00Z');
    const today = await world.api.get<TodayView>('/today');
    expect(today).toMatchObject({
      waiting: 1,
      needs: [{ kind: 'answer', action: 'Read', settles: { kind: 'outcome' } }],
    });
    expect(today.week).toContainEqual({ label: 'Sent', now: 3, before: 0 });
    expect(today.lanes).toMatchObject([{ address: 'ines@tidewaterkelp.example', quota: 50, note: '' }]);
  });
});

it('nothing leaves for two minutes after a start, which can be undone so long', async () => {
  await world.drive('2026-11-03T15:00:00Z');
  const people = Array.from({ length: 36 }, (_, i) => `p${i}@vines.example`);
  const listId = await world.people(Object.fromEntries(people.map((p) => [p, 'silent'])));
  const b = await world.draft({ listId, mailboxIds: [mailbox], steps: [await world.step({})] });
  const start = async () => {
    await world.api.post(`/campaigns/${b.id}/start`, { people: 36, lastDay: b.forecast.lastDay });
    return (await brief(b.id)).startedAt ?? 0;
  };
  const received = async () =>
    (await Promise.all(people.map((p) => world.inbox(p)))).flatMap((m) => m.map((x) => x.receivedAt));
  await world.drive((await start()) + UNDO_START_MS - 1000);
  expect(await received()).toEqual([]);
  expect((await world.undo(b.id)).state).toBe('draft');
  const startedAt = await start();
  await world.drive(startedAt + 4 * UNDO_START_MS);
  expect(Math.min(...(await received()))).toBeGreaterThanOrEqual(startedAt + UNDO_START_MS);
  expect(await received()).not.toEqual([]);
  await expect(world.undo(b.id)).rejects.toThrow('409');
});
