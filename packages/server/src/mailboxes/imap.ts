import { ImapFlow } from 'imapflow';
import type { FolderPlace } from '../store/schema/mailbox-schema';
import { IdleTimer, requireSafe, SOCKET_TIMEOUT_MS, tlsOf, type MailboxAccess } from './connection';
import { isNoSuchFolder, isRefusal, asSentence } from './imap-errors';

/** A message as it stands on the server. */
export interface FetchedMail {
  uid: number;
  raw: Buffer;
}

/** What is read of one message; the rest of a longer one is attachments. */
const MOST_BYTES = 10 * 1024 * 1024;

/** Messages that are held in memory at the same time, and how much of them before the next is asked for. */
export const MOST_AT_ONCE = 32;
const BYTES_AT_ONCE = 4 * 1024 * 1024;

/** What of a head in the Sent folder says who wrote to whom about what, and in which thread. */
const SENT_HEADERS = ['message-id', 'from', 'to', 'cc', 'bcc', 'subject', 'in-reply-to', 'references'];

/** The head of a message in the Sent folder. */
export interface SentHead {
  raw: Buffer;
  /** When the server took it in; null where it does not say. */
  at: number | null;
  /** Its folder's UIDVALIDITY and its UID, which name it where it has no Message-ID. */
  place: string;
  uid: number;
}

interface InboxPosition {
  /** A BigInt on the wire; kept as text. */
  uidValidity: string;
  uidNext: number;
}

/** What is known of a message without its contents. */
export interface MailMark {
  uid: number;
  /** When the server took it in, epoch ms UTC; Infinity where it does not say. */
  at: number;
  /** Without brackets; '' for none. */
  messageId: string;
}

/** Folders in which no answers end, by their use (RFC 6154) or by their names. */
const NO_ANSWERS: ReadonlySet<string> = new Set(['\\Inbox', '\\Sent', '\\Drafts', '\\Trash', '\\All', '\\Flagged']);
const NO_ANSWERS_NAMES =
  /^(?:sent|drafts?|outbox|trash|deleted|templates?|notes|calendar|contacts|tasks|chats?|gesendet|entwürfe|papierkorb|gelöscht|postausgang|envoyés?|brouillons|corbeille|enviados|borradores|papelera|posta inviata|bozze|cestino|verzonden|concepten|prullenbak)\b/iu;
/** As many folders beside the inbox are read. */
const MOST_FOLDERS = 40;

/**
 * One mailbox's way in. Keeps its connection; makes a new one after a drop, since an ImapFlow cannot reconnect.
 * All methods throw DomainError `refused` for a wrong password and `unreachable` for anything in the way.
 */
export class ImapReader {
  private client: ImapFlow | null = null;
  private sentPath: string | null = null;
  private readonly idle = new IdleTimer(() => void this.close());
  /** What is under way. */
  private working = 0;
  private told: (() => void) | null = null;
  /** Whether the inbox is selected to hear of new mail, or about to be. */
  private isListening = false;

  /** @throws DomainError `invalid` when the password would cross the network in clear */
  constructor(private readonly access: MailboxAccess) {
    requireSafe(access.imap);
  }

  /**
   * Has new mail in the inbox told of as it comes, where the server can (IDLE, RFC 2177): over the same connection, while
   * nothing else is asked of it. What comes while something is, is found at the next reading.
   */
  tellOfNew(told: () => void): void {
    this.told = told;
  }

  /** UIDVALIDITY and UIDNEXT of the inbox, without fetching anything. */
  position(): Promise<InboxPosition> {
    return this.guarded((imap) => positionOf(imap, 'INBOX'));
  }

