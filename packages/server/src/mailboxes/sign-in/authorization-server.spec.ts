import { createServer, type RequestListener, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterEach, describe, expect, it } from 'vitest';
import { freePort } from '../../../../../bin/lib/ports.mjs';
import { authorizationUrl, discover, exchangeCode, renewTokens, type Registration } from './authorization-server';

let server: Server | null = null;
afterEach(() => {
  server?.closeAllConnections();
  server?.close();
});

async function listening(answer: RequestListener): Promise<string> {
  server = createServer(answer);
  await new Promise<void>((resolve) => server?.listen(0, '127.0.0.1', resolve));
  return `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
}

const registration = (origin: string, over: Partial<Registration> = {}): Registration => ({
  issuer: origin,
  authorizationEndpoint: `${origin}/authorize`,
  tokenEndpoint: `${origin}/token`,
  namesItself: false,
  clientId: 'baton',
  clientSecret: null,
  secretInHeader: false,
  scopes: 'mail',
  extraParameters: '',
  ...over,
});

const answering = (status: number, body: string, headers: Record<string, string> = {}): RequestListener => {
  return (request, response) => {
    request.resume();
    response.writeHead(status, { 'content-type': 'application/json', ...headers }).end(body);
  };
};
const TOKENS = { access_token: 'a', token_type: 'Bearer', expires_in: 3600 };
const renewed = async (answer: RequestListener) => renewTokens(registration(await listening(answer)), 'r');

describe('a token endpoint', () => {
  it('gives tokens, a refresh token with them or not', async () => {
    const tokens = { accessToken: 'a', refreshToken: null, expiresInS: 3600 };
    expect(await renewed(answering(200, JSON.stringify(TOKENS)))).toEqual({ ok: true, tokens });
    server?.close();
    const again = JSON.stringify({ ...TOKENS, refresh_token: 'b', token_type: 'bearer' });
    expect(await renewed(answering(200, again))).toEqual({ ok: true, tokens: { ...tokens, refreshToken: 'b' } });
  });

  it.each([
    ['that revokes', answering(400, '{"error":"invalid_grant","error_description":"gone"}'), 'withdrawn'],
    [
      'that shows a challenge besides',
      answering(401, '{"error":"invalid_client"}', { 'www-authenticate': 'Basic realm="x"' }),
      'misconfigured',
    ],
    ['that is out of order', answering(503, '<h1>503</h1>', { 'content-type': 'text/html' }), 'later'],
    ['that leads elsewhere', answering(302, '', { location: 'http://169.254.169.254/' }), 'later'],
    ['that says nothing', answering(204, ''), 'later'],
    ['that says half of it', answering(200, '{"access_token":"a"'), 'later'],
    ['that says too much', answering(200, JSON.stringify({ ...TOKENS, x: 'x'.repeat(400_000) })), 'later'],
    ['that gives another kind of token', answering(200, JSON.stringify({ ...TOKENS, token_type: 'mac' })), 'later'],
    ['that gives no token', answering(200, '{"token_type":"Bearer"}'), 'later'],
    ['whose token is a list', answering(200, JSON.stringify({ ...TOKENS, access_token: ['a'] })), 'later'],
    ['whose token ends a field', answering(200, JSON.stringify({ ...TOKENS, access_token: 'a\u0001b' })), 'later'],
    ['whose token is endless', answering(200, JSON.stringify({ ...TOKENS, access_token: 'a'.repeat(9000) })), 'later'],
    ['whose token has odd letters', answering(200, JSON.stringify({ ...TOKENS, access_token: 'ключ' })), 'later'],
    ['whose hour is a word', answering(200, JSON.stringify({ ...TOKENS, expires_in: 'soon' })), 'later'],
    ['that hangs up', ((request) => request.socket.destroy()) as RequestListener, 'later'],
  ] as const)('%s', async (_, answer, verdict) => {
    const refused = await renewed(answer);
    expect(refused).toMatchObject({ ok: false, verdict });
    expect('words' in refused && refused.words).toMatch(/^(?:The provider|127\.0\.0\.1:\d+) .*[.)]$/);
  });

  it('that is not there is told of with its port', async () => {
    const port = await freePort();
    const refused = await renewTokens(registration(`http://127.0.0.1:${port}`), 'r');
    expect(refused).toMatchObject({ ok: false, verdict: 'later' });
    expect('words' in refused && refused.words).toContain(`Nothing is listening on port ${port} of 127.0.0.1.`);
  });

  it.each([true, false])('gets the client’s secret where it wants it (header: %s)', async (secretInHeader) => {
    let heard = '';
    const origin = await listening((request, response) => {
      request.on('data', (b: Buffer) => (heard += b.toString('utf8')));
      request.on('end', () => {
        heard += request.headers.authorization ?? '';
        response.writeHead(200, { 'content-type': 'application/json' }).end(JSON.stringify(TOKENS));
      });
    });
    expect(await renewTokens(registration(origin, { clientSecret: 'hush', secretInHeader }), 'r')).toMatchObject({
      ok: true,
    });
    expect([heard.includes('Basic '), heard.includes('client_secret=hush')]).toEqual([secretInHeader, !secretInHeader]);
  });
});

