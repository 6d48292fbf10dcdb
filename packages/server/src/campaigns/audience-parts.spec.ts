import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { AudiencePart, BriefView, ChangeView, ListHead } from '@baton/contract';
import { WHOLE_LIST } from '@baton/core';
import { purgeRemoved } from '../store/people/list/purge-rows';
import { TestWorld } from '../testing/test-world';

let world: TestWorld;
let mailbox: number;
let orchards: number;
let gardens: number;
let customers: number;
beforeEach(async () => {
  world = await TestWorld.start();
  mailbox = await world.connect('ines');
  orchards = await world.people({ 'ana@x.example': 'silent', 'ben@x.example': 'silent', 'both@x.example': 'silent' });
  gardens = await world.importCsv(
    'email,given name,bed\nboth@x.example,Gardener,3\ncy@y.example,Cy,4\nnew@y.example,New,5',
    'Gardens',
  );
  customers = await world.importCsv('email,given name\nben@x.example,Ben\nana@x.example,Ana', 'Customers');
  await put(gardens, 'new@y.example', 'remove');
  await put(customers, 'ana@x.example', 'remove');
});
afterEach(() => world.close());

const whole = (listId: number): AudiencePart => ({ listId, segmentId: null });
const states = async (id: number) => (await world.recipients(id)).map((r) => [r.address, r.state, r.reason]);
const change = (b: BriefView, over: Partial<BriefView>) =>
  world.api.put<BriefView>(`/campaigns/${b.id}`, { ...b, ...over });
/** Takes somebody off a list, or puts them back onto it. */
const put = async (listId: number, address: string, way: 'remove' | 'restore') => {
  const rows = await world.rows(listId, {}, way === 'restore');
  const choice = { rows: rows.filter((r) => r.address === address).map((r) => r.rowId) };
  await world.api.post(`/lists/${listId}/${way}-rows`, { choice });
};
const segment = (listId: number, search: string) =>
  world.api
    .post<{ id: number }>(`/lists/${listId}/segments`, { name: search, query: { ...WHOLE_LIST, search } })
    .then(({ id: segmentId }) => ({ listId, segmentId }));

describe('an audience of several lists', () => {
  it('has everybody once, as the first list knows them, and leaves out who is on another', async () => {
    const b = await world.draft({
      ...{ listId: orchards, mailboxIds: [mailbox] },
      ...{ alsoParts: [whole(gardens)], exceptParts: [whole(customers)] },
      steps: [await world.step({ subject: 'For {{ given_name }}' })],
    });
    expect([b.forecast.people, b.alsoWords, b.exceptWords]).toEqual([3, ['Gardens'], ['Customers']]);
    expect(b.forecast.leftOut).toMatchObject([
      { code: 'excluded', reason: 'also on Customers', people: 1, who: ['ben@x.example'] },
    ]);
    await world.api.post(`/campaigns/${b.id}/start`, { people: 3, lastDay: b.forecast.lastDay });
    await world.drive('2026-11-04T20:00:00Z');
    expect(await states(b.id)).toEqual([
      ['ana@x.example', 'done', ''],
      ['ben@x.example', 'left_out', 'also on Customers'],
      ['both@x.example', 'done', ''],
      ['cy@y.example', 'done', ''],
    ]);
    expect((await world.inbox('both@x.example')).map((m) => m.subject)).toEqual(['For Both']);
    const file = await (await fetch(`${world.url}/api/campaigns/${b.id}/outcomes.csv`)).text();
    expect(file.split('\r\n')[0]).toContain('given name,bed,');
    expect(file).toContain('cy@y.example,Cy,4,');
  });

  it('takes segments, asks for what is there, and keeps a segment that it uses', async () => {
    const b = await world.draft({ listId: orchards, mailboxIds: [mailbox] });
    const cy = await segment(gardens, 'cy');
    const wider = await change(b, { alsoParts: [cy] });
    expect([wider.forecast.people, wider.alsoWords]).toEqual([4, ['Gardens where “cy” is found']]);
    await expect(change(wider, { exceptParts: [{ ...cy, listId: customers }] })).rejects.toThrow('404');
    await expect(change(wider, { alsoParts: [whole(999)] })).rejects.toThrow('404');
    await expect(change(wider, { alsoParts: [cy, cy] })).rejects.toThrow('400');
    await expect(world.api.remove(`/segments/${cy.segmentId}`)).rejects.toThrow('409');
  });

  it('cannot start with a list that has been deleted, of those it leaves out too', async () => {
    const b = await world.draft({ listId: orchards, mailboxIds: [mailbox], exceptParts: [whole(customers)] });
    await world.api.remove(`/lists/${customers}`);
    const { forecast } = await world.brief(b.id);
    expect(forecast.obstacles[0]).toMatchObject({ kind: 'fix', text: 'The list Customers has been deleted' });
    expect(forecast.leftOut.map((l) => l.who)).toEqual([['ben@x.example']]);
  });
});

