import { storableText } from '../storable-text';
import { MINUTE_MS, SECOND_MS } from '../time/clock';

/**
 * What it means that an authorization server gave no token: it may later; the access is gone and the person has to sign in
 * again; or something in the settings of the provider is wrong.
 */
export type TokenVerdict = 'later' | 'withdrawn' | 'misconfigured';

export interface TokenRefusal {
  verdict: TokenVerdict;
  /** A sentence for the coordinator, with the server's own words where it had any. */
  words: string;
}

/** An authorization server's answer that is no token, as far as it was understood. */
export interface OAuthAnswer {
  /** HTTP status; null where no answer came. */
  status: number | null;
  /** Its `error`, a code of RFC 6749; null where the answer had none. */
  error: string | null;
  /** Its `error_description`, or what went wrong on the way. */
  said: string;
}

const WITHDRAWN = 'The provider has ended Baton’s access to this mailbox. Sign in again to give it anew.';
const CLIENT =
  'The provider does not accept the client ID or the client secret. Check them in the provider’s settings.';
const SCOPES = 'The provider does not grant the scopes that are asked for. Check them in the provider’s settings.';
const REQUEST = 'The provider does not understand what it is asked for. Check its endpoints and extra parameters.';

/** The error codes of RFC 6749 5.2 and, from OpenID Connect Core 3.1.2.6, those that only a person can settle. */
const TOKEN_ERRORS: Readonly<Record<string, [TokenVerdict, string]>> = {
  invalid_grant: ['withdrawn', WITHDRAWN],
  interaction_required: ['withdrawn', WITHDRAWN],
  login_required: ['withdrawn', WITHDRAWN],
  consent_required: ['withdrawn', WITHDRAWN],
  invalid_client: ['misconfigured', CLIENT],
  unauthorized_client: ['misconfigured', CLIENT],
  invalid_scope: ['misconfigured', SCOPES],
  invalid_request: ['misconfigured', REQUEST],
  unsupported_grant_type: ['misconfigured', REQUEST],
};

/**
 * Decides what a token endpoint's refusal means (RFC 6749, 5.2). Only an answer of class 4xx with a known code is about
 * the access; everything else is the server's trouble of the moment, and shuts no mailbox out.
 */
export function judgeTokenRefusal(answer: OAuthAnswer, host: string): TokenRefusal {
  const { status, error } = answer;
  const isAnswered = status !== null && status >= 400 && status < 500 && status !== 429;
  const known = isAnswered && error !== null && Object.hasOwn(TOKEN_ERRORS, error) ? TOKEN_ERRORS[error] : undefined;
  if (known) return { verdict: known[0], words: withOwnWords(known[1], answer) };
  // A client that is not known is refused with 401, often without a code that says so.
  if (status === 401) return { verdict: 'misconfigured', words: withOwnWords(CLIENT, answer) };
  const trouble =
    status === null ? `${host} does not answer as expected.` : `${host} answered with ${status} and gave no access.`;
  return { verdict: 'later', words: withOwnWords(trouble, answer) };
}

/** The error codes of RFC 6749 4.1.2.1, with which a browser comes back from the provider without access. */
const AUTHORIZATION_ERRORS: Readonly<Record<string, string>> = {
  access_denied: 'Access was refused at the provider.',
  unauthorized_client: CLIENT,
  invalid_scope: SCOPES,
  invalid_request: REQUEST,
  unsupported_response_type: REQUEST,
  server_error: 'The provider had a fault of its own. Try again.',
  temporarily_unavailable: 'The provider is busy. Try again in a few minutes.',
};

/** Why a browser came back from the provider without access, in a sentence. */
export function authorizationRefusalWords(error: string, said: string): string {
  const known = Object.hasOwn(AUTHORIZATION_ERRORS, error) ? AUTHORIZATION_ERRORS[error] : undefined;
  return withOwnWords(known ?? 'The provider gave no access.', { error, said });
}

/** Words of a server that are shown at most. */
const MOST_WORDS = 300;

function withOwnWords(sentence: string, { error, said }: Pick<OAuthAnswer, 'error' | 'said'>): string {
  const own = [error, said]
    .map((text) =>
      (text ?? '')
        .slice(0, 2 * MOST_WORDS)
        .replace(/[\s\p{Cc}]+/gu, ' ')
        .trim(),
    )
    .filter((text) => text !== '')
    .join(': ')
    .slice(0, MOST_WORDS);
  if (own === '') return sentence;
  // What is a sentence already stands as one.
  return /^\p{Lu}.*[.)]$/u.test(own) ? `${sentence} ${storableText(own)}` : `${sentence} (${storableText(own)})`;
}

/** A token is renewed so long before it expires, or when half its life is over where that is shorter. */
const RENEW_AHEAD_MS = 5 * MINUTE_MS;

/**
 * When an access token expires and when it is to be renewed.
 *
 * @param expiresInS `expires_in` of the answer (RFC 6749, 5.1), in seconds; undefined where the server does not say
 * @returns epoch ms; nulls for a token that is used until it is refused
 */
export function tokenLife(
  nowMs: number,
  expiresInS: number | undefined,
): { expiresAt: number | null; renewAt: number | null } {
  if (expiresInS === undefined || !Number.isFinite(expiresInS) || expiresInS < 0)
    return { expiresAt: null, renewAt: null };
  // A server that names centuries means that it does not expire soon.
  const lifeMs = Math.round(Math.min(expiresInS, MOST_LIFE_S) * SECOND_MS);
  return { expiresAt: nowMs + lifeMs, renewAt: nowMs + Math.max(lifeMs - RENEW_AHEAD_MS, Math.floor(lifeMs / 2)) };
}

const MOST_LIFE_S = 366 * 24 * 60 * 60;