  /** Whether UIDVALIDITY and UIDNEXT of inbox, Sent folder and the others are unchanged. */
  isUnchanged(inbox: InboxPosition, sent: InboxPosition, others: readonly FolderPlace[]): Promise<boolean> {
    return this.guarded(async (imap) => {
      if (!isSame(await positionOf(imap, 'INBOX'), inbox)) return false;
      const folder = await this.sentFolder(imap);
      if (folder === null || !isSame(await positionOf(imap, folder), sent)) return false;
      const now = await this.placesOf(imap);
      const isKnown = (place: FolderPlace) => others.some((o) => o.path === place.path && isSame(o, place));
      return now.every(isKnown);
    });
  }

  /** Where the folders beside inbox and Sent stand in which answers may end: the spam folder, and those to which rules move mail. */
  otherFolders(): Promise<FolderPlace[]> {
    return this.guarded((imap) => this.placesOf(imap));
  }

  private async placesOf(imap: ImapFlow): Promise<FolderPlace[]> {
    const folders = await imap.list();
    const read = folders.filter(
      ({ path, name, flags, specialUse }) =>
        path.toUpperCase() !== 'INBOX' &&
        !flags.has('\\Noselect') &&
        !flags.has('\\NonExistent') &&
        !NO_ANSWERS.has(specialUse ?? '') &&
        (specialUse !== undefined || !NO_ANSWERS_NAMES.test(name)),
    );
    const places: FolderPlace[] = [];
    for (const { path } of read.slice(0, MOST_FOLDERS)) {
      // A folder that cannot be opened keeps nobody from reading the others.
      const status = await imap.status(path, { uidNext: true, uidValidity: true }).catch(() => false as const);
      if (status === false || status.uidNext === undefined) continue;
      places.push({ path, uidValidity: String(status.uidValidity ?? ''), uidNext: Number(status.uidNext) });
    }
    return places;
  }

  /**
   * Messages with `fromUid` <= UID, some at a time in order; of very long ones their first megabytes.
   *
   * @param take must not ask this mailbox for anything; what it throws ends the reading
   */
  async eachFrom(fromUid: number, take: (mails: readonly FetchedMail[]) => Promise<void>): Promise<void> {
    // By FETCH: there are servers that search nothing.
    const uids = await this.guarded((imap) =>
      inFolder(imap, 'INBOX', async () => {
        const found: number[] = [];
        for await (const { uid } of imap.fetch(`${fromUid}:*`, { uid: true }, { uid: true })) found.push(uid);
        return found;
      }),
    );
    // `n:*` past the end gives the last message once more.
    const from = uids.filter((uid) => uid >= fromUid).sort((a, b) => a - b);
    await this.each(from, take);
  }

  /** Messages of a folder by their UIDs; those that are gone are passed over. */
  async each(
    uids: readonly number[],
    take: (mails: readonly FetchedMail[]) => Promise<void>,
    folder = 'INBOX',
  ): Promise<void> {
    const query = { uid: true, source: { maxLength: MOST_BYTES } };
    for (let i = 0; i < uids.length;) {
      const mails: FetchedMail[] = [];
      await this.guarded((imap) =>
        inFolder(imap, folder, async () => {
          let bytes = 0;
          const until = Math.min(uids.length, i + MOST_AT_ONCE);
          for (; i < until && bytes < BYTES_AT_ONCE; i++) {
            const uid = uids[i] as number;
            const mail = await imap.fetchOne(String(uid), query, { uid: true });
            if (mail === false || !mail.source) continue;
            mails.push({ uid, raw: mail.source });
            bytes += mail.source.length;
          }
        }),
      );
      if (mails.length > 0) await take(mails);
    }
  }

  /** What a folder holds that came in since then, without its contents; in order. */
  async headsSince(sinceMs: number, folder = 'INBOX'): Promise<MailMark[]> {
    return (await this.marksFrom(1, folder)).filter((m) => m.at >= sinceMs);
  }

