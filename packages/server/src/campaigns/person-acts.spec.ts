import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { PersonActResult, RecipientPage } from '@baton/contract';
import { readPeopleFile } from '@baton/core';
import { silentPeople, TestWorld } from '../testing/test-world';

let world: TestWorld;
let mailbox: number;
beforeEach(async () => {
  world = await TestWorld.start();
  mailbox = await world.connect('ines', { dailyQuota: 4 });
});
afterEach(() => world.close());

const idsOf = async (id: number, ...addresses: string[]) =>
  (await world.recipients(id)).filter((r) => addresses.includes(r.address)).map((r) => r.enrolmentId);
const act = (id: number, body: object) => world.api.post<PersonActResult>(`/campaigns/${id}/people`, body);

/** Six people, of whom four have had the first of three messages. */
async function running(): Promise<number> {
  const id = await world.begin({
    listId: await world.people(silentPeople(6)),
    mailboxIds: [mailbox],
    steps: [
      await world.step({ name: 'A', body: 'A' }),
      await world.step({ name: 'B', body: 'B' }, 2),
      await world.step({ name: 'C', body: 'C' }, 2),
    ],
  });
  await world.drive('2026-11-02T20:00:00Z');
  return id;
}

describe('about single recipients of a campaign that runs', () => {
  it('a person ends it, and takes that back', async () => {
    const id = await running();
    const ids = await idsOf(id, 'p0@vines.example', 'p5@vines.example');
    expect(await act(id, { act: 'end', enrolmentIds: ids })).toEqual({
      words: 'The campaign was ended for 2 people.',
      done: 2,
      passedOver: [],
    });
    expect(await world.states(id)).toMatchObject({ 'p0@vines.example': 'stopped', 'p5@vines.example': 'stopped' });
    expect(await act(id, { act: 'end', enrolmentIds: ids })).toMatchObject({
      done: 0,
      passedOver: [{ reason: 'nothing more is to come for them', people: 2 }],
    });
    expect((await world.brief(id)).lastChange).toMatchObject({
      words: ['The campaign was ended for 2 people.'],
      whyNotUndo: null,
    });
    await world.undo(id);
    expect(await world.states(id)).toMatchObject({ 'p0@vines.example': 'in_progress', 'p5@vines.example': 'waiting' });
    await act(id, { act: 'end', enrolmentIds: ids });
    await world.drive('2026-11-20T20:00:00Z');
    expect(await world.firstLines('p0@vines.example')).toEqual(['A']);
    expect(await world.firstLines('p5@vines.example')).toEqual([]);
    expect(await world.firstLines('p1@vines.example')).toEqual(['A', 'B', 'C']);
  });

  it('has them pass over a message, but not the first', async () => {
    const id = await running();
    const all = await idsOf(id, 'p0@vines.example', 'p5@vines.example');
    const { done, passedOver } = await act(id, { act: 'skip', enrolmentIds: all });
    expect([done, passedOver]).toEqual([1, [{ reason: 'the first message cannot be skipped, only ended', people: 1 }]]);
    await world.drive('2026-11-20T20:00:00Z');
    expect(await world.firstLines('p0@vines.example')).toEqual(['A', 'C']);
    expect(await world.firstLines('p5@vines.example')).toEqual(['A', 'B', 'C']);
    expect(await world.states(id)).toMatchObject({ 'p0@vines.example': 'done' });
  });

  it('postpones what follows, and no longer', async () => {
    const id = await running();
    const enrolmentIds = await idsOf(id, 'p0@vines.example');
    const next = async () =>
      (await world.recipients(id)).find((r) => r.address === 'p0@vines.example')?.messages[1]?.at ?? 0;
    const before = await next();
    await act(id, { act: 'postpone', enrolmentIds, day: '2026-11-16' });
    expect(await next()).toBeGreaterThan(Date.parse('2026-11-16T00:00:00Z'));
    await act(id, { act: 'postpone', enrolmentIds, day: null });
    expect(await next()).toBeLessThan(Date.parse('2026-11-16T00:00:00Z'));
    expect(before).toBeGreaterThan(0);
  });

  it('moves those who have had nothing to another mailbox', async () => {
    const tomas = await world.connect('tomas');
    const id = await world.begin({
      listId: await world.people(silentPeople(6)),
      mailboxIds: [mailbox, tomas],
      dailyLimit: 2,
    });
    await world.drive('2026-11-02T20:00:00Z');
    const waiting = (await world.recipients(id)).filter((r) => r.state === 'waiting').map((r) => r.enrolmentId);
    const begun = (await world.recipients(id)).filter((r) => r.state === 'in_progress').map((r) => r.enrolmentId);
    const { done, passedOver } = await act(id, { act: 'move', enrolmentIds: [...waiting, ...begun], mailboxId: tomas });
    expect(done).toBe(waiting.length);
    expect(passedOver).toEqual([{ reason: 'they are in a thread with their mailbox', people: begun.length }]);
    for (const r of await world.recipients(id))
      if (r.state === 'waiting') expect(r.mailbox).toBe('tomas@tidewaterkelp.example');
    await expect(act(id, { act: 'move', enrolmentIds: waiting, mailboxId: 999 })).rejects.toThrow('400');
  });

  it('sends the next message now, whatever the hour of the recipient, but never over the quota', async () => {
    const id = await running();
    // Quota of the day is used up: it stays planned. On the next morning it leaves, a day early.
    await world.drive('2026-11-03T07:00:00Z');
    const [first] = await idsOf(id, 'p0@vines.example');
    await world.drive('2026-11-03T09:05:00Z');
    expect(await act(id, { act: 'send_now', enrolmentIds: [first] })).toMatchObject({ done: 1 });
    await world.drive('2026-11-03T09:30:00Z');
    expect(await world.firstLines('p0@vines.example')).toEqual(['A', 'B']);
    await world.drive('2026-11-20T20:00:00Z');
    expect(await world.firstLines('p0@vines.example')).toEqual(['A', 'B', 'C']);
    const { rows } = await world.store.pool.query('select max(units) as most from mailbox_days');
    expect(rows[0].most).toBeLessThanOrEqual(4);
  });

  it('does it for all that a search finds, if that are as many as were shown', async () => {
    const id = await running();
    const found = { state: 'waiting', search: '', people: 2 };
    await expect(act(id, { act: 'end', found: { ...found, people: 3 } })).rejects.toThrow('409');
    expect(await act(id, { act: 'end', found })).toMatchObject({ done: 2 });
    await expect(act(id, { act: 'end' })).rejects.toThrow('400');
  });
});

