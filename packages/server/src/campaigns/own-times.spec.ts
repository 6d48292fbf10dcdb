import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { BriefView, CellsChanged, ChangeView } from '@baton/contract';
import { fieldKey } from '@baton/core';
import { silentPeople, TestWorld } from '../testing/test-world';

let world: TestWorld;
let mailbox: number;
beforeEach(async () => {
  world = await TestWorld.start();
  mailbox = await world.connect('ines', { dailyQuota: 20 });
});
afterEach(() => world.close());

/** People with a column that says when to write to them, and one of time zones. */
async function listOf(rows: Record<string, [sendOn: string, zone: string]>): Promise<number> {
  const lines = Object.entries(rows).map(([name, [sendOn, zone]]) => `${name}@vines.example,${sendOn},${zone}`);
  return world.importCsv(['email,send on,time zone', ...lines].join('\n'));
}

/** When each of the people got their messages, to the minute. */
async function gotAt(name: string): Promise<string[]> {
  const mails = await world.inbox(`${name}@vines.example`);
  return mails.map((m) => new Date(m.receivedAt).toISOString().slice(0, 16));
}

const hours = { window: { weekdays: [1, 2, 3, 4, 5], from: 0, to: 1440 } };

describe('a row’s own minute', () => {
  it('is kept in the person’s zone, beside others who have none', async () => {
    const listId = await listOf({
      ana: ['2026-11-03 10:00', ''],
      bo: ['2026-11-03 11:30', 'Europe/Athens'],
      cy: ['2026-11-03T15:15Z', 'Asia/Tokyo'],
      dee: ['2026-11-03', ''],
      ed: ['', ''],
    });
    const id = await world.begin({ listId, mailboxIds: [mailbox], ...hours });
    expect((await world.brief(id)).forecast.ownTimes).toEqual({ people: 3, later: 0, who: [] });
    await world.drive('2026-11-03T20:00:00Z');
    expect(await gotAt('ana')).toEqual(['2026-11-03T10:00']);
    expect(await gotAt('bo')).toEqual(['2026-11-03T09:30']);
    expect(await gotAt('cy')).toEqual(['2026-11-03T15:15']);
    expect((await gotAt('dee'))[0]).toMatch(/^2026-11-03/);
  });

  it('is on the workspace’s clock where the campaign goes by that', async () => {
    const listId = await listOf({ bo: ['2026-11-03 11:30', 'Europe/Athens'] });
    await world.begin({ listId, mailboxIds: [mailbox], ...hours, windowZone: 'workspace' });
    await world.drive('2026-11-03T20:00:00Z');
    expect(await gotAt('bo')).toEqual(['2026-11-03T11:30']);
  });

  it('that no mailbox may keep is told before the start, with what comes instead', async () => {
    const listId = await listOf({ ana: ['2026-11-03 10:00', ''], bo: ['2026-11-03 19:00', ''] });
    const { forecast } = await world.draft({ listId, mailboxIds: [mailbox], ...hours });
    expect(forecast.ownTimes).toEqual({
      people: 2,
      later: 1,
      who: [{ address: 'bo@vines.example', wanted: '2026-11-03 19:00', gets: '2026-11-04 09:00' }],
    });
    expect(forecast.obstacles.map((o) => o.text)).toContain(
      '1 of the people with a time of their own is written to later, because no mailbox may send then',
    );
  });

  it('follows its cell while the campaign runs, and goes back with the change', async () => {
    const listId = await listOf({ ana: ['2026-11-03 10:00', ''], bo: ['2026-11-05 10:00', ''] });
    const id = await world.begin({ listId, mailboxIds: [mailbox], ...hours });
    const [ana, bo] = (await world.rows(listId)).map((r) => r.rowId);
    const type = (rowId: number | undefined, value: string) =>
      world.api.post<CellsChanged>(`/lists/${listId}/cells`, { cells: [{ rowId, key: fieldKey('send on'), value }] });
    await type(ana, '3.11.2026 14:45');
    await type(bo, '2026-11-03 16:00');
    await world.api.post(`/lists/${listId}/undo`, {});
    await world.drive('2026-11-03T20:00:00Z');
    expect(await gotAt('ana')).toEqual(['2026-11-03T14:45']);
    expect(await gotAt('bo')).toEqual([]);
    // Somebody who has been written to no longer follows it.
    await type(ana, '2026-11-20 10:00');
    await world.drive('2026-11-06T20:00:00Z');
    expect(await gotAt('bo')).toEqual(['2026-11-05T10:00']);
    expect((await world.states(id))['ana@vines.example']).toBe('done');
  });
});

