import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { BriefView, CampaignBeginning, RecipientPage } from '@baton/contract';
import { WHOLE_LIST } from '@baton/core';
import { TestWorld } from '../testing/test-world';

let world: TestWorld;
let mailbox: number;
let listId: number;
beforeEach(async () => {
  world = await TestWorld.start();
  mailbox = await world.connect('ines');
  listId = await world.people(
    Object.fromEntries([0, 1, 2, 3].map((i) => [`p${i}@vines.example`, i === 0 ? 'keen' : 'silent'])),
  );
});
afterEach(() => world.close());

const create = async (from?: CampaignBeginning): Promise<BriefView> => {
  const { id } = await world.api.post<{ id: number }>('/campaigns', { name: 'New', ...(from && { from }) });
  return world.brief(id);
};

describe('a new campaign', () => {
  it('begins with the likeliest choices, which are proposals until somebody makes them', async () => {
    const held = await world.connect('tomas');
    await world.api.post(`/mailboxes/${held}/hold`, {});
    const b = await create();
    expect([b.mailboxIds, b.startDate, b.proposed]).toEqual([[mailbox], '2026-11-02', ['mailboxes', 'start']]);
    const later = await world.api.put<BriefView>(`/campaigns/${b.id}`, { ...b, startDate: '2026-11-05' });
    expect(later.proposed).toEqual(['mailboxes']);
  });

  it('is for rows that were picked in a list, however many there are, or for all that a search found', async () => {
    const rows = (await world.rows(listId)).slice(1, 3).map((r) => r.rowId);
    const b = await create({ kind: 'rows', listId, choice: { rows } });
    expect([b.listId, b.picked, b.forecast.people]).toEqual([listId, { people: 2, words: 'picked in the list' }, 2]);
    const all = await create({ kind: 'rows', listId, choice: { query: { ...WHOLE_LIST }, count: 4 } });
    expect([all.picked, all.forecast.people]).toEqual([null, 4]);
    const found = { ...WHOLE_LIST, search: 'p2@' };
    expect((await create({ kind: 'rows', listId, choice: { query: found, count: 1 } })).forecast.people).toBe(1);
    await expect(create({ kind: 'rows', listId, choice: { query: found, count: 2 } })).rejects.toThrow('409');
    // Whoever wants the whole list after all says so.
    const whole = await world.api.put<BriefView>(`/campaigns/${b.id}`, { ...b, usesPicked: false });
    expect([whole.picked, whole.forecast.people]).toEqual([null, 4]);
  });

  it('is for recipients of another: those who did not reply', async () => {
    const first = await world.begin({ listId, mailboxIds: [mailbox], steps: [await world.step({})] });
    await world.drive('2026-11-06T20:00:00Z');
    const done = await world.api.get<RecipientPage>(`/campaigns/${first}/recipients?state=done`);
    const who = { found: { state: 'done', search: '', people: done.total } } as const;
    const b = await create({ kind: 'recipients', campaignId: first, who });
    expect(b.forecast.people).toBe(3);
    expect(b.picked).toEqual({ people: 3, words: 'picked among those of Trial' });
  });

  it('has the choices of another, as they are now', async () => {
    const steps = [await world.step({ name: 'A' }), await world.step({ name: 'B' }, 4)];
    const first = await world.begin({ listId, mailboxIds: [mailbox], steps, dailyLimit: 7, notWithinDays: 30 });
    const b = await create({ kind: 'copy', campaignId: first });
    expect(b).toMatchObject({
      name: 'New',
      state: 'draft',
      listId,
      dailyLimit: 7,
      notWithinDays: 30,
      mailboxIds: [mailbox],
    });
    expect((await world.brief(first)).proposed).toEqual([]);
    expect(b.steps.map((s) => [s.messageName, s.delay])).toEqual([
      ['A', 0],
      ['B', 4],
    ]);
  });

  it('is for a message, and for nothing that is not there', async () => {
    const messageId = await world.message({ name: 'Kelp' });
    expect((await create({ kind: 'message', messageId })).steps.map((s) => s.messageName)).toEqual(['Kelp']);
    await expect(create({ kind: 'message', messageId: 999 })).rejects.toThrow('404');
    await expect(create({ kind: 'copy', campaignId: 999 })).rejects.toThrow('404');
    await expect(create({ kind: 'segment', listId, segmentId: 999 })).rejects.toThrow('404');
  });
});

describe('a tick that sends', () => {
  it('enrols whoever is ticked while it runs, also where nobody was at its start, until it is ended', async () => {
    await world.api.post(`/lists/${listId}/columns`, { name: 'send', kind: 'tick', formula: null, after: null });
    const tick = async (address: string) => {
      const [row] = await world.rows(listId, { search: address });
      await world.api.post(`/lists/${listId}/cells`, { cells: [{ rowId: row?.rowId, key: 'send', value: 'yes' }] });
    };
    const query = { ...WHOLE_LIST, filters: [{ key: 'send', kind: 'blank', blank: false }] };
    const segment = await world.api.post<{ id: number }>(`/lists/${listId}/segments`, { name: 'Ticked', query });
    const choices = {
      listId,
      segmentId: segment.id,
      mailboxIds: [mailbox],
      steps: [await world.step({ body: 'Ticked' })],
    };
    expect((await world.draft(choices)).forecast.obstacles.map((o) => o.kind)).toContain('fix');
    const draft = await world.draft({ ...choices, name: 'By tick', enrolNew: true });
    expect(draft.forecast.obstacles.filter((o) => o.kind === 'fix')).toEqual([]);
    await world.api.post(`/campaigns/${draft.id}/start`, { people: 0, lastDay: null });
    const texts = (name: string) => world.firstLines(`${name}@vines.example`);
    await world.drive('2026-11-02T10:00:00Z');
    await tick('p1@vines.example');
    await world.drive('2026-11-02T20:00:00Z');
    expect(await texts('p1')).toEqual(['Ticked']);
    expect(await texts('p2')).toEqual([]);
    await world.drive('2026-11-04T10:00:00Z');
    await tick('p2@vines.example');
    await world.drive('2026-11-04T20:00:00Z');
    expect(await texts('p2')).toEqual(['Ticked']);
    const view = () => world.brief(draft.id);
    expect([(await view()).state, (await view()).states]).toEqual(['running', { done: 2 }]);
    const after = await view();
    await world.api.post(`/campaigns/${draft.id}/changes`, { ...after, enrolNew: false });
    expect((await view()).state).toBe('finished');
  });
});
