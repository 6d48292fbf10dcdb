import type { MailboxView } from '@baton/contract';
import nodemailer from 'nodemailer';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { TestWorld } from '../testing/test-world';

let world: TestWorld;
beforeEach(async () => {
  world = await TestWorld.start(Date.parse('2026-11-02T05:00:00Z'));
});
afterEach(() => world.close());

const mailbox = async (id: number) =>
  (await world.api.get<MailboxView[]>('/mailboxes')).find((m) => m.id === id) as MailboxView;

/** As the owner's own mail program does it. */
async function byHand(from: string, to: string[], user = from): Promise<void> {
  const { smtp, password } = world.mailboxChoices('ines');
  const transport = nodemailer.createTransport({ ...smtp, secure: false, auth: { user, pass: password } });
  await transport.sendMail({ from, to, subject: 'About the crates', text: 'On Friday, then.' });
  transport.close();
}
const people = (n: number) =>
  Object.fromEntries(Array.from({ length: n }, (_, i) => [`p${i}@vines${i}.example`, 'silent']));
const sentOn = async (day: string) =>
  (
    await world.store.pool.query<{ n: number }>(
      `select count(*)::int as n from attempts where started_at >= $1 and started_at < $1 + 86400000`,
      [Date.parse(day)],
    )
  ).rows[0]?.n;

describe('what the owner sends by hand', () => {
  it('counts by its recipients against the quota of the day', async () => {
    const ines = await world.connect('ines', { dailyQuota: 10 });
    await world.drive('2026-11-02T07:30:00Z');
    await byHand('ines@tidewaterkelp.example', ['a@x.example', 'b@x.example']);
    await byHand('ines@tidewaterkelp.example', ['c@x.example']);
    await world.drive('2026-11-02T08:30:00Z');
    expect(await mailbox(ines)).toMatchObject({ sentToday: 3, byHandToday: 3 });
    await world.begin({ listId: await world.people(people(20)), mailboxIds: [ines] });
    await world.drive('2026-11-02T20:00:00Z');
    expect(await sentOn('2026-11-02')).toBe(7);
    expect(await mailbox(ines)).toMatchObject({ sentToday: 10, byHandToday: 3 });
    await world.drive('2026-11-03T20:00:00Z');
    expect(await sentOn('2026-11-03')).toBe(10);
  });

  it('counts against the provider’s limit in 24 hours, also for the other addresses of the connection', async () => {
    const ines = await world.connect('ines', { dailyQuota: 50, providerLimit24h: 12 });
    await world.drive('2026-11-02T07:30:00Z');
    await byHand(
      'ines@tidewaterkelp.example',
      Array.from({ length: 8 }, (_, i) => `h${i}@x.example`),
    );
    await world.drive('2026-11-02T08:30:00Z');
    await world.begin({ listId: await world.people(people(20)), mailboxIds: [ines] });
    await world.drive('2026-11-03T07:00:00Z');
    expect(await sentOn('2026-11-02')).toBe(4);
  });

  it('is neither what stood there before, nor what Baton has sent', async () => {
    const listId = await world.people(people(3));
    await world.desk.call('POST', '/accounts', {
      address: 'ines@tidewaterkelp.example',
      password: world.mailboxChoices('ines').password,
      dailyLimit: 2000,
    });
    await byHand('ines@tidewaterkelp.example', ['a@x.example']);
    const ines = await world.connect('ines', { dailyQuota: 10 });
    await world.begin({ listId, mailboxIds: [ines] });
    await world.drive('2026-11-02T20:00:00Z');
    expect(await mailbox(ines)).toMatchObject({ sentToday: 3, byHandToday: 0 });
  });
});

describe('copies', () => {
  it('of what leaves are put into the folder that is chosen, which is made', async () => {
    const ines = await world.connect('ines', { archiveFolder: 'Campaign mail' });
    await world.begin({ listId: await world.people(people(2)), mailboxIds: [ines] });
    await world.drive('2026-11-02T20:00:00Z');
    const filed = world.provider.store.folder('ines@tidewaterkelp.example', 'Campaign mail');
    expect(filed).toHaveLength(2);
    expect(filed[0]?.raw.toString()).toContain('Subject: Kelp for');
    expect((await mailbox(ines)).archiveProblem).toBeNull();
  });
});