describe('a campaign with hours', () => {
  it('begins at its minute and ends at its last: what is still to come then is stopped, and told', async () => {
    const brief = await world.draft({
      ...{ listId: await world.people(silentPeople(30)), mailboxIds: [mailbox], startDate: '2026-11-02' },
      ...{ startMinute: 15 * 60, endDate: '2026-11-04', endMinute: 12 * 60 },
    });
    expect(brief.forecast.obstacles.map((o) => o.text)).toEqual([
      expect.stringMatching(/would leave after Wednesday 4 November at 12:00 and are not sent$/),
    ]);
    const { id, forecast } = brief;
    await world.api.post(`/campaigns/${id}/start`, { people: forecast.people, lastDay: forecast.lastDay });
    await world.drive('2026-11-09T20:00:00Z');
    const all = (await Promise.all(Object.keys(silentPeople(30)).map((a) => world.inbox(a)))).flat();
    expect(all.length).toBe(forecast.messages);
    expect(all.every((m) => m.receivedAt >= Date.parse('2026-11-02T15:00Z'))).toBe(true);
    expect(all.every((m) => m.receivedAt < Date.parse('2026-11-04T12:00Z'))).toBe(true);
    expect(await world.brief(id)).toMatchObject({ state: 'finished' });
    const states = Object.values(await world.states(id));
    expect(states.filter((s) => s === 'stopped')).toHaveLength(30 - states.filter((s) => s === 'done').length);
    expect((await world.recipients(id)).find((r) => r.state === 'stopped')?.reason).toBe(
      'the campaign’s last day has passed',
    );
  });

  it('goes on with a later last day after it has ended, for everybody to whom more was to come', async () => {
    const listId = await world.people({ ...silentPeople(3), 'ro@vines.example': 'keen' });
    const id = await world.begin({ listId, mailboxIds: [mailbox], endDate: '2026-11-03' });
    await world.drive('2026-11-05T20:00:00Z');
    const ended = await world.brief(id);
    expect(ended).toMatchObject({ state: 'finished', lastChange: { needsLaterEnd: true, whyNotUndo: null } });
    expect(ended.lastChange?.words).toEqual(['It ended with its last day.']);
    await expect(world.undo(id)).rejects.toThrow('Its last day has passed. Choose a later one.');
    const until = (endDate: string | null) => world.api.post<BriefView>(`/campaigns/${id}/go-on`, { endDate });
    await expect(until('2026-11-04')).rejects.toThrow('Its last day has passed. Choose a later one.');
    expect(await until('2026-11-12')).toMatchObject({ state: 'running', endDate: '2026-11-12' });
    await world.drive('2026-11-11T20:00:00Z');
    expect(Object.values(await world.states(id)).sort()).toEqual(['done', 'done', 'done', 'replied']);
    await expect(until(null)).rejects.toThrow('The campaign has not ended with its last day.');
  });

  it.each([
    [{ endDate: '2026-10-30' }, 'Its last day has passed'],
    [{ startDate: '2026-11-10', endDate: '2026-11-09' }, 'It would end before it starts'],
    [
      { startDate: '2026-11-10', startMinute: 900, endDate: '2026-11-10', endMinute: 840 },
      'It would end before it starts',
    ],
  ])('does not start with %o', async (over, text) => {
    const { forecast, id } = await world.draft({
      listId: await world.people(silentPeople(2)),
      mailboxIds: [mailbox],
      ...over,
    });
    expect(forecast.obstacles).toContainEqual(expect.objectContaining({ kind: 'fix', text }));
    const body = { people: forecast.people, lastDay: forecast.lastDay };
    await expect(world.api.post(`/campaigns/${id}/start`, body)).rejects.toThrow(text);
  });

  it('takes a later last day while it runs, and follow-ups come again', async () => {
    const listId = await world.people(silentPeople(3));
    const id = await world.begin({ listId, mailboxIds: [mailbox], endDate: '2026-11-03' });
    await world.drive('2026-11-02T20:00:00Z');
    const brief = await world.brief(id);
    expect(brief.forecast.messages).toBe(3);
    await world.api.post(`/campaigns/${id}/changes`, { ...brief, endDate: null });
    await world.drive('2026-11-06T20:00:00Z');
    expect(Object.values(await world.states(id))).toEqual(['done', 'done', 'done']);
  });

  it('takes no last day that has passed, or lies before the start, while it runs', async () => {
    const listId = await world.people(silentPeople(3));
    const id = await world.begin({ listId, mailboxIds: [mailbox], startDate: '2026-11-09' });
    await world.drive('2026-11-04T20:00:00Z');
    const brief = await world.brief(id);
    const faults = async (over: Partial<BriefView>) =>
      (await world.api.post<ChangeView>(`/campaigns/${id}/changes/preview`, { ...brief, ...over })).faults;
    expect(await faults({ endDate: '2026-11-03' })).toEqual(['Its last day has passed.']);
    expect(await faults({ endDate: '2026-11-06' })).toEqual(['It would end before it starts.']);
    expect(await faults({ endDate: '2026-11-09' })).toEqual([]);
    const past = { ...brief, endDate: '2026-11-03' };
    await expect(world.api.post(`/campaigns/${id}/changes`, past)).rejects.toThrow('Its last day has passed.');
  });
});