  /** What a folder holds from a UID on, without its contents; in order. */
  marksFrom(fromUid: number, folder: string): Promise<MailMark[]> {
    return this.guarded((imap) =>
      inFolder(imap, folder, async () => {
        const marks: MailMark[] = [];
        const query = { uid: true, internalDate: true, headers: ['message-id'] };
        for await (const m of imap.fetch(`${fromUid}:*`, query, { uid: true })) {
          // `n:*` past the end gives the last message once more.
          if (m.uid < fromUid) continue;
          const at = m.internalDate ? new Date(m.internalDate).getTime() : Infinity;
          const messageId = /^message-id:\s*<([^<>\s]+)>/im.exec(m.headers?.toString('latin1') ?? '')?.[1] ?? '';
          marks.push({ uid: m.uid, at, messageId });
        }
        return marks.sort((a, b) => a.uid - b.uid);
      }),
    );
  }

  /**
   * Whether the Sent folder holds a message with this Message-ID (without brackets); unknown where there is no such
   * folder, or the server does not search it.
   */
  lookInSent(messageId: string): Promise<'found' | 'absent' | 'unknown'> {
    return this.guarded(async (imap) => {
      const sent = await this.sentFolder(imap);
      if (sent === null) return 'unknown';
      return inFolder(imap, sent, async () => {
        const found = await imap.search({ header: { 'message-id': `<${messageId}>` } }, { uid: true });
        // What a server cannot search it refuses, which is no answer.
        if (!Array.isArray(found)) return 'unknown';
        return found.length > 0 ? 'found' : 'absent';
      });
    });
  }

  /**
   * The headers of what has come into the Sent folder since then, and its UIDVALIDITY and UIDNEXT now; null where there is no
   * such folder. Headers are empty if it was never read, or the server has numbered the folder anew (RFC 3501
   * 2.3.1.1).
   */
  sentFrom(last: InboxPosition | null): Promise<(InboxPosition & { heads: SentHead[] }) | null> {
    return this.guarded(async (imap) => {
      const sent = await this.sentFolder(imap);
      if (sent === null) return null;
      const position = await positionOf(imap, sent);
      const heads: SentHead[] = [];
      if (last?.uidValidity !== position.uidValidity || last.uidNext >= position.uidNext) return { ...position, heads };
      await inFolder(imap, sent, async () => {
        const range = `${last.uidNext}:${position.uidNext - 1}`;
        const query = { uid: true, internalDate: true, headers: SENT_HEADERS };
        for await (const m of imap.fetch(range, query, { uid: true })) {
          if (!m.headers) continue;
          const at = m.internalDate ? new Date(m.internalDate).getTime() : null;
          heads.push({ raw: m.headers, at, place: `${position.uidValidity}:${m.uid}`, uid: m.uid });
        }
      });
      return { ...position, heads };
    });
  }

  /** Whole messages of the Sent folder, by their UIDs; those that are gone are passed over. */
  async eachSent(uids: readonly number[], take: (mails: readonly FetchedMail[]) => Promise<void>): Promise<void> {
    const sent = await this.guarded((imap) => this.sentFolder(imap));
    if (sent !== null) await this.each(uids, take, sent);
  }

  /** Puts a copy of a sent message into the Sent folder, which is made where there is none. */
  async fileInSent(raw: Buffer): Promise<void> {
    const sent = await this.guarded((imap) => this.sentFolder(imap));
    await this.file(sent ?? 'Sent', raw);
    this.sentPath ??= 'Sent';
  }

  /** Puts a message into a folder, which is made where there is none. */
  file(folder: string, raw: Buffer): Promise<void> {
    return this.guarded(async (imap) => {
      const put = () => imap.append(folder, raw, ['\\Seen']);
      try {
        if (await put()) return;
      } catch (error) {
        if (!isNoSuchFolder(error)) throw error;
      }
      await imap.mailboxCreate(folder);
      await put();
    });
  }

  private async sentFolder(imap: ImapFlow): Promise<string | null> {
    if (this.sentPath !== null) return this.sentPath;
    const folders = await imap.list();
    const sent = folders.find((f) => f.specialUse === '\\Sent') ?? folders.find((f) => /^sent/i.test(f.name));
    this.sentPath = sent?.path ?? null;
    return this.sentPath;
  }

