import type { FoundProvider, GrantView, MailboxTest, MailboxView, SignInProviders, TodayView } from '@baton/contract';
import { sql } from 'drizzle-orm';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { createSecrets } from '../../security/secrets';
import { readGrant } from '../../store/mailboxes/grant-rows';
import { DOMAIN, TestWorld } from '../../testing/test-world';
import { systemClock } from '../../time/system-clock';
import { workspaceClock } from '../../time/workspace-clock';
import { AccessTokens } from './access-tokens';

const INES = `ines@${DOMAIN}`;
let world: TestWorld;
beforeEach(async () => {
  world = await TestWorld.start();
  await world.desk.call('POST', '/accounts', { address: INES, password: 'not used', dailyLimit: 2000 });
});
afterEach(() => world.close());

const issuer = () => `http://127.0.0.1:${world.provider.signInPort}`;
const discovered = (body: unknown = { issuer: issuer() }) => world.api.post<FoundProvider>('/sign-in/discovery', body);

async function addProvider(over: Record<string, unknown> = {}): Promise<number> {
  const own = { name: 'Tidewater mail', clientId: 'baton', clientSecret: '', extraParameters: '' };
  const { id } = await world.api.post<{ id: number }>('/sign-in/providers', {
    ...own,
    ...(await discovered()),
    ...over,
  });
  return id;
}

const begin = (providerId: number, grantId: number | null = null) =>
  world.api.post<{ grantId: number; url: string }>('/sign-in/grants', { providerId, username: INES, grantId });

/** What the person decides on the provider's page, as a browser would carry it. @returns where it is sent back to */
async function decide(url: string, decision: 'allow' | 'refuse'): Promise<string> {
  const { origin, searchParams } = new URL(url);
  const body = new URLSearchParams([...searchParams, ['account', INES], ['decision', decision]]);
  const answer = await fetch(`${origin}/authorize`, { method: 'POST', body, redirect: 'manual' });
  return answer.headers.get('location') ?? '';
}

async function comeBack(url: string): Promise<{ status: number; text: string }> {
  const answer = await fetch(url);
  return { status: answer.status, text: await answer.text() };
}

async function signIn(providerId: number, grantId: number | null = null): Promise<number> {
  const begun = await begin(providerId, grantId);
  expect((await comeBack(await decide(begun.url, 'allow'))).text).toContain(`Signed in as ${INES}`);
  return begun.grantId;
}

const grantView = (id: number) => world.api.get<GrantView>(`/sign-in/grants/${id}`);
const mailbox = async () => (await world.api.get<MailboxView[]>('/mailboxes'))[0];

async function connect(grantId: number): Promise<number> {
  const choices = world.mailboxChoices('ines', { password: '', grantId });
  const { id, test } = await world.api.post<{ id: number | null; test: MailboxTest }>('/mailboxes', choices);
  if (id === null) throw new Error(JSON.stringify(test));
  return id;
}

/** A campaign to forty people, who answer nothing. */
async function begun(mailboxId: number): Promise<string[]> {
  const people = Array.from({ length: 40 }, (_, i) => `p${i}@vines.example`);
  const listId = await world.people(Object.fromEntries(people.map((p) => [p, 'silent'])));
  await world.begin({ listId, mailboxIds: [mailboxId], steps: [await world.step({ name: 'First' })] });
  return people;
}

async function inboxes(people: readonly string[]): Promise<number[]> {
  return Promise.all(people.map(async (p) => (await world.inbox(p)).length));
}

const sum = (numbers: readonly number[]) => numbers.reduce((a, b) => a + b, 0);

describe('a provider’s sign-in', () => {
  it('is found by its address, or by what the mail server says', async () => {
    const found = await discovered();
    expect(found).toEqual({
      issuer: issuer(),
      authorizationEndpoint: `${issuer()}/authorize`,
      tokenEndpoint: `${issuer()}/token`,
      ...{ secretInHeader: true, namesItself: true, scopes: 'mail' },
    });
    const imap = { host: '127.0.0.1', port: world.provider.imapPort, security: 'none' };
    expect(await discovered({ imap })).toEqual(found);
  });

  it.each([
    [{ issuer: 'http://mail.example' }, 'is no sign-in address. Expected an address that begins with https.'],
    [{ issuer: 'https://no-such-host.invalid' }, 'No sign-in is described at'],
    [{ imap: { host: '127.0.0.1', port: 1, security: 'none' } }, 'Nothing is listening on port 1'],
    [{}, 'must contain at least one of'],
  ])('that is not there is told of: %j', async (body, words) => {
    await expect(discovered(body)).rejects.toThrow(words);
  });

  it('says where it is to send the browser back, and who uses it', async () => {
    const id = await addProvider({ clientSecret: 'hush' });
    const seen = await world.api.get<SignInProviders>('/sign-in/providers');
    expect(seen.redirectUri).toBe(`${world.url}/sign-in`);
    expect(seen.providers).toMatchObject([{ id, hasSecret: true, mailboxes: 0 }]);
    expect(JSON.stringify(seen)).not.toContain('hush');
    await world.api.remove(`/sign-in/providers/${id}`);
    expect((await world.api.get<SignInProviders>('/sign-in/providers')).providers).toEqual([]);
  });
});

