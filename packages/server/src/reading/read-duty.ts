import { chanceOf, DAY_MS, DomainError, MINUTE_MS } from '@baton/core';
import pLimit from 'p-limit';
import type { Duty, Pace } from '../duties/duty';
import { KeyedTasks } from '../duties/keyed-tasks';
import type { Connections } from '../mailboxes/connections';
import type { FetchedMail, ImapReader } from '../mailboxes/imap';
import { wantPlan } from '../planning/want-plan';
import type { Secrets } from '../security/secrets';
import { announce } from '../store/changes';
import type { ToRead } from '../store/duties/agenda-rows';
import { LOCKS, READING_AT_ONCE, withLock, type Database, type Store } from '../store/database';
import { addMailboxEvent } from '../store/mailboxes/mailbox-event-rows';
import {
  connectionKey,
  listMailboxes,
  markRead,
  readMailbox,
  sameConnection,
  updateMailbox,
  type MailboxRow,
} from '../store/mailboxes/mailbox-rows';
import { knownMessageIds } from '../store/reading/reply-rows';
import { readSentFolder } from './sent-folder';
import { takeMails } from './take-mail';

export interface ReadingParts {
  pace: Pace;
  store: Store;
  secrets: Secrets;
  connections: Connections;
  /**
   * How often each mailbox is read: in real time each at moments of its own, so that what is due to be sent never waits
   * for all of them; simulated all at the same. A follow-up has its mailbox read just before it anyway.
   */
  everyMs: number;
  /** A mailbox that could not be read: worth a line in the log, and another try next time. */
  readFailed(mailboxId: number, error: unknown): void;
}

/** After a failed read the mailbox is left alone this long. */
const RETRY_MS = 5 * MINUTE_MS;

/** A mailbox whose server tells of new mail is read at once, but never more often than this. */
const TOLD_MS = 5_000;

/** Reads every mailbox at intervals, in real time also when its server tells of new mail. */
export function readDuty(parts: ReadingParts): Duty {
  const isReal = Number.isFinite(parts.pace.waitMs);
  const ownMoment = (id: number) => (isReal ? Math.floor(chanceOf(`reading ${id}`) * parts.everyMs) : 0);
  const nextRound = (lastMs: number, own: number) =>
    (Math.floor((lastMs - own) / parts.everyMs) + 1) * parts.everyMs + own;
  const retryAt = new Map<number, number>();
  const tasks = new KeyedTasks(READING_AT_ONCE);
  // Mailboxes whose servers have told of new mail.
  const told = new Set<number>();
  const roundAt = (m: ToRead, lastMs: number) =>
    Math.min(nextRound(lastMs, ownMoment(m.id)), told.has(m.id) ? lastMs + TOLD_MS : Infinity);
  const dueAt = (m: ToRead, nowMs: number) =>
    Math.max(m.lastReadAt === null ? nowMs : roundAt(m, m.lastReadAt), retryAt.get(m.id) ?? 0);
  const listenTo = async (id: number) => {
    told.delete(id);
    const mailbox = await readMailbox(parts.store.db, id);
    if (mailbox) parts.connections.reader(mailbox).tellOfNew(() => told.add(id));
  };
  return {
    name: 'read mailboxes',
    eventful: false,
    nextDue(nowMs, { toRead }) {
      const due = toRead.filter((m) => !tasks.isBusy(m.id)).map((m) => dueAt(m, nowMs));
      return due.length === 0 ? null : Math.min(...due);
    },
    async run(nowMs, { toRead }) {
      const due = toRead.filter((m) => dueAt(m, nowMs) <= nowMs && !tasks.isBusy(m.id));
      const read = async (id: number) => {
        const taken = await readMailboxNow(parts, id, nowMs, 'all');
        if (taken === null) retryAt.set(id, nowMs + RETRY_MS);
        else retryAt.delete(id);
        return taken ?? 0;
      };
      if (isReal) {
        // Each by itself: a server that does not answer keeps no other mailbox from being read.
        const one = async (id: number) => {
          await listenTo(id);
          return (await markQuiet(parts, new Set([id]), nowMs)).has(id) ? 0 : read(id);
        };
        const orLater = (id: number) => (error: unknown) => {
          parts.readFailed(id, error);
          retryAt.set(id, nowMs + RETRY_MS);
          return 0;
        };
        for (const { id } of due) tasks.begin(id, () => one(id).catch(orLater(id)));
        return tasks.turn(parts.pace.waitMs);
      }
      const quiet = await markQuiet(parts, new Set(due.map((m) => m.id)), nowMs);
      for (const { id } of due) if (!quiet.has(id)) tasks.begin(id, () => read(id));
      return tasks.turn(Infinity);
    },
    settle: async () => void (await tasks.turn(Infinity)),
  };
}

