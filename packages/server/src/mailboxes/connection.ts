import { rootCertificates } from 'node:tls';
import { DomainError, MINUTE_MS } from '@baton/core';
import type { Secrets } from '../security/secrets';
import type { MailboxRow } from '../store/mailboxes/mailbox-rows';
import type { AccessTokens } from './sign-in/access-tokens';

/** How a mailbox shows that it may be used. */
export type Credential =
  | { password: string }
  /** A token; another one than that which was refused. Rejects with a DomainError `refused` or `unreachable`. */
  | { token(refused?: string): Promise<string> };

/** What an adapter needs to get into a mailbox. */
export interface MailboxAccess {
  smtp: MailboxRow['smtp'];
  imap: MailboxRow['imap'];
  username: string;
  credential: Credential;
}

/** What opens the secrets of mailboxes. */
export interface Keys {
  secrets: Secrets;
  tokens: AccessTokens;
}

export type CredentialRow = Pick<MailboxRow, 'passwordSealed' | 'grantId'>;

const UNREADABLE =
  'Its password cannot be read: the key file is not the one with which it was kept. Enter the password again.';

function credentialOf({ passwordSealed, grantId }: CredentialRow, { secrets, tokens }: Keys): Credential {
  if (grantId !== null) return { token: (refused) => tokens.of(grantId, refused) };
  try {
    return { password: secrets.open(passwordSealed ?? '') };
  } catch (error) {
    throw new DomainError('refused', UNREADABLE, { cause: error });
  }
}

/** @throws DomainError `refused` where the password was sealed with another key */
export function accessOf(
  mailbox: Pick<MailboxRow, 'smtp' | 'imap' | 'username'> & CredentialRow,
  keys: Keys,
): MailboxAccess {
  const { smtp, imap, username } = mailbox;
  return { smtp, imap, username, credential: credentialOf(mailbox, keys) };
}

/** @throws DomainError `invalid`: a password in clear may cross this machine's loopback only */
export function requireSafe(server: MailboxRow['smtp']): void {
  if (server.security === 'none' && !/^(?:127\.\d+\.\d+\.\d+|localhost|::1)$/.test(server.host)) {
    throw new DomainError(
      'invalid',
      `${server.host} would get the password unencrypted. Expected TLS or STARTTLS for any server but this machine itself.`,
    );
  }
}

/** A connection that nobody has used for so long is closed, before the server does it (RFC 5321, 4.5.3.2.7: five minutes). */
export const IDLE_MS = 4 * MINUTE_MS;

/** Calls back once nothing has happened for a while. */
export class IdleTimer {
  private timer: NodeJS.Timeout | null = null;

  constructor(
    private readonly onIdle: () => void,
    private readonly ms = IDLE_MS,
  ) {}

  /** Something happens: it is not idle until `rest`. */
  stir(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
  }

  /** It is over: from now on it is idle. */
  rest(): void {
    this.stir();
    this.timer = setTimeout(this.onIdle, this.ms).unref();
  }
}

/** How certificates of a server are checked: as everywhere, and by the one that a person trusted for it. */
export const tlsOf = ({ trusted }: MailboxRow['smtp']) =>
  trusted === undefined ? {} : { tls: { ca: [...rootCertificates, trusted], allowPartialTrustChain: true } };

/** Longest wait for a server's answer. */
export const SOCKET_TIMEOUT_MS = 30_000;
