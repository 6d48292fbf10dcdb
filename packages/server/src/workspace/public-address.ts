import { randomBytes } from 'node:crypto';
import { DomainError, isLoopback } from '@baton/core';
import type { PublicAddressTest } from '@baton/contract';
import { boundedFetch } from '../http/bounded-fetch';
import type { ServerParts } from '../http/context';
import { readWorkspace } from '../store/workspace-rows';
import { hereAnswer } from '../sending/signed-links';

/** How long the way to the public pages may take, and how much of an answer is read. */
const BOUNDS = { patienceMs: 15_000, mostBytes: 4096 };

/**
 * An address as it is kept: without a slash, a query or a fragment at its end; '' for none.
 *
 * @param isSimulated in the demo, whose people live on this machine
 * @throws DomainError `invalid` for what is no address, or one that nobody else can open
 */
export function publicAddressOf(typed: string, isSimulated: boolean): string {
  const text = typed.trim();
  if (text === '') return '';
  const url = URL.canParse(text) ? new URL(text) : null;
  if (!url || !/^https?:$/.test(url.protocol) || url.username !== '' || url.password !== '')
    throw new DomainError(
      'invalid',
      `“${text}” is no public address. Expected one such as https://mail.tidewaterkelp.example.`,
    );
  if (url.search !== '' || url.hash !== '')
    throw new DomainError('invalid', `The public address cannot end in “${url.search}${url.hash}”.`);
  if (isLoopback(text) && !isSimulated)
    throw new DomainError(
      'invalid',
      `${text} leads to this machine only: nobody who gets a message could open its links. Leave it empty to let people leave by mail.`,
    );
  return url.href.replace(/\/+$/, '');
}

/** Asks for this Baton at a public address, as a recipient's browser would. */
export async function testPublicAddress(
  address: string,
  { secrets, ownMachine }: Pick<ServerParts, 'secrets' | 'ownMachine'>,
): Promise<PublicAddressTest> {
  const nonce = randomBytes(12).toString('base64url');
  ownMachine.asks(nonce);
  try {
    const answer = await boundedFetch(`${address}/here/${nonce}`, { headers: { accept: 'text/plain' } }, BOUNDS);
    const onward = answer.headers.get('location');
    if (onward !== null) return no(`It leads on to ${onward}. Enter the address at which it ends.`);
    if (!answer.ok) return no(`Something answers there with ${answer.status}, which is not Baton.`);
    if ((await answer.text()) !== hereAnswer(secrets, nonce))
      return no('Something else answers there, or another Baton.');
    return { ok: true, said: `Links to ${address} lead to this Baton.` };
  } catch (error) {
    if (error instanceof Error && error.name === 'TimeoutError') return no('Nothing answered within 15 seconds.');
    const { cause } = error as { cause?: { code?: string; message?: string } };
    return no(`It cannot be reached: ${WORDS[cause?.code ?? ''] ?? cause?.message ?? 'the connection failed'}.`);
  }
}

/** Finds out from where this machine is seen at its public address, if it has one. */
export async function findOwnMachine(parts: ServerParts): Promise<void> {
  const { publicAddress } = await readWorkspace(parts.store.db);
  if (publicAddress !== '' && parts.simulator === null) await testPublicAddress(publicAddress, parts);
}

const no = (said: string): PublicAddressTest => ({ ok: false, said });

const WORDS: Readonly<Record<string, string>> = {
  ENOTFOUND: 'there is no such name',
  EAI_AGAIN: 'its name could not be looked up',
  ECONNREFUSED: 'nothing listens there',
  ECONNRESET: 'the connection was broken off',
  CERT_HAS_EXPIRED: 'its certificate has expired',
  DEPTH_ZERO_SELF_SIGNED_CERT: 'its certificate is signed by nobody else',
  UNABLE_TO_VERIFY_LEAF_SIGNATURE: 'its certificate is signed by somebody unknown',
  ERR_TLS_CERT_ALTNAME_INVALID: 'its certificate is for another name',
};
