import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { RecipientPage, TodayView } from '@baton/contract';
import { TestWorld } from '../testing/test-world';

let world: TestWorld;
beforeEach(async () => {
  world = await TestWorld.start();
});
afterEach(() => world.close());

const order = (fault: string) =>
  world.desk.call('POST', '/faults', { account: 'ines@tidewaterkelp.example', fault, times: 1 });

/** One recipient, one message, one trouble on the way. */
async function sendThrough(fault: string, keepsSent: boolean): Promise<number> {
  const mailbox = await world.connect('ines', { keepsSent });
  const listId = await world.people({ 'ana@vines.example': 'silent' });
  const id = await world.begin({ listId, mailboxIds: [mailbox], steps: [await world.step({})] });
  await order(fault);
  await world.drive('2026-11-02T18:00:00Z');
  return id;
}

const onlyMessage = async (campaignId: number) =>
  (await world.api.get<RecipientPage>(`/campaigns/${campaignId}/recipients`)).people[0]?.messages[0];

describe('a connection that breaks', () => {
  it('before the body is tried again: nothing was lost, nothing sent twice', async () => {
    const id = await sendThrough('drop_at_mail', false);
    expect(await onlyMessage(id)).toMatchObject({ state: 'sent' });
    expect(await world.inbox('ana@vines.example')).toHaveLength(1);
  });

  it('after the server took the message is found out in the Sent folder', async () => {
    const id = await sendThrough('drop_after_taking', true);
    expect(await onlyMessage(id)).toMatchObject({ state: 'sent' });
    expect(await world.inbox('ana@vines.example')).toHaveLength(1);
    expect(await world.states(id)).toEqual({ 'ana@vines.example': 'done' });
  });

  it('before the server took it, likewise: it is planned again and sent once', async () => {
    const id = await sendThrough('drop_before_taking', true);
    expect(await world.inbox('ana@vines.example')).toHaveLength(1);
    expect(await onlyMessage(id)).toMatchObject({ state: 'sent' });
  });

  it('leaves an unconfirmed message to a person where there is no Sent folder to look in', async () => {
    const id = await sendThrough('drop_after_taking', false);
    expect(await onlyMessage(id)).toMatchObject({ state: 'unconfirmed' });
    const { needs } = await world.api.get<TodayView>('/today');
    expect(needs[0]).toMatchObject({ kind: 'unconfirmed', title: expect.stringContaining('ana@vines.example') });
  });

  it.each([
    [true, 1, 'done'],
    [false, 2, 'done'],
  ])('does as the person says of an unconfirmed message (it left: %s)', async (left, received, state) => {
    const id = await sendThrough('drop_after_taking', false);
    const message = await onlyMessage(id);
    await world.api.post(`/deliveries/${message?.deliveryId}/settle`, { left });
    await world.drive('2026-11-03T18:00:00Z');
    expect(await world.inbox('ana@vines.example')).toHaveLength(received);
    expect(await world.states(id)).toEqual({ 'ana@vines.example': state });
    await expect(world.api.post(`/deliveries/${message?.deliveryId}/settle`, { left })).rejects.toThrow('409');
  });
});
