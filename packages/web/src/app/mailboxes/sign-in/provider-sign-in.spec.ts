import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { GrantView, SignInProvider } from '@baton/contract';
import { LiveServer, SHELL, settle, textOf } from '../../testing/live-server';
import { ProviderSignIn } from './provider-sign-in';

const INES = 'ines@tidewaterkelp.example';
const KELP: SignInProvider = {
  id: 3,
  name: 'Kelp mail',
  issuer: 'https://sign-in.tidewaterkelp.example',
  authorizationEndpoint: 'https://sign-in.tidewaterkelp.example/authorize',
  tokenEndpoint: 'https://sign-in.tidewaterkelp.example/token',
  clientId: 'baton-desk',
  hasSecret: true,
  ...{ secretInHeader: false, namesItself: true, scopes: 'mail', extraParameters: '', mailboxes: 1 },
};
const GRANT: GrantView = {
  ...{ id: 8, providerId: 3, providerName: 'Kelp mail', username: INES, refusal: null },
  ...{ state: 'given', grantedAt: Date.UTC(2026, 10, 20, 9) },
};

let server: LiveServer;
let fixture: ComponentFixture<ProviderSignIn>;
const host = () => fixture.nativeElement as HTMLElement;
const button = (name: string) =>
  [...host().querySelectorAll('button')].find((b) => b.textContent?.trim() === name) as HTMLButtonElement;
const box = (name: string) => host().querySelector(`[formControlName=${name}]`) as HTMLInputElement;
const press = async (name: string) => {
  button(name).click();
  await settle(fixture);
};
const fill = (name: string, value: string) => {
  box(name).value = value;
  box(name).dispatchEvent(new Event('input'));
};

beforeEach(() => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  fixture = TestBed.createComponent(ProviderSignIn);
});
afterEach(() => vi.restoreAllMocks());

async function show(providers: SignInProvider[], grant: GrantView | null, username = INES): Promise<void> {
  fixture.componentRef.setInput('username', username);
  fixture.componentRef.setInput('imap', { host: 'imap.tidewaterkelp.example', port: 993, security: 'tls' });
  fixture.componentRef.setInput('grantId', grant?.id ?? null);
  await answerAll(providers, grant);
}

async function answerAll(providers: SignInProvider[], grant: GrantView | null): Promise<void> {
  await settle(fixture);
  server.answer('/api/shell', SHELL);
  server.answer('/api/sign-in/providers', { providers, redirectUri: 'http://127.0.0.1:4300/sign-in' });
  if (grant) server.answer(`/api/sign-in/grants/${grant.id}`, grant);
  await settle(fixture);
}

/** The server tells of a change, more than once in quick succession a little later, until it shows. */
async function changed(providers: SignInProvider[], grant: GrantView | null, shows: () => boolean): Promise<void> {
  server.tell('mailboxes');
  await vi.waitFor(
    async () => {
      await answerAll(providers, grant);
      expect(shows()).toBe(true);
    },
    { timeout: 60_000 },
  );
}

