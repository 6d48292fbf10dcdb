import { rootCertificates } from 'node:tls';
import { DomainError, MINUTE_MS } from '@baton/core';
import type { Secrets } from '../security/secrets';
import type { MailboxRow } from '../store/mailboxes/mailbox-rows';

/** What an adapter needs to get into a mailbox. */
export interface MailboxAccess {
  smtp: MailboxRow['smtp'];
  imap: MailboxRow['imap'];
  username: string;
  password: string;
}

export function accessOf(
  mailbox: Pick<MailboxRow, 'smtp' | 'imap' | 'username' | 'passwordSealed'>,
  secrets: Secrets,
): MailboxAccess {
  return {
    smtp: mailbox.smtp,
    imap: mailbox.imap,
    username: mailbox.username,
    password: secrets.open(mailbox.passwordSealed),
  };
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
