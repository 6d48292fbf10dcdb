import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { MailboxChoices, MailboxTest, MailboxView } from '@baton/contract';
import { PASSWORD, TestWorld } from '../testing/test-world';

let world: TestWorld;
beforeEach(async () => {
  world = await TestWorld.start();
  await world.desk.call('POST', '/accounts', { address: 'ines@tidewaterkelp.example', password: PASSWORD });
});
afterEach(() => world.close());

interface Answer {
  id: number | null;
  test: MailboxTest;
}
const connect = (over: Partial<MailboxChoices>, id?: number) => {
  const choices = world.mailboxChoices('ines', over);
  return id === undefined
    ? world.api.post<Answer>('/mailboxes', choices)
    : world.api.put<Answer>(`/mailboxes/${id}`, choices);
};
const all = () => world.api.get<MailboxView[]>('/mailboxes');

describe('connecting a mailbox', () => {
  it('signs in, sends a message to itself, and reads it back', async () => {
    const { id, test } = await connect({});
    expect(id).toBe(1);
    expect(test.steps.map((s) => s.ok)).toEqual([true, true, true, true]);
    expect(await world.inbox('ines@tidewaterkelp.example')).toHaveLength(1);
    const [kept] = await all();
    expect(kept).toMatchObject({ address: 'ines@tidewaterkelp.example', quotaToday: 50, sentToday: 0 });
    expect(JSON.stringify(kept)).not.toContain(PASSWORD);
    const stored = await world.store.pool.query('select password_sealed from mailboxes');
    expect(stored.rows[0].password_sealed).not.toContain(PASSWORD);
  });

  it('names the step that failed in the server’s own words, and keeps nothing', async () => {
    const { id, test } = await connect({ password: 'wrong' });
    expect(id).toBeNull();
    expect(test.steps).toHaveLength(1);
    expect(test.steps[0]).toMatchObject({
      ok: false,
      said: expect.stringContaining('The user name or password is wrong'),
    });
    const reading = await connect({ imap: { host: '127.0.0.1', port: 1, security: 'none' } });
    expect(reading.test.steps.at(-1)).toMatchObject({ ok: false, said: expect.stringContaining('ECONNREFUSED') });
    expect(await all()).toEqual([]);
  });

  it('sends no password in clear to another machine', async () => {
    const smtp = { host: 'mail.tidewaterkelp.example', port: 25, security: 'none' as const };
    await expect(connect({ smtp })).rejects.toThrow('unencrypted');
  });

  it('keeps the password where it is left blank on a change, and tests the change too', async () => {
    const { id } = await connect({});
    const changed = await connect({ password: '', dailyQuota: 9 }, id as number);
    expect(changed.id).toBe(id);
    expect((await all())[0]?.dailyQuota).toBe(9);
    expect((await connect({ password: 'wrong', dailyQuota: 10 }, id as number)).id).toBeNull();
    expect((await all())[0]?.dailyQuota).toBe(9);
  });

  it.each([
    ['an address connected already', {}, 'connected already'],
    ['an address that is none', { address: 'ines' }, 'has no @ sign'],
    ['a zone that does not exist', { zone: 'Mars/Base' }, 'no time zone'],
    ['a window of six days', { windows: Array(6).fill([]) }, '7 items'],
    ['a negative quota', { dailyQuota: -1 }, 'dailyQuota'],
  ])('refuses %s with a sentence', async (_, over, words) => {
    await connect({});
    await expect(connect(over as Partial<MailboxChoices>)).rejects.toThrow(words);
  });
});
