import { DomainError, tokenLife } from '@baton/core';
import type { Secrets } from '../../security/secrets';
import type { ProviderRow } from '../../store/mailboxes/grant-rows';
import type { Registration, Tokens } from './authorization-server';

/**
 * A provider as it is asked, its secret opened.
 *
 * @throws DomainError `refused` where the secret was kept with another key
 */
export function registrationOf({ clientSecretSealed, ...provider }: ProviderRow, secrets: Secrets): Registration {
  try {
    return { ...provider, clientSecret: clientSecretSealed === null ? null : secrets.open(clientSecretSealed) };
  } catch (error) {
    const words = `The client secret of ${provider.name} cannot be read: the key file is another one. Enter it again in the provider’s settings.`;
    throw new DomainError('refused', words, { cause: error });
  }
}

/** Tokens as they are kept. Where none for renewing came, the one there is stays. */
export function sealedTokens({ accessToken, refreshToken, expiresInS }: Tokens, secrets: Secrets, nowMs: number) {
  return {
    accessTokenSealed: secrets.seal(accessToken),
    ...(refreshToken === null ? {} : { refreshTokenSealed: secrets.seal(refreshToken) }),
    ...tokenLife(nowMs, expiresInS),
  };
}