describe('a running campaign and its lists', () => {
  const start = async (over: Partial<BriefView>) =>
    world.begin({ listId: orchards, mailboxIds: [mailbox], startDate: '2026-11-04', ...over });

  it('leaves out whoever comes onto a list that it leaves out, and takes them back when they leave it', async () => {
    const id = await start({ exceptParts: [whole(customers)] });
    await put(customers, 'ana@x.example', 'restore');
    await world.drive('2026-11-02T12:00:00Z');
    expect((await states(id))[0]).toEqual(['ana@x.example', 'left_out', 'also on Customers']);
    await put(customers, 'ana@x.example', 'remove');
    await world.drive('2026-11-03T12:00:00Z');
    expect((await states(id))[0]).toEqual(['ana@x.example', 'waiting', '']);
    await world.drive('2026-11-04T20:00:00Z');
    await put(customers, 'ana@x.example', 'restore');
    await world.drive('2026-11-20T20:00:00Z');
    expect((await states(id))[0]).toEqual(['ana@x.example', 'stopped', 'also on Customers']);
    expect(await world.inbox('ana@x.example')).toHaveLength(1);
    expect(await world.inbox('ben@x.example')).toHaveLength(0);
  });

  it('takes in whoever comes onto any of its lists, where it says so', async () => {
    const id = await start({ alsoParts: [whole(gardens)], enrolNew: true });
    await put(gardens, 'new@y.example', 'restore');
    await world.drive('2026-11-02T12:00:00Z');
    expect((await states(id)).at(-1)).toEqual(['new@y.example', 'waiting', '']);
  });

  it('keeps the rows of its lists, and who is left out, when these lists are deleted for good', async () => {
    const id = await start({ alsoParts: [whole(gardens)], exceptParts: [whole(customers)] });
    expect((await world.api.get<ListHead>(`/lists/${gardens}`)).outcomes).not.toEqual([]);
    for (const list of [gardens, customers]) await world.api.remove(`/lists/${list}`);
    await purgeRemoved(world.store.db, Date.parse('2027-01-01T00:00:00Z'));
    // Also where the campaign is no longer for the list from which somebody came.
    await world.api.post(`/campaigns/${id}/changes`, { ...(await world.brief(id)), alsoParts: [] });
    await purgeRemoved(world.store.db, Date.parse('2027-01-01T00:00:00Z'));
    expect((await states(id)).map(([address, state]) => [address, state])).toEqual([
      ['ana@x.example', 'waiting'],
      ['ben@x.example', 'left_out'],
      ['both@x.example', 'waiting'],
      ['cy@y.example', 'left_out'],
    ]);
    expect((await world.brief(id)).exceptWords).toEqual(['Customers']);
  });

  it('follows a segment that is changed to find others', async () => {
    const own = await segment(gardens, 'cy');
    const id = await start({ ...own, enrolNew: true });
    expect(await states(id)).toEqual([['cy@y.example', 'waiting', '']]);
    await world.api.patch(`/segments/${own.segmentId}`, { query: { ...WHOLE_LIST, search: 'both' } });
    await world.drive('2026-11-02T12:00:00Z');
    expect((await states(id)).map(([address]) => address)).toEqual(['both@x.example', 'cy@y.example']);
  });

  it('says before it is changed who comes and who goes, and can be undone', async () => {
    const b = await world.brief(await start({}));
    const choices = { ...b, alsoParts: [whole(gardens)], exceptParts: [whole(customers)] };
    const { changes, effects } = await world.api.post<ChangeView>(`/campaigns/${b.id}/changes/preview`, choices);
    expect(changes).toEqual(['It is for People and Gardens, without those of Customers, instead of People.']);
    expect(effects).toContain('1 person is taken in.');
    expect(effects).toContain('1 person who waits for the first message gets none.');
    await world.api.post(`/campaigns/${b.id}/changes`, choices);
    expect((await states(b.id)).map(([, state]) => state)).toEqual(['waiting', 'left_out', 'waiting', 'waiting']);
    await world.undo(b.id);
    expect((await states(b.id)).map(([, state]) => state)).toEqual(['waiting', 'waiting', 'waiting']);
    expect((await world.brief(b.id)).alsoParts).toEqual([]);
  });
});
