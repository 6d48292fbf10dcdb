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
    expect(test.steps.map((s) => s.ok)).toEqual([true, true, true, true, true]);
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
    expect(reading.test.steps.at(-1)).toMatchObject({
      ok: false,
      said: expect.stringContaining('Nothing is listening on port 1 of'),
    });
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
    ['a negative quota', { dailyQuota: -1 }, 'Daily quota must be 0 or more.'],
  ])('refuses %s with a sentence', async (_, over, words) => {
    await connect({});
    await expect(connect(over as Partial<MailboxChoices>)).rejects.toThrow(words);
  });
});

describe('another address on a connection', () => {
  it('needs no password of its own, is read once, and shares the provider’s limit', async () => {
    await world.desk.call('POST', '/accounts', {
      ...{ address: 'ines@tidewaterkelp.example', password: 'a real password', dailyLimit: 500 },
      aliases: ['sales@tidewaterkelp.example'],
    });
    const own = world.mailboxChoices('ines', { password: 'a real password', providerLimit24h: 9 });
    const connectOne = async (choices: MailboxChoices) =>
      (await world.api.post<{ id: number | null; test: MailboxTest }>('/mailboxes', choices)).id;
    const ines = await connectOne(own);
    const sales = await connectOne({
      ...own,
      address: 'sales@tidewaterkelp.example',
      senderName: 'Sales',
      password: '',
    });
    expect([ines, sales]).not.toContain(null);
    const others = { 'keen@vines.example': 'keen', 'keen@orchards.example': 'keen' };
    const listId = await world.people({
      ...Object.fromEntries(Array.from({ length: 10 }, (_, i) => [`p${i}@vines.example`, 'silent'])),
      ...others,
    });
    const id = await world.begin({ listId, mailboxIds: [ines as number, sales as number] });
    const perDay = await world.store.pool.query<{ n: number }>(
      'select count(*)::int as n from deliveries group by day order by n desc limit 1',
    );
    // Four each of nine, so that both together stay within it.
    expect(perDay.rows[0]?.n).toBeLessThanOrEqual(8);
    await world.drive('2026-11-06T20:00:00Z');
    const states = await world.states(id);
    expect([states['keen@vines.example'], states['keen@orchards.example']]).toEqual(['replied', 'replied']);
    const replies = await world.store.pool.query(`select from events where kind = 'reply'`);
    expect(replies.rowCount).toBe(2);
    const froms = new Set(
      (await world.inbox('p1@vines.example')).concat(await world.inbox('p2@vines.example')).map((m) => m.from),
    );
    expect(froms.size).toBeGreaterThan(0);
  });

  it('still needs one where nobody goes by that connection', async () => {
    await expect(world.api.post('/mailboxes', world.mailboxChoices('tomas', { password: '' }))).rejects.toThrow(
      'password is missing',
    );
  });
});