/**
 * Finds mailboxes in which nothing has come since they were last read, which is nearly all of them nearly always, and
 * notes that they have been read: two questions to the server each, and one statement for all.
 *
 * @param ids each the first mailbox of its connection
 * @returns those of them in which nothing has come
 */
async function markQuiet(parts: ReadingParts, ids: ReadonlySet<number>, nowMs: number): Promise<Set<number>> {
  const all = await listMailboxes(parts.store.db);
  const limited = pLimit(READING_AT_ONCE);
  const asked = all.filter((m) => ids.has(m.id) && m.uidNext !== null && m.sentUidNext !== null);
  const isQuiet = await Promise.all(
    // What goes wrong here is found and told of by reading itself.
    asked.map((m) =>
      limited(() =>
        parts.connections
          .reader(m)
          .isUnchanged(inboxOf(m), sentOf(m), m.folders)
          .catch(() => false),
      ),
    ),
  );
  const quiet = asked.filter((_, i) => isQuiet[i]);
  const keys = new Set(quiet.map(connectionKey));
  const read = all.filter((m) => keys.has(connectionKey(m))).map((m) => m.id);
  if (read.length > 0) await markRead(parts.store.db, read, nowMs);
  return new Set(quiet.map((m) => m.id));
}

const inboxOf = (m: MailboxRow) => ({ uidValidity: m.uidValidity ?? '', uidNext: m.uidNext ?? 0 });
const sentOf = (m: MailboxRow) => ({ uidValidity: m.sentUidValidity ?? '', uidNext: m.sentUidNext ?? 0 });

/**
 * Reads one mailbox now, or the one whose inbox it shares, unless another process is at it.
 *
 * @param what with `all` also what its owner has sent by hand
 * @returns how many messages were taken; null when it could not be read, which is noted, not thrown
 */
export async function readMailboxNow(
  parts: ReadingParts,
  mailboxId: number,
  nowMs: number,
  what: 'inbox' | 'all' = 'inbox',
): Promise<number | null> {
  const asked = await readMailbox(parts.store.db, mailboxId);
  if (!asked) return null;
  const sharing = (await sameConnection(parts.store.db, asked)).map((m) => m.id);
  const homeId = sharing[0] ?? mailboxId;
  const read = await withLock(parts.store, LOCKS.mailboxReading, homeId, async () => {
    const mailbox = await readMailbox(parts.store.db, homeId);
    if (!mailbox) return null;
    try {
      const taken = (await readNew(parts, mailbox, nowMs)) + (await readOtherFolders(parts, mailbox, nowMs));
      if (what === 'all') await readSent(parts, mailbox, nowMs);
      await markRead(parts.store.db, sharing, nowMs);
      return taken;
    } catch (error) {
      parts.readFailed(mailboxId, error);
      if (error instanceof DomainError && error.code === 'refused') {
        for (const id of sharing) {
          await updateMailbox(parts.store.db, id, { problem: error.message });
          await addMailboxEvent(parts.store.db, id, nowMs, `cannot sign in: ${error.message}`);
        }
        await wantPlan(parts.store.db, nowMs);
        await announce(parts.store.db, 'mailboxes', 'today');
      }
      return null;
    }
  });
  return read;
}

/** A Sent folder that cannot be read keeps nobody from reading the inbox. */
async function readSent(parts: ReadingParts, mailbox: MailboxRow, nowMs: number): Promise<void> {
  const { db } = parts.store;
  const sharing = (await listMailboxes(db)).filter((m) => connectionKey(m) === connectionKey(mailbox));
  try {
    await readSentFolder(
      { db, secrets: parts.secrets },
      parts.connections.reader(mailbox),
      { mailbox, sharing },
      nowMs,
    );
  } catch (error) {
    if (!(error instanceof DomainError) || error.code === 'refused') throw error;
    parts.readFailed(mailbox.id, error);
  }
}

