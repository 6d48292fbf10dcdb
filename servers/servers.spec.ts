import { ImapFlow } from 'imapflow';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { MailboxTest, RecipientPage } from '@baton/contract';
import { TestWorld } from '../packages/server/src/testing/test-world';
import { FULL, GONE, MailServers, PASSWORD, SENDER } from './mail-servers';

let servers: MailServers;
let world: TestWorld;
let mailbox: number;

beforeAll(async () => {
  servers = await MailServers.start(process.env['BATON_SERVERS_DIR'] ?? '');
  world = await TestWorld.start();
});
afterAll(async () => {
  await world.close();
  servers.down();
});

const choices = () =>
  world.mailboxChoices('ines', {
    smtp: { host: 'localhost', port: servers.smtpPort, security: 'starttls' },
    imap: { host: 'localhost', port: servers.imapPort, security: 'starttls' },
    password: PASSWORD,
    paceSeconds: 0,
    dailyQuota: 500,
    windows: Array<[number, number][]>(7).fill([[0, 1440]]) as never,
  });

/** Does something in somebody's folder. */
async function inFolder<T>(user: string, folder: string, act: (imap: ImapFlow) => Promise<T>): Promise<T> {
  const imap = new ImapFlow({
    ...{ host: 'localhost', port: servers.imapPort, doSTARTTLS: true, logger: false },
    auth: { user, pass: PASSWORD },
  });
  await imap.connect();
  await imap.mailboxOpen(folder);
  try {
    return await act(imap);
  } finally {
    await imap.logout();
  }
}

const sourcesIn = (user: string, folder = 'INBOX') =>
  inFolder(user, folder, async (imap) => {
    const found: string[] = [];
    if (imap.mailbox !== false && imap.mailbox.exists > 0)
      for await (const m of imap.fetch('1:*', { source: true })) found.push(m.source?.toString('latin1') ?? '');
    return found;
  });

const deliver = (head: string, text: string) =>
  inFolder(SENDER, 'INBOX', (imap) =>
    imap.append('INBOX', Buffer.from(`${head}\r\nTo: ${SENDER}\r\n\r\n${text}\r\n`), []),
  );