describe('a campaign that has been started', () => {
  it('is a draft again when that is undone before anything has left, and not after', async () => {
    const id = await world.begin({
      listId: await world.people(silentPeople(3)),
      mailboxIds: [mailbox],
      startDate: '2026-11-03',
    });
    const started = await world.brief(id);
    expect(started.lastChange).toMatchObject({ words: ['It was started.'], whyNotUndo: null });
    const back = await world.undo(id);
    expect([back.state, back.states, back.startedAt]).toEqual(['draft', {}, null]);
    expect(back.forecast.people).toBe(3);
    await world.api.post(`/campaigns/${id}/start`, { people: 3, lastDay: back.forecast.lastDay });
    await world.drive('2026-11-03T20:00:00Z');
    await expect(world.undo(id)).rejects.toThrow('409');
    expect(Object.values(await world.states(id))).toEqual(['in_progress', 'in_progress', 'in_progress']);
  });

  it('is ended for everybody, and goes on when that is undone', async () => {
    const id = await running();
    await world.api.post(`/campaigns/${id}/end`, {});
    expect((await world.brief(id)).state).toBe('finished');
    await world.drive('2026-11-04T20:00:00Z');
    expect(await world.firstLines('p0@vines.example')).toEqual(['A']);
    const back = await world.undo(id);
    expect(back.state).toBe('running');
    await world.drive('2026-11-20T20:00:00Z');
    for (const address of Object.keys(silentPeople(6)))
      expect(await world.firstLines(address)).toEqual(['A', 'B', 'C']);
    await expect(world.api.post(`/campaigns/${id}/end`, {})).rejects.toThrow('409');
  });

  it('lists recipients in the order of any column, blanks last, of a draft too, and saves them as a spreadsheet', async () => {
    const id = await running();
    const order = async (of: number, sort: string, descending = false) =>
      (
        await world.api.get<RecipientPage>(`/campaigns/${of}/recipients?sort=${sort}&descending=${descending}`)
      ).people.map((p) => p.address.charAt(1));
    const names = '012345'.split('');
    expect(await order(id, 'who', true)).toEqual([...names].reverse());
    const times = async (sort: string, descending: boolean, step: number) => {
      const path = `/campaigns/${id}/recipients?sort=${sort}&descending=${descending}`;
      return (await world.api.get<RecipientPage>(path)).people.map((p) => p.messages[step]?.at ?? null);
    };
    const first = (await times('step_0', false, 0)) as number[];
    expect(first).toEqual([...first].sort((a, b) => a - b));
    const second = (await times('step_1', true, 1)) as number[];
    expect(second).toEqual([...second].sort((a, b) => b - a));
    // Waiting comes before in progress.
    expect((await order(id, 'state')).slice(0, 2).sort()).toEqual((await order(id, 'state', true)).slice(4).sort());
    await expect(world.api.get(`/campaigns/${id}/recipients?sort=fields`)).rejects.toThrow('400');
    const draft = await world.draft({
      listId: await world.people(silentPeople(6)),
      mailboxIds: [mailbox],
      name: 'Next',
    });
    expect(await order(draft.id, 'who', true)).toEqual([...names].reverse());
    const file = await fetch(`${world.url}/api/campaigns/${id}/outcomes.xlsx`);
    expect(file.headers.get('content-disposition')).toContain('trial-outcomes.xlsx');
    const { table } = readPeopleFile(Buffer.from(await file.arrayBuffer()));
    expect(table.header.slice(0, 5)).toEqual(['email', 'given name', 'state', 'reason', 'mailbox']);
    expect(table.rows).toHaveLength(6);
  });
});
