import { DomainError } from '@baton/core';
import { ImapFlow } from 'imapflow';
import { requireSafe, SOCKET_TIMEOUT_MS, type MailboxAccess } from './connection';

interface FetchedMail {
  uid: number;
  raw: Buffer;
}

interface InboxPosition {
  /** A BigInt on the wire; kept as text. */
  uidValidity: string;
  uidNext: number;
}

/**
 * One mailbox's way in. Keeps its connection; makes a new one after a drop, since an ImapFlow cannot reconnect.
 * All methods throw DomainError `refused` for a wrong password and `unreachable` for anything in the way.
 */
export class ImapReader {
  private client: ImapFlow | null = null;

  /** @throws DomainError `invalid` when the password would cross the network in clear */
  constructor(private readonly access: MailboxAccess) {
    requireSafe(access.imap);
  }

  /** Where the inbox stands, without fetching anything. */
  position(): Promise<InboxPosition> {
    return this.guarded(async (imap) => {
      const status = await imap.status('INBOX', { uidNext: true, uidValidity: true });
      if (status === false) throw new Error('the server told nothing about the inbox');
      return { uidValidity: String(status.uidValidity ?? ''), uidNext: Number(status.uidNext ?? 1) };
    });
  }

  /** Messages with `fromUid` <= UID, in order. */
  fetchFrom(fromUid: number): Promise<FetchedMail[]> {
    return this.guarded(async (imap) => {
      const lock = await imap.getMailboxLock('INBOX', { readOnly: true });
      const out: FetchedMail[] = [];
      try {
        for await (const m of imap.fetch(`${fromUid}:*`, { uid: true, source: true }, { uid: true })) {
          // `n:*` past the end gives the last message once more.
          if (m.uid >= fromUid && m.source) out.push({ uid: m.uid, raw: m.source });
        }
      } finally {
        lock.release();
      }
      return out.sort((a, b) => a.uid - b.uid);
    });
  }

  /** Whether the Sent folder holds a message with this Message-ID (without brackets). */
  isInSent(messageId: string): Promise<boolean> {
    return this.guarded(async (imap) => {
      const folders = await imap.list();
      const sent = folders.find((f) => f.specialUse === '\\Sent') ?? folders.find((f) => /^sent/i.test(f.name));
      if (!sent) return false;
      const lock = await imap.getMailboxLock(sent.path, { readOnly: true });
      try {
        const found = await imap.search({ header: { 'message-id': `<${messageId}>` } }, { uid: true });
        return Array.isArray(found) && found.length > 0;
      } finally {
        lock.release();
      }
    });
  }

  async close(): Promise<void> {
    await this.client?.logout().catch(() => undefined);
    this.client = null;
  }

  private async open(): Promise<ImapFlow> {
    if (this.client?.usable) return this.client;
    const { imap, username, password } = this.access;
    const fresh = new ImapFlow({
      host: imap.host,
      port: imap.port,
      secure: imap.security === 'tls',
      // Left to itself it would sign in in clear where STARTTLS is missing.
      doSTARTTLS: imap.security === 'starttls' ? true : imap.security === 'none' ? false : undefined,
      auth: { user: username, pass: password },
      logger: false,
      disableAutoIdle: true,
      socketTimeout: SOCKET_TIMEOUT_MS * 10,
      greetingTimeout: SOCKET_TIMEOUT_MS,
    });
    fresh.on('error', () => undefined);
    await fresh.connect();
    this.client = fresh;
    return fresh;
  }

  private async guarded<T>(work: (imap: ImapFlow) => Promise<T>): Promise<T> {
    try {
      return await work(await this.open());
    } catch (error) {
      this.client?.close();
      this.client = null;
      throw wrap(error, this.access.imap.host);
    }
  }
}

function wrap(error: unknown, host: string): DomainError {
  const e = error as {
    authenticationFailed?: boolean;
    responseText?: string;
    response?: unknown;
    message?: string;
    code?: string;
  };
  if (e.authenticationFailed)
    return new DomainError('refused', e.responseText ?? 'the password was refused', { cause: error });
  return new DomainError(
    'unreachable',
    `${host} could not be read: ${e.responseText ?? e.message ?? 'the connection was lost'}`,
    { cause: error },
  );
}
