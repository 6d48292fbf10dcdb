import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { Faults } from '../faults';
import type { MailStore } from '../mail/mail-store';
import type { Listening } from '../smtp/smtp-server';
import { consentPage, refusalPage } from './consent-page';

/** What a program asks for to send and to read mail. */
export const MAIL_SCOPE = 'mail';

/** The program that is known here: a native one, which can keep no secret (RFC 8252, 8.4). */
export const CLIENT_ID = 'baton';

/** How long an access token is good, in seconds, and a code, in real milliseconds (RFC 6749, 4.1.2). */
const TOKEN_SECONDS = 3600;
const CODE_MS = 60_000;
const MOST_BODY = 64 * 1024;

export const issuerOf = (port: number): string => `http://127.0.0.1:${port}`;
export const configurationOf = (port: number): string => `${issuerOf(port)}/.well-known/openid-configuration`;

/** A person's consent on its way to the program. */
interface Code {
  address: string;
  redirectUri: string;
  challenge: string;
  madeAt: number;
}

/** An error of RFC 6749 5.2. */
class TokenError extends Error {
  constructor(
    readonly code: string,
    message: string,
    readonly status = 400,
  ) {
    super(message);
  }
}

/**
 * The provider's sign-in: OAuth 2.0 authorization code with PKCE (RFC 6749, 7636) for programs on the person's own machine
 * (RFC 8252), refresh tokens that change with each use (RFC 9700, 4.14.2), metadata (RFC 8414), the issuer in the answer
 * (RFC 9207).
 */
export async function startAuthorizationServer(store: MailStore, faults: Faults, port: number): Promise<Listening> {
  const server = createServer((request, response) => {
    void desk.handle(request, response).catch(() => response.destroy());
  });
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', resolve);
  });
  const ownPort = (server.address() as AddressInfo).port;
  const desk = new SignInDesk(store, faults, issuerOf(ownPort));
  return {
    port: ownPort,
    close: () =>
      new Promise((resolve) => {
        server.closeAllConnections();
        server.close(() => resolve());
      }),
  };
}

class SignInDesk {
  private readonly codes = new Map<string, Code>();
  /** Refresh tokens that were replaced, with whose they were: who shows one again has stolen it, or was robbed. */
  private readonly replaced = new Map<string, string>();

  constructor(
    private readonly store: MailStore,
    private readonly faults: Faults,
    private readonly issuer: string,
  ) {}

  async handle(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const url = new URL(request.url ?? '/', this.issuer);
    switch (`${request.method} ${url.pathname}`) {
      case 'GET /.well-known/oauth-authorization-server':
      case 'GET /.well-known/openid-configuration':
        return json(response, 200, this.metadata());
      case 'GET /authorize':
        return this.ask(response, url.searchParams);
      case 'POST /authorize':
        return this.decide(response, await formOf(request));
      case 'POST /token':
        return this.token(response, await formOf(request));
      default:
        return html(response, 404, refusalPage('There is no such page.'));
    }
  }

  private metadata() {
    return {
      issuer: this.issuer,
      authorization_endpoint: `${this.issuer}/authorize`,
      token_endpoint: `${this.issuer}/token`,
      scopes_supported: [MAIL_SCOPE],
      response_types_supported: ['code'],
      grant_types_supported: ['authorization_code', 'refresh_token'],
      token_endpoint_auth_methods_supported: ['none'],
      code_challenge_methods_supported: ['S256'],
      authorization_response_iss_parameter_supported: true,
    };
  }

  /** Asks the person; a program that is not known, or wants to be answered elsewhere, is not answered at all. */
  private ask(response: ServerResponse, params: URLSearchParams): void {
    const wrong = this.whyNotAsked(params);
    if (wrong !== null) return html(response, 400, refusalPage(wrong));
    const refused = this.whyNotGranted(params);
    if (refused !== null) return this.goBack(response, params, refused);
    html(response, 200, consentPage([...this.store.accounts.keys()], params));
  }

  private whyNotAsked(params: URLSearchParams): string | null {
    if (params.get('client_id') !== CLIENT_ID) return `There is no program “${params.get('client_id') ?? ''}”.`;
    // The port is the program's choice (RFC 8252, 7.3).
    if (!/^http:\/\/(?:127\.0\.0\.1|\[::1\]):\d+\/sign-in$/.test(params.get('redirect_uri') ?? ''))
      return 'The program wants to be answered at an address that is not its own.';
    return null;
  }

  private whyNotGranted(params: URLSearchParams): Record<string, string> | null {
    if (params.get('response_type') !== 'code') return { error: 'unsupported_response_type' };
    if (params.get('scope') !== MAIL_SCOPE)
      return { error: 'invalid_scope', error_description: `the scope is ${MAIL_SCOPE}` };
    if (params.get('code_challenge_method') !== 'S256' || !params.get('code_challenge'))
      return { error: 'invalid_request', error_description: 'a code challenge is missing' };
    return null;
  }