async function readNew(parts: ReadingParts, mailbox: MailboxRow, nowMs: number): Promise<number> {
  const { db } = parts.store;
  const reader = parts.connections.reader(mailbox);
  const { uidValidity, uidNext } = await reader.position();
  let taken = 0;
  const take = async (mails: readonly FetchedMail[]) => {
    await takeMails(
      parts,
      mailbox,
      mails.map((mail) => ({ uidValidity, ...mail })),
      nowMs,
    );
    taken += mails.length;
  };
  // A mailbox is read from the UIDNEXT it had when it was connected.
  const from = mailbox.uidNext ?? uidNext;
  if (mailbox.uidValidity !== null && mailbox.uidValidity !== uidValidity) {
    // The place is kept at the end only: broken off, it begins again, and knows what it has taken.
    await reader.each(await unknownSince(db, reader, mailbox), take);
  } else if (from < uidNext) {
    await reader.eachFrom(from, async (mails) => {
      await take(mails);
      await updateMailbox(db, mailbox.id, { uidNext: (mails.at(-1) as FetchedMail).uid + 1, uidValidity });
    });
  }
  await updateMailbox(db, mailbox.id, { uidValidity, uidNext: Math.max(uidNext, 1) });
  return taken;
}

/**
 * Reads what has come into other folders since they were last looked at: the spam folder, and those to which rules move
 * mail. Only what belongs to a message of ours is taken; the rest is other people's mail. Of a folder that is new, or
 * numbered anew, what came since the mailbox was last read.
 */
async function readOtherFolders(parts: ReadingParts, mailbox: MailboxRow, nowMs: number): Promise<number> {
  const { db } = parts.store;
  const reader = parts.connections.reader(mailbox);
  const places = await reader.otherFolders();
  let taken = 0;
  for (const { path, uidValidity, uidNext } of places) {
    const before = mailbox.folders.find((f) => f.path === path);
    const isWhereItStood = before?.uidValidity === uidValidity;
    // A mailbox is read from where it stood when it was connected.
    if (mailbox.lastReadAt === null || (isWhereItStood && before.uidNext >= uidNext)) continue;
    const marks = isWhereItStood
      ? await reader.marksFrom(before.uidNext, path)
      : await reader.headsSince(mailbox.lastReadAt - CLOCKS_DIFFER_MS, path);
    const known = await knownMessageIds(
      db,
      mailbox.id,
      marks.map((m) => m.messageId),
    );
    const uids = marks.filter((m) => !known.has(m.messageId)).map((m) => m.uid);
    const place = { uidValidity: `${uidValidity} ${path}`, isOnlyOurs: true };
    const take = async (mails: readonly FetchedMail[]) => {
      await takeMails(
        parts,
        mailbox,
        mails.map((mail) => ({ ...place, ...mail })),
        nowMs,
      );
      taken += mails.length;
    };
    await reader.each(uids, take, path);
  }
  await updateMailbox(db, mailbox.id, { folders: places });
  return taken;
}

/** Clocks of servers are wrong by so much at most. */
const CLOCKS_DIFFER_MS = 10 * MINUTE_MS;

/**
 * What to read of an inbox whose messages have been numbered anew (RFC 3501 2.3.1.1): those that came since it was last
 * read, and of these only what is not known by its Message-ID. What is older has been read, or was there before.
 */
async function unknownSince(db: Database, reader: ImapReader, mailbox: MailboxRow): Promise<number[]> {
  const since = (mailbox.lastReadAt ?? mailbox.createdAt) - DAY_MS;
  const heads = await reader.headsSince(since);
  const known = await knownMessageIds(
    db,
    mailbox.id,
    heads.map((h) => h.messageId),
  );
  const isNew = (h: (typeof heads)[number]) =>
    h.messageId === ''
      ? h.at >= (mailbox.lastReadAt ?? mailbox.createdAt) - CLOCKS_DIFFER_MS
      : !known.has(h.messageId) && h.at >= mailbox.createdAt - CLOCKS_DIFFER_MS;
  return heads.filter(isNew).map((h) => h.uid);
}
