import { DomainError, authorizationRefusalWords, isLoopback, judgeTokenRefusal, type TokenRefusal } from '@baton/core';
import type { FoundProvider } from '@baton/contract';
import * as oauth from 'oauth4webapi';
import { boundedFetch } from '../../http/bounded-fetch';
import { networkWords } from '../network-words';

/** A provider with Baton's registration there, as far as asking it goes. */
export interface Registration {
  /** '' where it is not known: then nothing it says of itself can be checked. */
  issuer: string;
  authorizationEndpoint: string;
  tokenEndpoint: string;
  namesItself: boolean;
  clientId: string;
  clientSecret: string | null;
  secretInHeader: boolean;
  scopes: string;
  extraParameters: string;
}

export interface Tokens {
  accessToken: string;
  /** Null where none was given: on a renewal the old one stays good. */
  refreshToken: string | null;
  expiresInS: number | undefined;
}

export type Answered = { ok: true; tokens: Tokens } | ({ ok: false } & TokenRefusal);

const BOUNDS = { patienceMs: 20_000, mostBytes: 256 * 1024 };

/** Longer than this no mail server takes a line (RFC 4954, 4: 12,288 octets with base64), and no token is. */
const MOST_TOKEN = 8192;

/** Asks the provider at most so long; a shown challenge hides the error in the body, which says more. */
const options = (url: string) => ({
  [oauth.customFetch]: async (
    to: string,
    init: oauth.CustomFetchOptions<'GET' | 'POST', URLSearchParams | undefined>,
  ) => {
    const { method, headers, body } = init;
    const answer = await boundedFetch(to, { method, headers, ...(body ? { body } : {}) }, BOUNDS);
    answer.headers.delete('www-authenticate');
    return answer;
  },
  [oauth.allowInsecureRequests]: isLoopback(url),
});

/** @throws DomainError `invalid` for what is no address of a sign-in: https, or http on this machine */
export function endpointOf(text: string, what: string): string {
  const url = URL.canParse(text) ? new URL(text) : null;
  const isSafe = url?.protocol === 'https:' || (url?.protocol === 'http:' && isLoopback(text));
  if (!url || !isSafe || url.username !== '' || url.password !== '' || url.hash !== '')
    throw new DomainError(
      'invalid',
      `“${text.slice(0, 200)}” is no ${what}. Expected an address that begins with https.`,
    );
  return url.href;
}

/**
 * What a provider says of its sign-in (RFC 8414), or, where it says nothing there, OpenID Connect Discovery.
 *
 * @throws DomainError `invalid` for what is no issuer, `unreachable` where nothing of use is said
 */
export async function discover(typed: string): Promise<FoundProvider> {
  const issuer = new URL(endpointOf(/^\w+:/.test(typed) ? typed : `https://${typed}`, 'sign-in address'));
  const said = await metadataOf(issuer, 'oauth2').catch((first: unknown) =>
    metadataOf(issuer, 'oidc').catch(() => {
      throw new DomainError('unreachable', `No sign-in is described at ${issuer.host}: ${reasonOf(first, issuer)}`, {
        cause: first,
      });
    }),
  );
  const { authorization_endpoint: authorization, token_endpoint: token } = said;
  if (!authorization || !token)
    throw new DomainError('unreachable', `The sign-in at ${issuer.host} does not say where people sign in.`);
  const methods = said.token_endpoint_auth_methods_supported ?? ['client_secret_basic'];
  return {
    issuer: said.issuer,
    authorizationEndpoint: endpointOf(authorization, 'authorization endpoint'),
    tokenEndpoint: endpointOf(token, 'token endpoint'),
    secretInHeader: !methods.includes('client_secret_post'),
    namesItself: said.authorization_response_iss_parameter_supported === true,
    scopes: likelyScopes(said.scopes_supported),
  };
}

async function metadataOf(issuer: URL, algorithm: 'oauth2' | 'oidc'): Promise<oauth.AuthorizationServer> {
  const answer = await oauth.discoveryRequest(issuer, { algorithm, ...options(issuer.href) });
  return oauth.processDiscoveryResponse(issuer, answer);
}

/** Scopes that are about mail, and the one by which access lasts; a proposal. */
function likelyScopes(scopes: unknown): string {
  if (!Array.isArray(scopes)) return '';
  const likely = scopes.filter(
    (s) => typeof s === 'string' && /mail|imap|smtp|^offline_access$/i.test(s) && s !== 'email',
  );
  return likely.slice(0, 10).join(' ').slice(0, 1000);
}

