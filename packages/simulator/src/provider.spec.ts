import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ImapFlow } from 'imapflow';
import nodemailer from 'nodemailer';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { startProvider, type Provider } from './provider';

const NOW = Date.parse('2026-11-02T09:00:00Z');
const INES = { address: 'ines@tidewaterkelp.example', password: 'secret', dailyLimit: 3 };
let provider: Provider;

const start = async (journal: string | null = null) => {
  const started = await startProvider({ seed: 7, smtpPort: 0, imapPort: 0, controlPort: 0, journal });
  started.store.setNow(NOW);
  return started;
};
beforeEach(async () => {
  provider = await start();
  provider.store.addAccount(INES);
});
afterEach(() => provider.close());

async function send(to: string, over: { pass?: string; subject?: string } = {}): Promise<string> {
  const transport = nodemailer.createTransport({
    host: '127.0.0.1',
    port: provider.smtpPort,
    ignoreTLS: true,
    auth: { user: INES.address, pass: over.pass ?? INES.password },
  });
  const sent = await transport.sendMail({ from: INES.address, to, subject: over.subject ?? 'Kelp', text: 'Hello' });
  return sent.response;
}

const imap = (pass = INES.password) =>
  new ImapFlow({
    host: '127.0.0.1',
    port: provider.imapPort,
    secure: false,
    auth: { user: INES.address, pass },
    logger: false,
  });