describe('ProviderSignIn', () => {
  it('says who has signed in, where and when', async () => {
    await show([KELP], GRANT);
    expect(textOf(fixture)).toContain('You sign in at sign-in.tidewaterkelp.example.');
    expect(textOf(fixture)).toContain(`Signed in as ${INES}, Fri 20 Nov 09:00.`);
    expect(button('Sign in again')).toBeTruthy();
  });

  it('takes the access of another account for none', async () => {
    await show([KELP], GRANT, 'tomas@tidewaterkelp.example');
    expect(textOf(fixture)).not.toContain('Signed in as');
    expect(button('Sign in')).toBeTruthy();
  });

  it('asks for the user name before it sends anybody to the provider', async () => {
    await show([KELP], null, '');
    expect(textOf(fixture)).toContain('Enter the user name first.');
    expect(button('Sign in')).toBeUndefined();
  });

  it('opens the provider’s page, waits, and says what came of it', async () => {
    await show([KELP], null);
    const page = { opener: window, location: { replace: vi.fn() }, close: vi.fn() };
    vi.spyOn(window, 'open').mockReturnValue(page as unknown as Window);
    await press('Sign in');
    const post = server.http.expectOne('/api/sign-in/grants');
    expect(post.request.body).toEqual({ providerId: 3, username: INES, grantId: null });
    post.flush({ grantId: 8, url: 'https://sign-in.tidewaterkelp.example/authorize?x' });
    await answerAll([KELP], { ...GRANT, state: 'waiting' });
    expect(page.location.replace).toHaveBeenCalledWith('https://sign-in.tidewaterkelp.example/authorize?x');
    expect(page.opener).toBeNull();
    expect(fixture.componentInstance.grantId()).toBe(8);
    expect(textOf(fixture)).toContain('Waiting for you to allow it on the page of Kelp mail.');
    const refusal = 'Access was refused at the provider.';
    await changed([KELP], { ...GRANT, state: 'none', refusal }, () => textOf(fixture).includes(refusal));
    await changed([KELP], GRANT, () => textOf(fixture).includes('Signed in as'));
  });

  it('shows a link where the browser opens no page', async () => {
    await show([KELP], null);
    vi.spyOn(window, 'open').mockReturnValue(null);
    await press('Sign in');
    server.http.expectOne('/api/sign-in/grants').flush({ grantId: 8, url: 'https://sign-in.tidewaterkelp.example/a' });
    await answerAll([KELP], { ...GRANT, state: 'waiting' });
    expect(host().querySelector('a')?.href).toBe('https://sign-in.tidewaterkelp.example/a');
  });

  it('closes the page it opened where the sign-in cannot begin', async () => {
    await show([KELP], null);
    const page = { opener: null, location: { replace: vi.fn() }, close: vi.fn() };
    vi.spyOn(window, 'open').mockReturnValue(page as unknown as Window);
    await press('Sign in');
    server.refuse('/api/sign-in/grants', 404, 'There is no such provider.');
    await settle(fixture);
    expect(page.close).toHaveBeenCalled();
    expect(host().querySelector('[role=alert]')?.textContent).toContain('There is no such provider.');
  });

  it('finds a first provider through the mail server, and keeps it', async () => {
    await show([], null);
    expect(textOf(fixture)).toContain('http://127.0.0.1:4300/sign-in');
    expect(textOf(fixture)).toContain('Leave it blank to ask imap.tidewaterkelp.example');
    await press('Find');
    const asked = server.http.expectOne('/api/sign-in/discovery');
    expect(asked.request.body).toMatchObject({ imap: { host: 'imap.tidewaterkelp.example' } });
    const { issuer, authorizationEndpoint, tokenEndpoint } = KELP;
    asked.flush({
      issuer,
      authorizationEndpoint,
      tokenEndpoint,
      secretInHeader: false,
      namesItself: true,
      scopes: 'mail',
    });
    await settle(fixture);
    expect(box('name').value).toBe('sign-in.tidewaterkelp.example');
    await press('Save provider');
    expect(host().querySelector('[role=alert]')?.textContent).toContain('Some settings are missing');
    fill('clientId', 'baton-desk');
    await press('Save provider');
    const post = server.http.expectOne('/api/sign-in/providers');
    expect(post.request.body).toMatchObject({ issuer, clientId: 'baton-desk', clientSecret: '', scopes: 'mail' });
    post.flush({ id: 3 });
    await settle(fixture);
    await changed([KELP], null, () => button('Sign in') !== undefined);
  });

  it('keeps a secret that is not typed again, and deletes only a provider that nobody uses', async () => {
    await show([KELP], null);
    await press('Change its settings');
    expect(box('clientSecret').value).toBe('');
    expect(button('Delete provider')).toBeUndefined();
    fill('scopes', 'mail offline_access');
    await press('Save provider');
    const put = server.http.expectOne('/api/sign-in/providers/3');
    expect(put.request.body).toMatchObject({ clientSecret: null, scopes: 'mail offline_access' });
    put.flush({ id: 3 });
    await settle(fixture);
    const unused = { ...KELP, mailboxes: 0 };
    await press('Change its settings');
    await changed([unused], null, () => button('Delete provider') !== undefined);
    await press('Delete provider');
    server.http.expectOne({ method: 'DELETE', url: '/api/sign-in/providers/3' }).flush(null);
    await settle(fixture);
    await changed([], null, () => button('Save provider') !== undefined && button('Cancel') === undefined);
  });
});