describe('a provider that describes itself', () => {
  const described = async (over: Record<string, unknown>, path = '/.well-known/oauth-authorization-server') => {
    const origin = await listening((request, response) => {
      if (request.url !== path) return void response.writeHead(404).end();
      const said = {
        issuer: origin,
        authorization_endpoint: `${origin}/authorize`,
        token_endpoint: `${origin}/token`,
        ...over,
      };
      response.writeHead(200, { 'content-type': 'application/json' }).end(JSON.stringify(said));
    });
    return discover(origin);
  };

  it('is taken at its word, scopes about mail proposed', async () => {
    const found = await described({
      scopes_supported: [
        'openid',
        'email',
        'https://x.example/IMAP.Access',
        'mail.send',
        'calendar',
        'offline_access',
        7,
      ],
      token_endpoint_auth_methods_supported: ['client_secret_post', 'none'],
    });
    expect(found.scopes).toBe('https://x.example/IMAP.Access mail.send offline_access');
    expect(found.secretInHeader).toBe(false);
  });

  it('as OpenID Connect does', async () => {
    expect((await described({}, '/.well-known/openid-configuration')).tokenEndpoint).toMatch(/\/token$/);
  });

  it.each([
    [{ issuer: 'https://other.example' }, 'No sign-in is described at'],
    [{ token_endpoint: undefined }, 'does not say where'],
    [{ token_endpoint: 'ftp://x.example' }, 'is no token endpoint'],
    [{ authorization_endpoint: 'http://mail.example/a' }, 'is no authorization endpoint'],
    [{ authorization_endpoint: 'https://a:b@mail.example/' }, 'is no authorization endpoint'],
  ])('wrongly is not believed: %j', async (over, words) => {
    await expect(described(over)).rejects.toThrow(words);
  });
});

describe('a browser that is sent to the provider and back', () => {
  const known = { redirectUri: 'http://127.0.0.1:4310/sign-in', state: 's', verifier: 'v'.repeat(43) };

  it('takes along what was asked for, and further parameters change nothing of that', async () => {
    const provider = registration('https://mail.example', {
      authorizationEndpoint: 'https://mail.example/authorize?tenant=kelp',
      extraParameters: 'access_type=offline&state=theirs&redirect_uri=http://evil.example',
    });
    const url = new URL(await authorizationUrl(provider, { ...known, username: 'ines@tidewaterkelp.example' }));
    expect(Object.fromEntries(url.searchParams)).toMatchObject({
      ...{ tenant: 'kelp', access_type: 'offline', state: 's', redirect_uri: known.redirectUri },
      ...{ response_type: 'code', code_challenge_method: 'S256', login_hint: 'ines@tidewaterkelp.example' },
    });
  });

  it.each([
    ['code=a&code=b&state=s', 'later'],
    ['code=a&state=other', 'later'],
    ['state=s', 'later'],
    ['error=access_denied&state=s', 'withdrawn'],
  ])('with %s gives nothing', async (query, verdict) => {
    const provider = registration(await listening(answering(400, '{}')));
    expect(await exchangeCode(provider, new URLSearchParams(query), known)).toMatchObject({ ok: false, verdict });
  });

  it('may name any issuer where none is known of it', async () => {
    const origin = await listening(answering(200, JSON.stringify(TOKENS)));
    const query = new URLSearchParams({ code: 'a', state: 's', iss: 'https://mail.example' });
    const other = registration(origin, { namesItself: true });
    expect(await exchangeCode(other, new URLSearchParams(query), known)).toMatchObject({ ok: false });
    expect(await exchangeCode({ ...other, issuer: '', namesItself: false }, query, known)).toMatchObject({ ok: true });
  });
});