async function control(method: string, path: string, body?: unknown): Promise<{ status: number; body: unknown }> {
  const response = await fetch(`http://127.0.0.1:${provider.controlPort}${path}`, {
    method,
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  return { status: response.status, body: await response.json() };
}

describe('submission', () => {
  it('takes mail of whoever signs in, keeps a Sent copy, and delivers', async () => {
    provider.store.setPersona('ana@vines.example', 'silent');
    expect(await send('ana@vines.example')).toMatch(/^250/);
    expect(provider.store.folder('ana@vines.example', 'INBOX')).toHaveLength(1);
    expect(provider.store.folder(INES.address, 'Sent')).toHaveLength(1);
    expect(provider.store.counts.accepted).toBe(1);
  });

  it.each([
    ['a wrong password', 'silent', { pass: 'x' }, /535.*password is wrong/],
    ['an address that does not exist', 'unknown', {}, /550.*No such user/],
    ['a full mailbox', 'full', {}, /452.*full/],
  ])('refuses %s', async (_, persona, over, words) => {
    provider.store.setPersona('ana@vines.example', persona as 'silent');
    await expect(send('ana@vines.example', over)).rejects.toThrow(words);
    expect(provider.store.folder('ana@vines.example', 'INBOX')).toEqual([]);
  });

  it('greylists for five minutes of its own clock', async () => {
    provider.store.setPersona('ana@vines.example', 'greylisted');
    await expect(send('ana@vines.example')).rejects.toThrow(/451/);
    provider.store.setNow(NOW + 299_000);
    await expect(send('ana@vines.example')).rejects.toThrow(/451/);
    provider.store.setNow(NOW + 300_000);
    expect(await send('ana@vines.example')).toMatch(/^250/);
  });

  it('takes as many as the limit of any 24 hours and refuses one more', async () => {
    for (let i = 0; i < 3; i++) await send(INES.address);
    await expect(send(INES.address)).rejects.toThrow(/limit exceeded/);
    provider.store.setNow(NOW + 86_400_000);
    expect(await send(INES.address)).toMatch(/^250/);
  });
});

describe('reading', () => {
  it('serves a mail client: status, fetch, search, flags, and what lies past the end', async () => {
    await send(INES.address, { subject: 'One' });
    const client = imap();
    await client.connect();
    expect(await client.status('INBOX', { uidNext: true, messages: true })).toMatchObject({ uidNext: 2, messages: 1 });
    const lock = await client.getMailboxLock('INBOX');
    const mail = await client.fetchOne('1', { source: true, flags: true }, { uid: true });
    expect(mail && mail.source?.toString()).toContain('Subject: One');
    await client.messageFlagsAdd('1', ['\\Seen'], { uid: true });
    expect(provider.store.folder(INES.address, 'INBOX')[0]?.flags).toEqual(['\\Seen']);
    const past = [];
    for await (const m of client.fetch('9:*', { uid: true }, { uid: true })) past.push(m.uid);
    // RFC 3501 6.4.8: `9:*` past the end is the last message.
    expect(past).toEqual([1]);
    lock.release();
    expect((await client.list()).find((f) => f.specialUse === '\\Sent')?.path).toBe('Sent');
    await client.logout();
  });

  it('tells a waiting client of new mail', async () => {
    const client = imap();
    await client.connect();
    await client.mailboxOpen('INBOX');
    const told = new Promise((resolve) => client.once('exists', resolve));
    void client.idle();
    await send(INES.address);
    expect(await told).toMatchObject({ count: 1 });
    await client.logout();
  });

  it('lets nobody in with a wrong password', async () => {
    await expect(imap('wrong').connect()).rejects.toMatchObject({ authenticationFailed: true });
  });
});

describe('the recipients', () => {
  it.each([
    ['keen', /Re: Kelp/],
    ['bounces_later', /Undelivered/],
    ['complains', /Complaint/],
    ['away', /Out of office/],
  ])('%s answer when their time comes, and not before', async (persona, subject) => {
    provider.store.setPersona('ana@vines.example', persona as 'silent');
    await send('ana@vines.example');
    await control('POST', '/advance', { toMs: NOW + 10_000 });
    const inbox = () => provider.store.folder(INES.address, 'INBOX').map((m) => m.raw.toString());
    expect(inbox()).toEqual([]);
    const { body } = await control('POST', '/advance', { toMs: NOW + 3 * 86_400_000 });
    expect(inbox()).toEqual([expect.stringMatching(subject)]);
    expect(body).toEqual({ nextDue: null });
  });

  it('behave the same for the same seed', async () => {
    const other = await start();
    const people = Array.from({ length: 200 }, (_, i) => `p${i}@vines.example`);
    const personas = (p: Provider) => people.map((a) => p.behaviour.personaOf(a));
    expect(personas(other)).toEqual(personas(provider));
    expect(new Set(personas(other)).size).toBeGreaterThan(5);
    await other.close();
  });
});

describe('the control desk', () => {
  it('answers for the resolver which domains take mail', async () => {
    await control('PUT', '/domains/gone.example', { takesMail: false });
    const servers = async (domain: string) => (await control('GET', `/domains/${domain}`)).body;
    expect(await servers('Gone.example')).toEqual({ mailServers: [] });
    expect(await servers('vines.example')).toEqual({ mailServers: ['mail.vines.example'] });
  });

  it.each([
    ['GET', '/nothing', undefined, 404],
    ['PUT', '/people/ana@vines.example', { persona: 'odd' }, 400],
    ['POST', '/people/ana@vines.example/act', { id: 1, kind: 'complaint' }, 404],
    ['POST', '/faults', { account: 'x', fault: 'odd' }, 400],
    ['PUT', '/domains/gone.example', {}, 400],
    ['POST', '/advance', {}, 400],
  ])('answers %s %s with words', async (method, path, body, status) => {
    const answer = await control(method, path, body);
    expect(answer.status).toBe(status);
    expect(answer.body).toMatchObject({ error: expect.any(String) });
  });
});

describe('a restart', () => {
  it('finds everything as it was, a line cut short by a crash aside', async () => {
    const dir = await mkdtemp(join(tmpdir(), 'baton-journal-'));
    const journal = join(dir, 'journal');
    await provider.close();
    provider = await start(journal);
    provider.store.addAccount(INES);
    provider.store.setPersona('ana@vines.example', 'keen');
    await send('ana@vines.example');
    await provider.close();
    const { appendFile } = await import('node:fs/promises');
    await appendFile(journal, '{"do":"mail","owner":"x');
    provider = await start(journal);
    expect(provider.store.folder('ana@vines.example', 'INBOX')).toHaveLength(1);
    expect(provider.store.counts.accepted).toBe(1);
    await control('POST', '/advance', { toMs: NOW + 3 * 86_400_000 });
    expect(provider.store.folder(INES.address, 'INBOX')).toHaveLength(1);
    await rm(dir, { recursive: true });
  });
});
