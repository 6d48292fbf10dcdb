import { randomBytes } from 'node:crypto';
import { DAY_MS, DomainError, HOUR_MS } from '@baton/core';
import type { GrantView, SignInProvider, SignInProviderChoices } from '@baton/contract';
import type { ServerParts } from '../../http/context';
import { wantPlan } from '../../planning/want-plan';
import type { Secrets } from '../../security/secrets';
import { announce } from '../../store/changes';
import type { Queryable } from '../../store/database';
import {
  addGrant,
  addProvider,
  listProviders,
  mailboxesOf,
  readGrant,
  readProvider,
  removeProvider,
  removeUnusedGrants,
  takeSignIn,
  updateGrant,
  updateProvider,
  type GrantWithProvider,
} from '../../store/mailboxes/grant-rows';
import { addMailboxEvent } from '../../store/mailboxes/mailbox-event-rows';
import { updateMailbox } from '../../store/mailboxes/mailbox-rows';
import { NO_LASTING_ACCESS } from './access-tokens';
import { authorizationUrl, endpointOf, exchangeCode } from './authorization-server';
import { registrationOf, sealedTokens } from './registration';

/** Who has not come back from the provider by then begins anew. */
const SIGN_IN_MS = HOUR_MS;

/** Where a provider sends the browser back: loopback, as RFC 8252 7.3 has it. */
export function redirectUri({ config }: Pick<ServerParts, 'config'>): string {
  const host = /^(?:localhost|0\.0\.0\.0|::|::1)$/.test(config.host) ? '127.0.0.1' : config.host;
  return `http://${host}:${config.port}/sign-in`;
}

export async function viewProviders({ store }: ServerParts): Promise<SignInProvider[]> {
  return (await listProviders(store.db)).map(({ clientSecretSealed, ...provider }) => ({
    ...provider,
    hasSecret: clientSecretSealed !== null,
  }));
}

/**
 * Keeps a provider, new or changed. Mailboxes that were shut out by what it said try again.
 *
 * @throws DomainError `invalid` for endpoints that are none, `not_found`
 */
export async function keepProvider(
  parts: ServerParts,
  id: number | null,
  { clientSecret, ...choices }: SignInProviderChoices,
): Promise<number> {
  const { store, secrets, clock } = parts;
  const row = {
    ...choices,
    authorizationEndpoint: endpointOf(choices.authorizationEndpoint, 'authorization endpoint'),
    tokenEndpoint: endpointOf(choices.tokenEndpoint, 'token endpoint'),
    scopes: choices.scopes.split(/\s+/).filter(Boolean).join(' '),
    ...(clientSecret === null ? {} : { clientSecretSealed: clientSecret === '' ? null : secrets.seal(clientSecret) }),
  };
  // Compared letter by letter with what the provider says (RFC 9207, 2.4), and so kept as it is.
  if (choices.issuer !== '') endpointOf(choices.issuer, 'sign-in address');
  const nowMs = await clock.now();
  return store.db.transaction(async (tx) => {
    if (id === null) {
      await announce(tx, 'mailboxes');
      return addProvider(tx, row);
    }
    if (!(await readProvider(tx, id))) throw new DomainError('not_found', 'There is no such provider.');
    await updateProvider(tx, id, row);
    await letIn(tx, await mailboxesOf(tx, { providerId: id }), 'provider’s settings changed', nowMs);
    return id;
  });
}

/** @throws DomainError `conflict` where mailboxes sign in there */
export async function dropProvider({ store }: ServerParts, id: number): Promise<void> {
  await store.db.transaction(async (tx) => {
    if (!(await removeProvider(tx, id)))
      throw new DomainError('conflict', 'Mailboxes sign in there. Give them a password or another provider first.');
    await announce(tx, 'mailboxes');
  });
}

/**
 * Begins a sign-in: new, or to give an access anew that has ended.
 *
 * @returns the access that it is for, and where the person's browser goes
 * @throws DomainError `not_found`
 */