/** Where the person is sent to give access (RFC 6749, 4.1.1; RFC 7636, 4.3). */
export async function authorizationUrl(
  provider: Registration,
  {
    redirectUri,
    state,
    verifier,
    username,
  }: { redirectUri: string; state: string; verifier: string; username: string },
): Promise<string> {
  const url = new URL(provider.authorizationEndpoint);
  const own = {
    response_type: 'code',
    client_id: provider.clientId,
    redirect_uri: redirectUri,
    ...(provider.scopes === '' ? {} : { scope: provider.scopes }),
    state,
    code_challenge: await oauth.calculatePKCECodeChallenge(verifier),
    code_challenge_method: 'S256',
    login_hint: username,
  };
  for (const [name, value] of new URLSearchParams(provider.extraParameters)) url.searchParams.set(name, value);
  for (const [name, value] of Object.entries(own)) url.searchParams.set(name, value);
  return url.href;
}

/** Takes what the browser came back with to the provider, and gets the tokens for it. */
export async function exchangeCode(
  provider: Registration,
  answer: URLSearchParams,
  known: { redirectUri: string; state: string; verifier: string },
): Promise<Answered> {
  const { as, client, authentication } = partiesOf(provider);
  if (provider.issuer === '') answer.delete('iss');
  try {
    const params = oauth.validateAuthResponse(as, client, answer, known.state);
    const { redirectUri, verifier } = known;
    const response = await oauth.authorizationCodeGrantRequest(
      ...([as, client, authentication, params, redirectUri, verifier, options(provider.tokenEndpoint)] as const),
    );
    return tokensOf(await oauth.processAuthorizationCodeResponse(as, client, response), provider);
  } catch (error) {
    if (error instanceof oauth.AuthorizationResponseError)
      return {
        ok: false,
        verdict: 'withdrawn',
        words: authorizationRefusalWords(error.error, error.error_description ?? ''),
      };
    return refusalOf(error, provider);
  }
}

/** Gets a new access token (RFC 6749, 6). */
export async function renewTokens(provider: Registration, refreshToken: string): Promise<Answered> {
  const { as, client, authentication } = partiesOf(provider);
  try {
    const response = await oauth.refreshTokenGrantRequest(
      ...([as, client, authentication, refreshToken, options(provider.tokenEndpoint)] as const),
    );
    return tokensOf(await oauth.processRefreshTokenResponse(as, client, response), provider);
  } catch (error) {
    return refusalOf(error, provider);
  }
}

function partiesOf({ issuer, namesItself, tokenEndpoint, clientId, clientSecret, secretInHeader }: Registration) {
  const as: oauth.AuthorizationServer = {
    issuer: issuer === '' ? new URL(tokenEndpoint).origin : issuer,
    token_endpoint: tokenEndpoint,
    authorization_response_iss_parameter_supported: namesItself,
  };
  const withSecret = secretInHeader ? oauth.ClientSecretBasic : oauth.ClientSecretPost;
  return {
    as,
    client: { client_id: clientId } satisfies oauth.Client,
    authentication: clientSecret === null ? oauth.None() : withSecret(clientSecret),
  };
}

function tokensOf(answer: oauth.TokenEndpointResponse, { tokenEndpoint }: Registration): Answered {
  const { access_token: accessToken, refresh_token: refreshToken, expires_in: expiresInS } = answer;
  // What a mail server is told in one field (RFC 7628, 3.1) holds nothing but visible letters.
  if (![accessToken, refreshToken ?? 'x'].every((t) => t.length <= MOST_TOKEN && /^[\x21-\x7e]+$/.test(t)))
    return unusable(tokenEndpoint, 'the token is too long, or has odd letters in it');
  return { ok: true, tokens: { accessToken, refreshToken: refreshToken ?? null, expiresInS } };
}

const unusable = (endpoint: string, said: string): Answered => ({
  ok: false,
  ...judgeTokenRefusal({ status: null, error: null, said }, new URL(endpoint).host),
});

function refusalOf(error: unknown, { tokenEndpoint }: Registration): Answered {
  const url = new URL(tokenEndpoint);
  const { host } = url;
  if (error instanceof oauth.ResponseBodyError) {
    const { status, error: code, error_description: said = '' } = error;
    return { ok: false, ...judgeTokenRefusal({ status, error: code, said }, host) };
  }
  const { cause } = error as { cause?: unknown };
  if (cause instanceof Response)
    return { ok: false, ...judgeTokenRefusal({ status: cause.status, error: null, said: '' }, host) };
  return unusable(tokenEndpoint, reasonOf(error, url));
}

/** What kept an answer from coming or from being understood. */
function reasonOf(error: unknown, { hostname, port, protocol }: URL): string {
  const { name, message, cause } = error as { name?: string; message?: string; cause?: NodeJS.ErrnoException };
  if (cause instanceof Response) return `it answers with ${cause.status}`;
  const said =
    name === 'TimeoutError' ? 'ETIMEDOUT' : (cause?.code ?? cause?.message ?? message ?? 'it does not answer');
  return networkWords(said, { host: hostname, port: Number(port) || (protocol === 'https:' ? 443 : 80) });
}