async function until(what: string, isSo: () => Promise<boolean>): Promise<void> {
  for (let i = 0; i < 300; i++) {
    if (await isSo()) return;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  throw new Error(`It never came about: ${what}`);
}

/** Time of the campaigns, hour by hour. */
let hour = Date.parse('2026-11-02T09:00:00Z');
const later = (hours: number) => world.drive((hour += hours * 3_600_000));

async function write(addresses: string[], steps = 1): Promise<number> {
  const csv = ['email,given name', ...addresses.map((a) => `${a},P`)].join('\n');
  const listId = await world.importCsv(csv);
  const made = [await world.step({ name: 'Kelp' }), await world.step({ name: 'Reminder' }, 1)];
  return world.begin({
    ...{ listId, mailboxIds: [mailbox], steps: made.slice(0, steps) },
    window: { weekdays: [1, 2, 3, 4, 5, 6, 7], from: 0, to: 1440 },
  });
}

/** Lets hours pass until the one recipient of a campaign is in a state. */
async function reach(campaign: number, state: string): Promise<void> {
  for (let i = 0; i < 40 && (await stateOf(campaign)) !== state; i++) await later(1);
  expect(await stateOf(campaign)).toBe(state);
}

const stateOf = async (campaign: number) => Object.values(await world.states(campaign))[0];
const replies = async () =>
  (
    await world.store.pool.query<{ subject: string; kind: string; body: string }>(
      `select subject, kind, body from incoming where enrolment_id is not null order by id`,
    )
  ).rows;

describe('Baton with Postfix and Dovecot', () => {
  it('signs in over STARTTLS and finds out that copies are not kept', async () => {
    const { id, test } = await world.api.post<{ id: number; test: MailboxTest }>('/mailboxes', choices());
    expect(test).toMatchObject({ ok: true, keepsSent: false });
    mailbox = id;
  });

  it('hands a message over, which arrives, and files its copy', async () => {
    const id = await write(['ana@vines.example']);
    await reach(id, 'done');
    await until('it arrives', async () => (await sourcesIn('ana@vines.example')).length === 1);
    const [mail = ''] = await sourcesIn('ana@vines.example');
    expect(mail).toContain(`Received:`);
    expect(mail).toMatch(/^List-Unsubscribe: </m);
    const messageId = /^Message-ID: (\S+)/m.exec(mail)?.[1] ?? '';
    const copies = await sourcesIn(SENDER, 'Sent');
    expect(copies.filter((c) => c.includes(messageId))).toHaveLength(1);
  });

  it('takes an unknown recipient for a bounce, and a refusal as spam for none', async () => {
    const unknown = await write(['nobody@vines.example']);
    const spam = await write(['spam@vines.example']);
    await reach(unknown, 'bounced');
    await later(24);
    expect(['waiting', 'done']).not.toContain(await stateOf(spam));
    const { rows } = await world.store.pool.query('select key from suppressions');
    expect(rows).toEqual([{ key: 'nobody@vines.example' }]);
    const page = await world.api.get<RecipientPage>(`/campaigns/${spam}/recipients`);
    expect(page.people[0]?.messages[0]?.reason).toContain('Rejected as spam');
  });

  it('tries again what was greylisted', async () => {
    const id = await write(['grey@vines.example']);
    const tried = async () =>
      (await world.store.pool.query(`select 1 from attempts where answer like '%Greylisted%'`)).rows.length > 0;
    for (let i = 0; i < 40 && !(await tried()); i++) await later(0.5);
    expect(await stateOf(id)).toBe('waiting');
    servers.answer({});
    // A kept connection would go on with what it knew.
    servers.down();
    await servers.up();
    await reach(id, 'done');
    await until('it arrives', async () => (await sourcesIn('grey@vines.example')).length === 1);
  });

  it('reads the bounces that Postfix sends: nobody there, mailbox full', async () => {
    const gone = await write([GONE], 2);
    const full = await write([FULL], 2);
    await later(24);
    const hasBounced = (to: string) => async () => (await sourcesIn(SENDER)).some((m) => m.includes(`rfc822; ${to}`));
    await until('both come back', async () => (await hasBounced(GONE)()) && (await hasBounced(FULL)()));
    await reach(gone, 'bounced');
    expect((await replies()).filter((r) => r.kind === 'bounce')).toHaveLength(2);
    expect(await stateOf(full)).not.toBe('waiting');
  });

  it('sees reply after reply, though Dovecot tells old numbers of a folder that is selected', async () => {
    const id = await write(['bo@vines.example'], 2);
    await reach(id, 'in_progress');
    await deliver('From: bo@vines.example\r\nMessage-ID: <one@vines.example>\r\nSubject: One', 'A first word.');
    await later(1.1);
    expect(await stateOf(id)).toBe('replied');
    await deliver(
      'From: ana@vines.example\r\nMessage-ID: <two@vines.example>\r\nSubject: Two\r\nAuto-Submitted: auto-replied',
      'I am away until 2026-12-24.',
    );
    await later(1.1);
    await deliver('From: ana@vines.example\r\nMessage-ID: <three@vines.example>\r\nSubject: Three', 'A third word.');
    await later(1.1);
    const subjects = new Map((await replies()).map((r) => [r.subject, r.kind]));
    expect([subjects.get('One'), subjects.get('Two'), subjects.has('Three')]).toEqual(['reply', 'auto_reply', true]);
  });

  it('takes nothing again where the inbox is numbered anew', async () => {
    const before = await replies();
    servers.numberAnew(SENDER);
    await deliver('From: bo@vines.example\r\nMessage-ID: <four@vines.example>\r\nSubject: Four', 'One thing more.');
    await later(1.1);
    await later(1.1);
    const after = await replies();
    expect(after.map((r) => r.subject)).toContain('Four');
    expect(after).toHaveLength(before.length + 1);
  });

  it('waits while both servers are down, costs nobody a try, and goes on', async () => {
    servers.down();
    const id = await write(['ana@vines.example']);
    await later(26);
    expect(await stateOf(id)).toBe('waiting');
    await servers.up();
    await reach(id, 'done');
    await until('it arrives', async () => (await sourcesIn('ana@vines.example')).length >= 2);
  });
});