export async function beginSignIn(
  parts: ServerParts,
  { providerId, username, grantId }: { providerId: number; username: string; grantId: number | null },
): Promise<{ grantId: number; url: string }> {
  const { store, secrets, clock } = parts;
  const nowMs = await clock.now();
  const provider = await readProvider(store.db, providerId);
  if (!provider) throw new DomainError('not_found', 'There is no such provider.');
  const [state, verifier] = [randomBytes(32).toString('base64url'), randomBytes(32).toString('base64url')];
  const begun = { providerId, username, state, verifierSealed: secrets.seal(verifier), begunAt: nowMs };
  const id = await store.db.transaction(async (tx) => {
    await removeUnusedGrants(tx, nowMs - DAY_MS);
    const known = grantId === null ? null : await readGrant(tx, grantId);
    if (grantId !== null && !known) throw new DomainError('not_found', 'There is no such access.');
    // Another account, or another provider, is another access: the old one stays good for whoever has it.
    if (known?.provider.id !== providerId || known.grant.username !== username) return addGrant(tx, begun);
    await updateGrant(tx, known.grant.id, begun);
    return known.grant.id;
  });
  const uri = redirectUri(parts);
  const url = await authorizationUrl(registrationOf(provider, secrets), {
    redirectUri: uri,
    state,
    verifier,
    username,
  });
  return { grantId: id, url };
}

/** @throws DomainError `not_found` */
export async function viewGrant({ store, clock }: ServerParts, id: number): Promise<GrantView> {
  const found = await readGrant(store.db, id);
  if (!found) throw new DomainError('not_found', 'There is no such access.');
  const { grant, provider } = found;
  const isWaiting = grant.state !== null && (await clock.now()) < grant.begunAt + SIGN_IN_MS;
  const state = isWaiting ? 'waiting' : hasAccess(grant) ? 'given' : 'none';
  return {
    ...{ id, state, providerId: provider.id, providerName: provider.name, username: grant.username },
    refusal: isWaiting ? null : grant.refusal,
    grantedAt: grant.grantedAt,
  };
}

const hasAccess = ({ refreshTokenSealed, accessTokenSealed }: GrantWithProvider['grant']): boolean =>
  refreshTokenSealed !== null || accessTokenSealed !== null;

/** How a sign-in ended, for the person who came back. */
export interface SignInEnd {
  ok: boolean;
  username: string | null;
  words: string;
}

const UNKNOWN: SignInEnd = {
  ok: false,
  username: null,
  words: 'This sign-in is not known here, or has ended already. Begin again on the mailbox’s page.',
};
const TOO_LATE = 'The sign-in took more than an hour. Begin again on the mailbox’s page.';

const OTHER_KEY = 'The sign-in was begun with another key file. Begin again on the mailbox’s page.';

function openOrNull(sealed: string, secrets: Secrets): string | null {
  try {
    return secrets.open(sealed);
  } catch {
    return null;
  }
}

/** Takes what a browser came back with from the provider, and gets the access for it. */
export async function finishSignIn(parts: ServerParts, answer: URLSearchParams): Promise<SignInEnd> {
  const { store, secrets, clock } = parts;
  const state = answer.get('state') ?? '';
  const found = state === '' ? null : await takeSignIn(store.db, state);
  if (!found?.grant.verifierSealed) return UNKNOWN;
  const { id, username, begunAt, verifierSealed } = found.grant;
  const nowMs = await clock.now();
  const refuse = async (words: string): Promise<SignInEnd> => {
    await updateGrant(store.db, id, { refusal: words });
    await announce(store.db, 'mailboxes');
    return { ok: false, username, words };
  };
  if (nowMs >= begunAt + SIGN_IN_MS) return refuse(TOO_LATE);
  const verifier = openOrNull(verifierSealed, secrets);
  if (verifier === null) return refuse(OTHER_KEY);
  const known = { redirectUri: redirectUri(parts), state, verifier };
  const answered = await exchangeCode(registrationOf(found.provider, secrets), answer, known);
  if (!answered.ok) return refuse(answered.words);
  const { refreshToken, expiresInS } = answered.tokens;
  if (refreshToken === null && expiresInS !== undefined) return refuse(NO_LASTING_ACCESS);
  await store.db.transaction(async (tx) => {
    await updateGrant(tx, id, {
      ...sealedTokens(answered.tokens, secrets, nowMs),
      ...{ grantedAt: nowMs, refusal: null, renewingUntil: null },
    });
    await letIn(tx, await mailboxesOf(tx, { grantId: id }), 'signed in at the provider again', nowMs);
  });
  return { ok: true, username, words: 'Baton may use this mailbox. You can close this page and go on in Baton.' };
}

/** Mailboxes that were shut out are tried again. */
async function letIn(
  tx: Queryable,
  mailboxes: readonly { id: number; problem: string | null }[],
  words: string,
  nowMs: number,
): Promise<void> {
  const shutOut = mailboxes.filter((m) => m.problem !== null);
  for (const { id } of shutOut) {
    await updateMailbox(tx, id, { problem: null });
    await addMailboxEvent(tx, id, nowMs, words);
  }
  if (shutOut.length > 0) await wantPlan(tx, nowMs);
  await announce(tx, 'mailboxes', 'today');
}
