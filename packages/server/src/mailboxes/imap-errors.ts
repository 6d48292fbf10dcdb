import { DomainError } from '@baton/core';

/** Whether a folder is not there (RFC 3501, 7.1). */
export const isNoSuchFolder = (error: unknown): boolean =>
  (error as { serverResponseCode?: string }).serverResponseCode === 'TRYCREATE';

/** Refusals to sign in that pass by themselves (RFC 5530, 3). */
const PASSES: ReadonlySet<string> = new Set(['UNAVAILABLE', 'INUSE', 'LIMIT', 'SERVERBUG']);

interface ImapError {
  authenticationFailed?: boolean;
  serverResponseCode?: string;
  responseText?: string;
  message?: string;
}

/** Whether the server refuses whoever signs in, and will again. */
export function isRefusal(error: unknown): boolean {
  const { authenticationFailed, serverResponseCode } = error as ImapError;
  return authenticationFailed === true && !PASSES.has(serverResponseCode ?? '');
}

const NO_WAY_IN =
  'This server offers no way to sign in that Baton knows: PLAIN or LOGIN for a password, OAUTHBEARER or XOAUTH2 for a sign-in at the provider.';

/** Says it in a sentence: `refused` where the sign-in was, else `unreachable`. */
export function asSentence(error: unknown, host: string): DomainError {
  if (error instanceof DomainError) return error;
  const e = error as ImapError;
  if (e.message === 'Unsupported authentication mechanism')
    return new DomainError('refused', NO_WAY_IN, { cause: error });
  if (isRefusal(error))
    return new DomainError('refused', e.responseText ?? 'the sign-in was refused', { cause: error });
  return new DomainError(
    'unreachable',
    `${host} could not be read: ${e.responseText ?? e.message ?? 'the connection was lost'}`,
    { cause: error },
  );
}