describe('a mailbox with sign-in at its provider', () => {
  it('sends and is read without a password, for days, and its tokens are sealed', async () => {
    const providerId = await addProvider();
    const grantId = await signIn(providerId);
    expect(await grantView(grantId)).toMatchObject({ state: 'given', refusal: null, username: INES });
    const people = await begun(await connect(grantId));
    for (const hour of ['10', '11', '12', '13']) {
      await world.drive(`2026-11-02T${hour}:00:00Z`);
      await world.worker.connections.close();
    }
    await world.drive('2026-11-04T18:00:00Z');
    expect(await inboxes(people)).toEqual(people.map(() => 1));
    // Hours have passed: tokens were renewed, the last one is good and nothing of them is legible.
    const { rows } = await world.store.db.execute(sql`select g::text as all from grants g`);
    const kept = JSON.stringify(rows);
    for (const token of [...world.provider.store.grants.keys(), ...world.provider.store.accessTokens.keys()])
      expect(kept).not.toContain(token);
    expect(world.provider.store.accessTokens.size).toBeGreaterThan(3);
    await expect(world.api.remove(`/sign-in/providers/${providerId}`)).rejects.toThrow('Mailboxes sign in there');
  });

  it('is not connected where access was refused at the provider', async () => {
    const { grantId, url } = await begin(await addProvider());
    expect((await grantView(grantId)).state).toBe('waiting');
    const seen = await comeBack(await decide(url, 'refuse'));
    expect(seen.status).toBe(400);
    expect(seen.text).toContain('Access was refused at the provider.');
    expect(await grantView(grantId)).toMatchObject({ state: 'none', refusal: expect.stringContaining('refused') });
    await expect(connect(grantId)).rejects.toThrow('Access was refused at the provider.');
  });

  it('is shut out when access is revoked, says so on Today, and goes on after one more sign-in', async () => {
    const providerId = await addProvider();
    const grantId = await signIn(providerId);
    const people = await begun(await connect(grantId));
    await world.drive('2026-11-02T11:00:00Z');
    const before = sum(await inboxes(people));
    expect(before).toBeGreaterThan(5);
    await world.desk.call('POST', `/accounts/${INES}/revoke`);
    await world.drive('2026-11-02T14:00:00Z');
    expect((await mailbox())?.problem).toMatch(
      /^The provider has ended Baton’s access to this mailbox\. Sign in again/,
    );
    const { needs } = await world.api.get<TodayView>('/today');
    expect(needs[0]).toMatchObject({ kind: 'problem', title: `${INES} cannot sign in`, grantId });
    await signIn(providerId, grantId);
    expect((await mailbox())?.problem).toBeNull();
    await world.drive('2026-11-04T18:00:00Z');
    expect(await inboxes(people)).toEqual(people.map(() => 1));
  });

  it.each(['token_unavailable', 'token_garbage'] as const)(
    'waits while the provider gives no new token (%s), and blames nobody',
    async (fault) => {
      const people = await begun(await connect(await signIn(await addProvider())));
      await world.drive('2026-11-02T09:30:00Z');
      await world.desk.call('POST', '/faults', { account: INES, fault, times: 1000 });
      await world.drive('2026-11-02T10:30:00Z');
      await world.worker.connections.close();
      await world.drive('2026-11-02T12:30:00Z');
      expect((await mailbox())?.problem).toBeNull();
      expect((await mailbox())?.failing).not.toBeNull();
      await world.desk.call('POST', '/faults', { account: INES, fault, times: 0 });
      await world.drive('2026-11-05T18:00:00Z');
      expect(await inboxes(people)).toEqual(people.map(() => 1));
    },
  );

  it('says what is wrong with the registration, and tries again once it is mended', async () => {
    const providerId = await addProvider();
    const mailboxId = await connect(await signIn(providerId));
    const right = { ...(await discovered()), name: 'Tidewater mail', clientSecret: null, extraParameters: '' };
    await world.api.put(`/sign-in/providers/${providerId}`, { ...right, clientId: 'other' });
    await world.worker.connections.close();
    await begun(mailboxId);
    await world.drive('2026-11-02T12:00:00Z');
    expect((await mailbox())?.problem).toContain('does not accept the client ID');
    await world.api.put(`/sign-in/providers/${providerId}`, { ...right, clientId: 'baton' });
    expect((await mailbox())?.problem).toBeNull();
    await world.drive('2026-11-02T16:00:00Z');
    expect((await mailbox())?.sentToday).toBeGreaterThan(5);
  });

  it('lends its access to another address of the account', async () => {
    await connect(await signIn(await addProvider()));
    await world.desk.call('POST', '/accounts', {
      ...{ address: INES, password: 'not used', dailyLimit: 2000, aliases: [`orders@${DOMAIN}`] },
    });
    const choices = world.mailboxChoices('orders', { username: INES, password: '' });
    const { test } = await world.api.post<{ test: MailboxTest }>('/mailboxes', choices);
    expect(test.steps.filter((s) => !s.ok)).toEqual([]);
  });
});