  private decide(response: ServerResponse, params: URLSearchParams): void {
    const wrong = this.whyNotAsked(params);
    if (wrong !== null) return html(response, 400, refusalPage(wrong));
    const address = params.get('account') ?? '';
    const refused = this.whyNotGranted(params);
    if (refused !== null) return this.goBack(response, params, refused);
    if (params.get('decision') !== 'allow') return this.goBack(response, params, { error: 'access_denied' });
    if (!this.store.accounts.has(address)) return html(response, 400, refusalPage('There is no such account.'));
    const code = random();
    const [redirectUri, challenge] = [params.get('redirect_uri') ?? '', params.get('code_challenge') ?? ''];
    this.codes.set(code, { address, redirectUri, challenge, madeAt: realNow() });
    this.goBack(response, params, { code });
  }

  private goBack(response: ServerResponse, params: URLSearchParams, answer: Record<string, string>): void {
    const url = new URL(params.get('redirect_uri') ?? '');
    const state = params.get('state');
    for (const [key, value] of Object.entries({ ...answer, ...(state === null ? {} : { state }), iss: this.issuer }))
      url.searchParams.set(key, value);
    response.writeHead(302, { location: url.href, 'cache-control': 'no-store' }).end();
  }

  private token(response: ServerResponse, params: URLSearchParams): void {
    try {
      if (params.get('client_id') !== CLIENT_ID) throw new TokenError('invalid_client', 'no such program', 401);
      json(response, 200, this.exchange(params));
    } catch (error) {
      if (error instanceof TokenError)
        json(response, error.status, { error: error.code, error_description: error.message });
      else if (error instanceof Garbage) html(response, 200, refusalPage('Please wait.'));
      else throw error;
    }
  }

  private exchange(params: URLSearchParams) {
    switch (params.get('grant_type')) {
      case 'authorization_code': {
        const { address } = this.redeem(params);
        return this.issue(address, null);
      }
      case 'refresh_token': {
        const refresh = params.get('refresh_token') ?? '';
        const grant = this.store.grants.get(refresh);
        const robbed = this.replaced.get(refresh);
        if (robbed !== undefined) this.store.revoke(robbed);
        if (!grant) throw new TokenError('invalid_grant', 'the access has been revoked');
        if (this.faults.take(grant.address, 'token_unavailable'))
          throw new TokenError('temporarily_unavailable', 'come back later', 503);
        if (this.faults.take(grant.address, 'token_garbage')) throw new Garbage();
        return this.issue(grant.address, refresh);
      }
      default:
        throw new TokenError('unsupported_grant_type', 'a code or a refresh token is expected');
    }
  }

  private redeem(params: URLSearchParams): Code {
    const given = params.get('code') ?? '';
    const code = this.codes.get(given);
    // Good once.
    this.codes.delete(given);
    if (!code || realNow() - code.madeAt > CODE_MS || code.redirectUri !== params.get('redirect_uri'))
      throw new TokenError('invalid_grant', 'the code is not good any more');
    const challenge = createHash('sha256')
      .update(params.get('code_verifier') ?? '')
      .digest();
    const wanted = Buffer.from(code.challenge, 'base64url');
    if (wanted.length !== challenge.length || !timingSafeEqual(wanted, challenge))
      throw new TokenError('invalid_grant', 'the code was asked for by somebody else');
    return code;
  }

  private issue(address: string, instead: string | null) {
    const [token, refresh] = [random(), random()];
    this.store.addGrant({ refresh, address, clientId: CLIENT_ID }, instead);
    if (instead !== null) this.replaced.set(instead, address);
    this.store.addAccess({ token, address, expiresAt: this.store.nowMs + TOKEN_SECONDS * 1000 });
    return {
      access_token: token,
      token_type: 'Bearer',
      expires_in: TOKEN_SECONDS,
      refresh_token: refresh,
      scope: MAIL_SCOPE,
    };
  }
}

/** An answer that is no answer, as from something that stands between. */
class Garbage extends Error {}

const random = (): string => randomBytes(24).toString('base64url');
const realNow = (): number => performance.now();

async function formOf(request: IncomingMessage): Promise<URLSearchParams> {
  const pieces: Buffer[] = [];
  let size = 0;
  for await (const piece of request) {
    size += (piece as Buffer).length;
    if (size > MOST_BODY) throw new Error('the form is too large');
    pieces.push(piece as Buffer);
  }
  return new URLSearchParams(Buffer.concat(pieces).toString('utf8'));
}

function json(response: ServerResponse, status: number, body: unknown): void {
  response
    .writeHead(status, { 'content-type': 'application/json', 'cache-control': 'no-store' })
    .end(JSON.stringify(body));
}

function html(response: ServerResponse, status: number, page: string): void {
  response.writeHead(status, { 'content-type': 'text/html; charset=utf-8', 'cache-control': 'no-store' }).end(page);
}
