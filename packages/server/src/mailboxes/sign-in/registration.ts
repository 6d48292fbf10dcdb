import { tokenLife } from '@baton/core';
import type { Secrets } from '../../security/secrets';
import type { ProviderRow } from '../../store/mailboxes/grant-rows';
import type { Registration, Tokens } from './authorization-server';

/** A provider as it is asked, its secret opened. */
export function registrationOf({ clientSecretSealed, ...provider }: ProviderRow, secrets: Secrets): Registration {
  return { ...provider, clientSecret: clientSecretSealed === null ? null : secrets.open(clientSecretSealed) };
}

/** Tokens as they are kept. Where none for renewing came, the one there is stays. */
export function sealedTokens({ accessToken, refreshToken, expiresInS }: Tokens, secrets: Secrets, nowMs: number) {
  return {
    accessTokenSealed: secrets.seal(accessToken),
    ...(refreshToken === null ? {} : { refreshTokenSealed: secrets.seal(refreshToken) }),
    ...tokenLife(nowMs, expiresInS),
  };
}