  async close(): Promise<void> {
    this.idle.stir();
    const { client } = this;
    this.client = null;
    await client?.logout().catch(() => undefined);
  }

  private async open(): Promise<ImapFlow> {
    if (this.client?.usable) return this.client;
    const { credential } = this.access;
    if ('password' in credential) return this.connect({ pass: credential.password });
    const accessToken = await credential.token();
    try {
      return await this.connect({ accessToken });
    } catch (error) {
      if (!isRefusal(error)) throw error;
      const other = await credential.token(accessToken);
      if (other === accessToken) throw error;
      return this.connect({ accessToken: other });
    }
  }

  private async connect(shown: { pass: string } | { accessToken: string }): Promise<ImapFlow> {
    const { imap, username } = this.access;
    const fresh = new ImapFlow({
      host: imap.host,
      port: imap.port,
      secure: imap.security === 'tls',
      // Left to itself it would sign in in clear where STARTTLS is missing.
      doSTARTTLS: imap.security === 'starttls' ? true : imap.security === 'none' ? false : undefined,
      auth: { user: username, ...shown },
      ...tlsOf(imap),
      logger: false,
      disableAutoIdle: true,
      socketTimeout: SOCKET_TIMEOUT_MS * 10,
      greetingTimeout: SOCKET_TIMEOUT_MS,
    });
    fresh.on('error', () => undefined);
    fresh.on('exists', ({ count, prevCount }) => {
      if (this.isListening && count > prevCount) this.told?.();
    });
    try {
      await fresh.connect();
    } catch (error) {
      fresh.close();
      throw error;
    }
    this.client = fresh;
    return fresh;
  }

  private async guarded<T>(work: (imap: ImapFlow) => Promise<T>): Promise<T> {
    this.idle.stir();
    this.working++;
    try {
      const imap = await this.open();
      if (this.isListening) {
        this.isListening = false;
        // Commands are answered in their order: what is asked next finds no folder selected.
        await imap.mailboxClose();
      }
      const done = await work(imap);
      this.idle.rest();
      return done;
    } catch (error) {
      this.client?.close();
      this.client = null;
      this.isListening = false;
      // The folder may have got another name.
      this.sentPath = null;
      throw asSentence(error, this.access.imap.host);
    } finally {
      this.working--;
      if (this.working === 0 && this.told !== null) void this.listen().catch(() => undefined);
    }
  }

  /** Selects the inbox and waits for what the server tells; what breaks here is found by whoever asks next. */
  private async listen(): Promise<void> {
    const { client } = this;
    if (!client?.usable || !client.capabilities.has('IDLE')) return;
    this.isListening = true;
    await client.mailboxOpen('INBOX', { readOnly: true });
    if (this.isListening && client === this.client) await client.idle();
  }
}

/**
 * Does something in a folder and leaves it: what STATUS says of the folder that is selected is old with many servers
 * (RFC 3501 6.3.10), so none stays selected.
 */
async function inFolder<T>(imap: ImapFlow, folder: string, work: () => Promise<T>): Promise<T> {
  const lock = await imap.getMailboxLock(folder, { readOnly: true });
  try {
    return await work();
  } finally {
    lock.release();
    await imap.mailboxClose();
  }
}

async function positionOf(imap: ImapFlow, folder: string): Promise<InboxPosition> {
  const status = await imap.status(folder, { uidNext: true, uidValidity: true });
  if (status === false) throw new Error(`the server said nothing about ${folder}`);
  return { uidValidity: String(status.uidValidity ?? ''), uidNext: Number(status.uidNext ?? 1) };
}

const isSame = (a: InboxPosition, b: InboxPosition): boolean =>
  a.uidValidity === b.uidValidity && a.uidNext === b.uidNext;
