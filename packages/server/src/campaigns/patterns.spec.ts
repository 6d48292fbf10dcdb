import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { PatternView } from '@baton/contract';
import { TestWorld } from '../testing/test-world';

let world: TestWorld;
beforeEach(async () => {
  world = await TestWorld.start();
});
afterEach(() => world.close());

const patterns = () => world.api.get<PatternView[]>('/patterns');

describe('a pattern', () => {
  it('begins campaigns with messages, waits, times and limits, but with nobody and no day of its own', async () => {
    const mailbox = await world.connect('ines', { dailyQuota: 20 });
    const listId = await world.people({ 'ana@vines.example': 'silent' });
    const steps = [
      await world.step({ name: 'First' }),
      { ...(await world.step({ name: 'Last' }, 4)), startsThread: true },
    ];
    const window = { weekdays: [2, 4], from: 600, to: 700 };
    const limits = { window, dailyLimit: 7, mostPerCompany: 2, startMinute: 630, firstGroup: 20 };
    const draft = await world.draft({ listId, mailboxIds: [mailbox], startDate: '2026-12-24', steps, ...limits });
    await world.api.post(`/campaigns/${draft.id}/pattern`, { name: 'Slow' });
    expect(await patterns()).toMatchObject([
      { name: 'Slow', steps: [{ message: 'First', delay: 0 }, { message: 'Last', delay: 4 }] }, // prettier-ignore
    ]);
    const from = { kind: 'pattern', patternId: (await patterns())[0]?.id };
    const { id } = await world.api.post<{ id: number }>('/campaigns', { name: 'Next', from });
    const next = await world.brief(id);
    expect(next).toMatchObject({ ...limits, listId: null, endDate: null, startDate: '2026-11-02' });
    expect(next.steps.map((s) => [s.messageName, s.delay, s.startsThread])).toEqual([['First', 0, false], ['Last', 4, true]]); // prettier-ignore
  });

  it('is replaced by one of the same name, deleted, and brought back', async () => {
    const one = await world.draft({ listId: null, mailboxIds: [], steps: [await world.step({ name: 'A' })] });
    const two = await world.draft({
      listId: null,
      mailboxIds: [],
      steps: [await world.step({ name: 'B' })],
      name: 'Two',
    });
    await world.api.post(`/campaigns/${one.id}/pattern`, { name: 'Mine' });
    await world.api.post(`/campaigns/${two.id}/pattern`, { name: 'Mine' });
    const [mine, ...others] = await patterns();
    expect([mine?.steps[0]?.message, others]).toEqual(['B', []]);
    await world.api.remove(`/patterns/${mine?.id}`);
    expect(await patterns()).toEqual([]);
    const from = { kind: 'pattern', patternId: mine?.id };
    await expect(world.api.post('/campaigns', { name: 'No', from })).rejects.toThrow('There is no such pattern.');
    await world.api.post(`/patterns/${mine?.id}/restore`, {});
    expect(await patterns()).toHaveLength(1);
  });

  it('leaves a message to be chosen that has been deleted, and is none of nothing', async () => {
    const draft = await world.draft({ listId: null, mailboxIds: [], steps: [await world.step({ name: 'Gone' })] });
    await world.api.post(`/campaigns/${draft.id}/pattern`, { name: 'Mine' });
    await world.store.pool.query('delete from campaign_steps; delete from messages');
    expect((await patterns())[0]?.steps).toEqual([{ message: null, delay: 0 }]);
    const from = { kind: 'pattern', patternId: (await patterns())[0]?.id };
    const { id } = await world.api.post<{ id: number }>('/campaigns', { name: 'Next', from });
    expect((await world.brief(id)).steps.map((s) => s.messageId)).toEqual([null]);
    const empty = await world.draft({ listId: null, mailboxIds: [], steps: [], name: 'Empty' });
    await expect(world.api.post(`/campaigns/${empty.id}/pattern`, { name: 'None' })).rejects.toThrow(
      'at least one message',
    );
  });
});