describe('a sign-in that comes back', () => {
  it('is taken once, and only if it was begun here', async () => {
    const { url } = await begin(await addProvider());
    const back = await decide(url, 'allow');
    expect((await comeBack(back)).status).toBe(200);
    for (const odd of [
      back,
      `${world.url}/sign-in`,
      `${world.url}/sign-in?state=&code=x`,
      `${world.url}/sign-in?state=x`,
    ]) {
      const seen = await comeBack(odd);
      expect([odd, seen.status]).toEqual([odd, 400]);
      expect(seen.text).toContain('not known here, or has ended already');
    }
  });

  it('from another provider than the one that was asked gives nothing (RFC 9207)', async () => {
    const { grantId, url } = await begin(await addProvider());
    const back = new URL(await decide(url, 'allow'));
    back.searchParams.set('iss', 'http://127.0.0.1:1');
    expect((await comeBack(back.href)).status).toBe(400);
    expect((await grantView(grantId)).state).toBe('none');
  });

  it('after an hour is too late', async () => {
    const { grantId, url } = await begin(await addProvider());
    const back = await decide(url, 'allow');
    await world.drive('2026-11-02T10:00:00Z');
    expect((await comeBack(back)).text).toContain('took more than an hour');
    expect((await grantView(grantId)).state).toBe('none');
  });

  it('shows nothing of what came with it', async () => {
    const { url } = await begin(await addProvider());
    const state = new URL(url).searchParams.get('state') ?? '';
    const words = { error: 'access_denied', error_description: '<script>x</script>\u0000' };
    const odd = new URLSearchParams({ state, iss: issuer(), ...words });
    const seen = await comeBack(`${world.url}/sign-in?${odd}`);
    expect(seen.text).toContain('Access was refused at the provider.');
    expect(seen.text).not.toContain('<script>');
  });
});

it('several processes that need a token at once renew it once', async () => {
  const grantId = await signIn(await addProvider());
  const secrets = createSecrets(Buffer.alloc(32, 5));
  const clock = workspaceClock(world.store.db, systemClock);
  const processes = [1, 2, 3].map(() => new AccessTokens({ store: world.store, secrets, clock }));
  const first = await processes[0]!.of(grantId);
  const given = await Promise.all([...processes, ...processes].map((tokens) => tokens.of(grantId, first)));
  expect(new Set(given).size).toBe(1);
  expect(given[0]).not.toBe(first);
  expect(world.provider.store.accessTokens.size).toBe(2);
  expect((await readGrant(world.store.db, grantId))?.grant.renewingUntil).toBeNull();
});

it('access, a secret or a sign-in that was kept with another key is said to be so', async () => {
  const providerId = await addProvider({ clientSecret: 'hush' });
  const { url } = await begin(providerId);
  const sealed = createSecrets(Buffer.alloc(32, 6)).seal('another');
  await world.store.db.execute(sql`update grants set verifier_sealed = ${sealed}`);
  expect((await comeBack(await decide(url, 'allow'))).text).toContain('begun with another key file');
  await world.store.db.execute(sql`update sign_in_providers set client_secret_sealed = ${sealed}`);
  await expect(begin(providerId)).rejects.toThrow('The client secret of Tidewater mail cannot be read');
  await world.store.db.execute(sql`update sign_in_providers set client_secret_sealed = null`);
  const grantId = await signIn(providerId);
  const clock = workspaceClock(world.store.db, systemClock);
  const other = new AccessTokens({ store: world.store, secrets: createSecrets(Buffer.alloc(32, 6)), clock });
  await expect(other.check(grantId)).rejects.toThrow('the key file is not the one');
  await expect(other.of(grantId)).rejects.toMatchObject({ code: 'refused' });
});
