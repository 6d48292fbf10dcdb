import { DomainError } from '@baton/core';
import type { FoundProvider, ServerChoice } from '@baton/contract';
import { ImapReader } from '../imap';
import { networkWords } from '../network-words';
import { discover } from './authorization-server';

/** What no server takes for a token: its refusal says where one is to be had. */
const NO_TOKEN = 'none';

/**
 * Asks a mail server at which provider one signs in: refusing a token, it may name the provider's configuration and the
 * scope (RFC 7628, 3.2.2).
 *
 * @throws DomainError `unreachable` where it names none, or the provider does not describe itself
 */
export async function askMailServer(imap: ServerChoice): Promise<FoundProvider> {
  const reader = new ImapReader({
    ...{ imap, smtp: imap, username: 'nobody' },
    credential: { token: () => Promise.resolve(NO_TOKEN) },
  });
  try {
    await reader.position();
  } catch (error) {
    const named = namedBy(error);
    if (named) return await found(named);
    if (!(error instanceof DomainError)) throw error;
    const why = error.code === 'refused' ? '' : ` (${networkWords(error.message, imap)})`;
    throw new DomainError(
      'unreachable',
      `The mail server ${imap.host} does not say at which provider one signs in${why}.`,
      {
        cause: error,
      },
    );
  } finally {
    await reader.close();
  }
  throw new DomainError('unreachable', `The mail server ${imap.host} lets everybody in.`);
}

interface Named {
  configuration: string;
  scope: string | null;
}

function namedBy(error: unknown): Named | null {
  const said = (error as { cause?: { oauthError?: unknown } }).cause?.oauthError;
  if (typeof said !== 'object' || said === null) return null;
  const { 'openid-configuration': configuration, scope } = said as Record<string, unknown>;
  if (typeof configuration !== 'string') return null;
  return { configuration, scope: typeof scope === 'string' ? scope.slice(0, 1000) : null };
}

async function found({ configuration, scope }: Named): Promise<FoundProvider> {
  const provider = await discover(configuration.replace(/\/\.well-known\/[\w-]+$/, ''));
  return scope === null ? provider : { ...provider, scopes: scope };
}
