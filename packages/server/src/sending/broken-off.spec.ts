import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { MailboxView, RecipientPage, TodayView } from '@baton/contract';
import { CompiledMessages } from '../messages/compiled-messages';
import { createSecrets } from '../security/secrets';
import { readMailbox, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { withSendingLock } from '../store/sending/sending-connection';
import { MONDAY } from '../testing/test-store';
import { PASSWORD, TestWorld } from '../testing/test-world';
import { claimNext, type Claimed } from './claim';
import { recordOutcome } from './record';

const INES = { address: 'ines@tidewaterkelp.example', password: PASSWORD };

let world: TestWorld;
beforeEach(async () => {
  world = await TestWorld.start();
});
afterEach(() => world.close());

const order = (fault: string, times = 1) =>
  world.desk.call('POST', '/faults', { account: 'ines@tidewaterkelp.example', fault, times });

/** One recipient, one message, one trouble on the way. */
async function sendThrough(fault: string, keepsSent: boolean, unsearchable = 0): Promise<number> {
  const mailbox = await world.connect('ines', { keepsSent });
  const listId = await world.people({ 'ana@vines.example': 'silent' });
  const id = await world.begin({ listId, mailboxIds: [mailbox], steps: [await world.step({})] });
  await order(fault);
  await order('refuse_search', unsearchable);
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

  it.each([
    ['once', 1, 'sent'],
    ['never again', 1000, 'unconfirmed'],
  ])('is looked for a second time where the Sent folder could not be searched (%s)', async (_, times, state) => {
    const id = await sendThrough('drop_after_taking', true, times);
    expect(await onlyMessage(id)).toMatchObject({ state });
    expect(await world.inbox('ana@vines.example')).toHaveLength(1);
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

describe('a copy in the Sent folder', () => {
  const copyOf = async (messageId: string) => Buffer.from(`Message-ID: <${messageId}>\r\nSubject: a copy\r\n\r\n`);

  it('that is filed late is still found: the message is not sent again', async () => {
    const mailbox = await world.connect('ines');
    const listId = await world.people({ 'ana@vines.example': 'silent' });
    const id = await world.begin({ listId, mailboxIds: [mailbox], steps: [await world.step({})] });
    // From now on the provider files copies when it pleases.
    await world.desk.call('POST', '/accounts', { ...INES, keepsSent: false });
    await order('drop_after_taking');
    const attempts = () => world.store.pool.query<{ message_id: string; started_at: string }>('select * from attempts');
    for (let at = MONDAY; (await attempts()).rows.length === 0; at += 5 * 60_000) await world.drive(at);
    const { message_id = '', started_at = '' } = (await attempts()).rows[0] ?? {};
    const startedAt = Number(started_at);
    await world.drive(startedAt + 15 * 60_000);
    expect(await onlyMessage(id)).toMatchObject({ state: 'sending' });
    world.provider.store.addMail(INES.address, 'Sent', await copyOf(message_id), startedAt + 16 * 60_000);
    await world.drive('2026-11-03T18:00:00Z');
    expect(await onlyMessage(id)).toMatchObject({ state: 'sent' });
    expect(await world.inbox('ana@vines.example')).toHaveLength(1);
  });

  it('is filed by Baton where the provider keeps none, and is not counted as sent by hand', async () => {
    await sendThrough('drop_at_mail', false);
    const sent = world.provider.store.folder(INES.address, 'Sent').map((m) => m.raw.toString());
    expect(sent.filter((m) => m.includes('To: ana@vines.example'))).toHaveLength(1);
    await world.drive('2026-11-03T12:00:00Z');
    const [view] = await world.api.get<MailboxView[]>('/mailboxes');
    expect(view).toMatchObject({ keepsSent: false, byHandToday: 0, archiveProblem: null });
  });

  it('is looked for by the connection test', async () => {
    await world.connect('ines', { keepsSent: false });
    await world.connect('tomas');
    const views = await world.api.get<MailboxView[]>('/mailboxes');
    expect(views.map((v) => v.keepsSent)).toEqual([false, true]);
  });
});

describe('what is refused before a recipient was named', () => {
  it('lets the mailbox rest, and costs nobody a try', async () => {
    const mailbox = await world.connect('ines', { paceSeconds: 0 });
    const people = Object.fromEntries(Array.from({ length: 12 }, (_, i) => [`p${i}@vines.example`, 'silent']));
    const listId = await world.people(people);
    const id = await world.begin({ listId, mailboxIds: [mailbox], steps: [await world.step({})] });
    await world.desk.call('POST', '/faults', { account: INES.address, fault: 'refuse_at_mail', times: 3 });
    await world.drive('2026-11-02T18:00:00Z');
    expect(new Set(Object.values(await world.states(id)))).toEqual(new Set(['waiting']));
    const { needs } = await world.api.get<TodayView>('/today');
    expect(needs[0]).toMatchObject({
      kind: 'resting',
      detail: expect.stringContaining('Mail from your network is not taken') as string,
    });
    await world.drive('2026-11-06T18:00:00Z');
    expect(new Set(Object.values(await world.states(id)))).toEqual(new Set(['done']));
  });

  it('ends nobody while a server cannot be reached for days, and Today says it after an hour', async () => {
    const mailbox = await world.connect('ines');
    const listId = await world.people({ 'ana@vines.example': 'silent' });
    const id = await world.begin({ listId, mailboxIds: [mailbox], steps: [await world.step({})] });
    await world.desk.call('POST', '/faults', { account: INES.address, fault: 'drop_at_mail', times: 1000 });
    await world.drive('2026-11-02T17:00:00Z');
    const { needs } = await world.api.get<TodayView>('/today');
    expect(needs[0]?.title).toMatch(/^ines@tidewaterkelp.example has not been able to send since Mon 2 Nov, /);
    const tries = await world.store.pool.query('select * from attempts');
    // A hot loop would have made thousands in these hours.
    expect(tries.rows.length).toBeLessThan(40);
    await world.drive('2026-11-05T09:00:00Z');
    expect(Object.values(await world.states(id))).toEqual(['waiting']);
    await world.desk.call('POST', '/faults', { account: INES.address, fault: 'drop_at_mail', times: 0 });
    await world.drive('2026-11-06T18:00:00Z');
    expect(await world.states(id)).toEqual({ 'ana@vines.example': 'done' });
    expect(await world.inbox('ana@vines.example')).toHaveLength(1);
    expect((await world.api.get<TodayView>('/today')).needs).toEqual([]);
  });
});

describe('tries', () => {
  it('have an end also where each breaks off before the server took the message', async () => {
    const mailbox = await world.connect('ines');
    const listId = await world.people({ 'ana@vines.example': 'silent' });
    const id = await world.begin({ listId, mailboxIds: [mailbox], steps: [await world.step({})] });
    await world.desk.call('POST', '/faults', { account: INES.address, fault: 'drop_before_taking', times: 1000 });
    await world.drive('2026-11-13T18:00:00Z');
    const tries = await world.store.pool.query('select * from attempts');
    expect(tries.rows).toHaveLength(8);
    expect(await onlyMessage(id)).toMatchObject({
      reason: expect.stringContaining('given up after 8 tries') as string,
    });
    expect(await world.inbox('ana@vines.example')).toEqual([]);
  });
});

describe('a recipient who is refused where a copy is taken', () => {
  const withCopy = async (persona: string) => {
    const mailbox = await world.connect('ines');
    const listId = await world.people({ 'ana@vines.example': persona });
    const steps = [await world.step({ cc: 'office@vines.example' })];
    return world.begin({ listId, mailboxIds: [mailbox], steps });
  };

  it('is bounced by the refusal, whoever else got the message', async () => {
    const id = await withCopy('unknown');
    await world.drive('2026-11-03T18:00:00Z');
    expect(await world.states(id)).toEqual({ 'ana@vines.example': 'bounced' });
    expect(await world.inbox('office@vines.example')).toHaveLength(1);
  });

  it('is tried again alone: the copy goes out once', async () => {
    const id = await withCopy('greylisted');
    await world.drive('2026-11-03T18:00:00Z');
    expect(await world.states(id)).toEqual({ 'ana@vines.example': 'done' });
    expect(await world.inbox('ana@vines.example')).toMatchObject([{ cc: ['office@vines.example'] }]);
    expect(await world.inbox('office@vines.example')).toHaveLength(1);
  });
});

describe('what fails before anything is sent', () => {
  it('is found before a try: a mailbox whose password cannot be read is shut out, and nobody loses a try', async () => {
    const mailbox = await world.connect('ines');
    const listId = await world.people({ 'ana@vines.example': 'silent' });
    const id = await world.begin({ listId, mailboxIds: [mailbox], steps: [await world.step({})] });
    await world.store.pool.query(`update mailboxes set password_sealed = 'AAAA'`);
    await world.drive('2026-11-03T18:00:00Z');
    expect((await world.store.pool.query('select * from attempts')).rows).toEqual([]);
    expect(await world.states(id)).toEqual({ 'ana@vines.example': 'waiting' });
    const { needs } = await world.api.get<TodayView>('/today');
    expect(needs[0]).toMatchObject({
      kind: 'problem',
      detail: expect.stringContaining('Enter the password again') as string,
    });
  });
});

describe('a limit that mailboxes share', () => {
  it('holds though all of them send at the same moment', async () => {
    const names = ['ines', 'tomas', 'rui', 'leonor', 'vera'];
    const mailboxIds: number[] = [];
    for (const name of names) mailboxIds.push(await world.connect(name, { paceSeconds: 0 }));
    const people = Object.fromEntries(Array.from({ length: 20 }, (_, i) => [`p${i}@vines.example`, 'silent']));
    const listId = await world.people(people);
    await world.begin({ listId, mailboxIds, dailyLimit: 3, steps: [await world.step({})] });
    await world.drive('2026-11-02T08:30:00Z');
    // As if each mailbox had been planned by itself.
    const at = Date.parse('2026-11-02T10:00:00Z');
    await world.store.pool.query(
      `update deliveries d set instant = $1, mailbox_id = ($2::int[])[1 + d.id % 5], state = 'planned'`,
      [at, mailboxIds],
    );
    await world.drive('2026-11-02T18:00:00Z');
    const { rows } = await world.store.pool.query<{ n: number }>(
      `select count(*)::int as n from deliveries where state = 'sent' group by day`,
    );
    expect(rows.map((r) => r.n)).toEqual([3]);
  });
});

describe('a message that was taken while the database had no way to keep that', () => {
  it.each([
    ['had no space', `raise exception 'no space' using errcode = '53100';`],
    ['broke off', 'perform pg_terminate_backend(pg_backend_pid());'],
  ])('is written down once it has (%s)', async (_, trouble) => {
    const mailbox = await world.connect('ines');
    await world.store.pool.query(`create sequence troubles;
      create function trouble() returns trigger language plpgsql as $$
        begin if nextval('troubles') <= 2 then ${trouble} end if; return new; end $$;
      create trigger trouble before update on deliveries for each row when (new.state = 'sent') execute function trouble()`);
    const id = await world.begin({
      listId: await world.people({ 'ana@vines.example': 'silent' }),
      mailboxIds: [mailbox],
      steps: [await world.step({ name: 'Only' })],
    });
    await world.drive('2026-11-02T20:00:00Z');
    expect(await world.states(id)).toEqual({ 'ana@vines.example': 'done' });
    expect(await world.inbox('ana@vines.example')).toHaveLength(1);
    const { rows } = await world.store.pool.query('select verdict, answer from attempts');
    expect(rows).toEqual([{ verdict: 'accepted', answer: expect.not.stringContaining('Sent folder') as string }]);
    const { rows: sent } = await world.store.pool.query(`select 1 from events where kind = 'sent'`);
    expect(sent).toHaveLength(1);
  });
});

describe('a refusal whose record was committed though the answer to that was lost', () => {
  it('is written down once: no quota is given back twice', async () => {
    const id = await world.connect('ines');
    await world.begin({
      listId: await world.people({ 'ana@vines.example': 'silent' }),
      mailboxIds: [id],
      steps: [await world.step({ name: 'Only' })],
    });
    await world.drive('2026-11-02T08:30:00Z');
    const { db, pool } = world.store;
    const { rows } = await pool.query<{ at: string }>('select min(instant) as at from deliveries');
    const nowMs = Number(rows[0]?.at);
    const mailbox = await readMailbox(db, id);
    const rules = { secrets: createSecrets(Buffer.alloc(32, 5)), compiled: new CompiledMessages() };
    const outcome = { code: 451, answer: '451 4.7.1 Later', stage: 'rcpt', bodyStarted: false } as const;
    await withSendingLock(world.store, id, async (on) => {
      const claimed = await claimNext(on, mailbox as MailboxRow, nowMs, rules);
      for (let i = 0; i < 2; i++) await recordOutcome(on.db, claimed as Claimed, outcome, { nowMs, tells: false });
    });
    const { rows: used } = await pool.query('select units, messages from mailbox_days');
    expect(used).toEqual([{ units: 0, messages: 0 }]);
    const { rows: tries } = await pool.query('select state, tries from deliveries');
    expect(tries).toEqual([{ state: 'deferred', tries: 1 }]);
  });
});
