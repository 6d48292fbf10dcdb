import { setTimeout as pause } from 'node:timers/promises';
import { DomainError, SECOND_MS } from '@baton/core';
import { localDay, quotaOn } from '../mailboxes/capacity';
import { wantFreshPlan } from '../planning/want-plan';
import { readSentFolder } from '../reading/sent-folder';
import type { ReadingParts } from '../reading/read-duty';
import { announce } from '../store/changes';
import { LOCKS, withLock } from '../store/database';
import { addMailboxEvent } from '../store/mailboxes/mailbox-event-rows';
import { connectionKey, listMailboxes, updateMailbox, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { updateAttempt, updateDelivery } from '../store/sending/delivery-rows';
import { dueBefore, lastTry, passOverNumbers } from '../store/sending/restored-rows';
import { markSending } from '../store/sending/sending-rows';
import { readWorkspace } from '../store/workspace-rows';
import { messageIdOf } from './message-id';
import type { SentMark } from './sent-mark';

export type RestoredParts = Pick<ReadingParts, 'store' | 'secrets' | 'connections'> & { mark: SentMark };

/** How often a Sent folder is asked before a person is, and the pauses between. */
const TRIES = 4;
const RETRY_MS = 15 * SECOND_MS;

/**
 * Before anything is sent: where this machine has sent further than the database knows, the database was restored from a
 * backup. The Sent folders say what has left since, which is written down. A mailbox whose folder cannot tell is held, and
 * its messages that were due are unconfirmed: a person says what became of them.
 *
 * @returns whether it was so
 */
export async function settleRestored(parts: RestoredParts, nowMs: number): Promise<boolean> {
  const { store, mark } = parts;
  const { key } = await readWorkspace(store.db);
  const isOld = async () => mark.read(key) > (await lastTry(store.db));
  if (!(await isOld())) return false;
  for (;;) {
    const settled = await withLock(store, LOCKS.restoring, 1, async () => {
      // Another process may have done it meanwhile.
      if (await isOld()) await settle(parts, mark.read(key), nowMs);
      return true;
    });
    if (settled !== null) return true;
    await pause(SECOND_MS);
  }
}

async function settle(parts: RestoredParts, lastKnown: number, nowMs: number): Promise<void> {
  const { db } = parts.store;
  const mailboxes = await listMailboxes(db);
  const byConnection = new Map<string, MailboxRow[]>();
  for (const m of mailboxes) byConnection.set(connectionKey(m), [...(byConnection.get(connectionKey(m)) ?? []), m]);
  const untold: MailboxRow[] = [];
  await Promise.all(
    [...byConnection.values()].map(async (sharing) => {
      if (!(await asksSentFolder(parts, sharing, nowMs))) untold.push(...sharing);
    }),
  );
  for (const mailbox of untold) await askPerson(parts, mailbox, nowMs);
  await db.transaction(async (tx) => {
    await passOverNumbers(tx, lastKnown);
    await wantFreshPlan(tx, nowMs);
    await announce(tx, 'mailboxes', 'today', 'progress');
  });
}

/** @returns whether the folder of a connection has told what left */
async function asksSentFolder(parts: RestoredParts, sharing: MailboxRow[], nowMs: number): Promise<boolean> {
  const [mailbox] = sharing as [MailboxRow];
  // What was never looked at before says nothing about when it came in.
  if (mailbox.sentUidNext === null) return false;
  for (let i = 0; i < TRIES; i++) {
    try {
      const { store, secrets } = parts;
      const reader = parts.connections.reader(mailbox);
      const seen = await readSentFolder({ db: store.db, secrets }, reader, { mailbox, sharing }, nowMs);
      return seen !== null;
    } catch (error) {
      if (!(error instanceof DomainError)) throw error;
      if (error.code === 'refused') return false;
      await pause(RETRY_MS);
    }
  }
  return false;
}

const REASON = 'the database was restored from a backup, and the Sent folder does not tell whether this was sent since';

async function askPerson({ store, secrets }: RestoredParts, mailbox: MailboxRow, nowMs: number): Promise<void> {
  const { id } = mailbox;
  await store.db.transaction(async (tx) => {
    // First, since whoever claims a message locks the mailbox before it.
    await updateMailbox(tx, id, { held: true });
    const due = await dueBefore(tx, id, nowMs);
    for (const { id: deliveryId, enrolmentId, step, units, instant } of due) {
      const atMs = instant ?? nowMs;
      const messageId = messageIdOf(secrets, { enrolmentId, step }, 'restored.invalid');
      const day = localDay(mailbox, atMs);
      const attemptId = await markSending(tx, {
        quota: quotaOn(mailbox, day, day),
        ...{ deliveryId, mailboxId: id, day, units, messageId, subject: '', forClicked: null, nowMs: atMs },
      });
      await updateAttempt(tx, attemptId, { verdict: 'unknown', answer: REASON });
      await updateDelivery(tx, deliveryId, { state: 'unconfirmed', reason: REASON });
    }
    const words = `held, since the database was restored from a backup and its Sent folder does not tell what was sent since: ${due.length} due messages are unconfirmed`;
    await addMailboxEvent(tx, id, nowMs, words);
  });
}
