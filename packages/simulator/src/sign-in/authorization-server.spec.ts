import { createHash } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ImapFlow } from 'imapflow';
import nodemailer from 'nodemailer';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { startProvider, type Provider } from '../provider';
import { CLIENT_ID, MAIL_SCOPE } from './authorization-server';

const NOW = Date.parse('2026-11-02T09:00:00Z');
const INES = { address: 'ines@tidewaterkelp.example', password: 'secret', dailyLimit: 100 };
const BACK = 'http://127.0.0.1:4310/sign-in';
const VERIFIER = 'v'.repeat(43);
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

const at = (path: string) => `http://127.0.0.1:${provider.signInPort}${path}`;
const asked = (over: Record<string, string> = {}) =>
  new URLSearchParams({
    response_type: 'code',
    client_id: CLIENT_ID,
    redirect_uri: BACK,
    scope: MAIL_SCOPE,
    state: 'xyz',
    code_challenge: createHash('sha256').update(VERIFIER).digest('base64url'),
    code_challenge_method: 'S256',
    login_hint: INES.address,
    ...over,
  });

/** What the browser comes back with once the person has decided. */
async function decide(decision: 'allow' | 'refuse', over: Record<string, string> = {}): Promise<URLSearchParams> {
  const body = asked({ decision, account: INES.address, ...over });
  const response = await fetch(at('/authorize'), { method: 'POST', body, redirect: 'manual' });
  return new URL(response.headers.get('location') ?? 'http://nowhere.example').searchParams;
}

async function token(form: Record<string, string>): Promise<{ status: number; body: Record<string, string> }> {
  const body = new URLSearchParams({ client_id: CLIENT_ID, ...form });
  const response = await fetch(at('/token'), { method: 'POST', body });
  return { status: response.status, body: (await response.json()) as Record<string, string> };
}

const redeem = (code: string, over: Record<string, string> = {}) =>
  token({ grant_type: 'authorization_code', code, redirect_uri: BACK, code_verifier: VERIFIER, ...over });
const renew = (refresh: string) => token({ grant_type: 'refresh_token', refresh_token: refresh });
const signIn = async () => (await redeem((await decide('allow')).get('code') ?? '')).body;

async function canSend(accessToken: string): Promise<boolean> {
  const auth = { type: 'OAuth2', user: INES.address, accessToken } as const;
  const transport = nodemailer.createTransport({ host: '127.0.0.1', port: provider.smtpPort, ignoreTLS: true, auth });
  return transport.verify().then(
    () => true,
    () => false,
  );
}

async function canRead(accessToken: string, user = INES.address): Promise<boolean> {
  const auth = { user, accessToken };
  const imap = new ImapFlow({ host: '127.0.0.1', port: provider.imapPort, secure: false, auth, logger: false });
  imap.on('error', () => undefined);
  try {
    await imap.connect();
    await imap.logout();
    return true;
  } catch (error) {
    expect((error as { authenticationFailed?: boolean }).authenticationFailed).toBe(true);
    return false;
  }
}

describe('the provider’s sign-in', () => {
  it('describes itself', async () => {
    const said = (await (await fetch(at('/.well-known/oauth-authorization-server'))).json()) as Record<string, unknown>;
    expect(said).toMatchObject({ issuer: at(''), token_endpoint: at('/token') });
  });

  it('asks the person, and names who is meant', async () => {
    const page = await (await fetch(at(`/authorize?${asked()}`))).text();
    expect(page).toContain(`<option selected>${INES.address}</option>`);
  });

  it('opens the mailbox to send and to read once it was allowed', async () => {
    const { access_token: given = '' } = await signIn();
    expect([await canSend(given), await canRead(given)]).toEqual([true, true]);
    expect([await canSend('other'), await canRead('other')]).toEqual([false, false]);
    expect(await canRead(given, 'tomas@tidewaterkelp.example')).toBe(false);
  });

  it('says that it was refused, and by whom', async () => {
    const answer = await decide('refuse');
    expect(Object.fromEntries(answer)).toEqual({ error: 'access_denied', state: 'xyz', iss: at('') });
  });

  it('sends nobody to where the program is not', async () => {
    const wrong: Record<string, string>[] = [{ redirect_uri: 'http://evil.example/sign-in' }, { client_id: 'other' }];
    for (const over of wrong) {
      const response = await fetch(at(`/authorize?${asked(over)}`), { redirect: 'manual' });
      expect([response.status, response.headers.get('location')]).toEqual([400, null]);
    }
  });

  it('grants no code without a challenge, or for another scope', async () => {
    expect((await decide('allow', { code_challenge: '' })).get('error')).toBe('invalid_request');
    expect((await decide('allow', { scope: 'everything' })).get('error')).toBe('invalid_scope');
  });

  it('takes a code once, and only from who asked for it', async () => {
    const first = (await decide('allow')).get('code') ?? '';
    expect((await redeem(first, { code_verifier: 'w'.repeat(43) })).body['error']).toBe('invalid_grant');
    expect((await redeem(first)).body['error']).toBe('invalid_grant');
    expect((await redeem((await decide('allow')).get('code') ?? '')).status).toBe(200);
  });

  it('renews access, and ends it where a refresh token comes twice', async () => {
    const { refresh_token: first = '' } = await signIn();
    const { refresh_token: second = '', access_token: later = '' } = (await renew(first)).body;
    expect(await canRead(later)).toBe(true);
    expect((await renew(first)).body['error']).toBe('invalid_grant');
    expect((await renew(second)).body['error']).toBe('invalid_grant');
    expect(await canRead(later)).toBe(false);
  });

  it('ends access after an hour, or when it is revoked', async () => {
    const { access_token: given = '', refresh_token: refresh = '' } = await signIn();
    provider.store.setNow(NOW + 3_600_001);
    expect([await canSend(given), await canRead(given)]).toEqual([false, false]);
    const renewed = (await renew(refresh)).body;
    await fetch(`http://127.0.0.1:${provider.controlPort}/accounts/${INES.address}/revoke`, { method: 'POST' });
    expect(await canRead(renewed['access_token'] ?? '')).toBe(false);
    expect((await renew(renewed['refresh_token'] ?? '')).body['error']).toBe('invalid_grant');
  });

  it('remembers what was allowed', async () => {
    const dir = await mkdtemp(join(tmpdir(), 'baton-sign-in-'));
    try {
      await provider.close();
      provider = await start(join(dir, 'journal'));
      provider.store.addAccount(INES);
      const { access_token: given = '', refresh_token: refresh = '' } = await signIn();
      await provider.close();
      provider = await start(join(dir, 'journal'));
      expect(await canRead(given)).toBe(true);
      expect((await renew(refresh)).status).toBe(200);
    } finally {
      await rm(dir, { recursive: true, force: true });
    }
  });
});
