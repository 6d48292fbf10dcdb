import {
  chanceOf,
  envelopeAddress,
  judgeAnswer,
  MAX_TRIES,
  MINUTE_MS,
  retryPauseMs,
  type SendOutcome,
} from '@baton/core';
import { localDay } from '../mailboxes/capacity';
import type { Connections } from '../mailboxes/connections';
import { letterComposer } from './compose-letter';
import { announce } from '../store/changes';
import type { Database, Queryable, Store } from '../store/database';
import {
  addOtherSend,
  countUse,
  lockMailbox,
  removeOtherSend,
  updateMailbox,
  type MailboxRow,
} from '../store/mailboxes/mailbox-rows';
import { suppressedAmong } from '../store/people/person/people-rows';
import {
  lettersInSending,
  lockDueLetter,
  lockLetter,
  updateLetter,
  type LetterRow,
} from '../store/reading/letter-rows';
import { lockConnection, unitsIn24h } from '../store/sending/sending-rows';
import type { SendingConnection } from '../store/sending/sending-connection';
import { systemClock } from '../time/system-clock';
import { NO_FAILURE } from './failure';
import { blameMailbox } from './record';
import { SETTLE } from './recover';

/** A letter marked `sending`, as it goes over the wire. */
export interface ClaimedLetter {
  mailbox: MailboxRow;
  letter: LetterRow;
  message: Buffer;
  /** Whether it should have left a while ago: the database may be from a backup, and it has. */
  isLate: boolean;
}

/** How late, in real time. */
const LATE_MS = MINUTE_MS;

/** Where the provider's limit is met it is looked at again after so long; real time. */
const LIMIT_MS = 15 * MINUTE_MS;

/**
 * The first of two phases, as with messages of campaigns: in one transaction, looks at everything again that may have
 * changed since somebody pressed Send, counts the letter, and marks it. A letter by hand does not wait for hours, pace
 * or the day's quota, towards which it counts; it does for the provider's limit, and for whatever is held.
 *
 * @returns null where nothing leaves now
 */
export function claimLetter(
  on: SendingConnection,
  mailboxId: number,
  nowMs: number,
  realMs = systemClock.now(),
): Promise<ClaimedLetter | 'dealt_with' | null> {
  return on.db.transaction(async (tx) => {
    const mailbox = await lockMailbox(tx, mailboxId);
    if (!mailbox || mailbox.held || mailbox.heldAll || mailbox.problem !== null) return null;
    if (mailbox.sendRetryAt !== null && nowMs < mailbox.sendRetryAt) return null;
    const letter = await lockDueLetter(tx, mailboxId, realMs);
    if (!letter) return null;
    const [suppressed] = await suppressedAmong(tx, [letter.toKey]);
    if (suppressed !== undefined) {
      await updateLetter(tx, letter.id, { state: 'failed', reason: `${suppressed} is on the suppression list` });
      await announce(tx, 'replies', 'today');
      return 'dealt_with';
    }
    if (mailbox.providerLimit24h !== null) {
      await lockConnection(tx, mailbox);
      if ((await unitsIn24h(tx, mailbox, nowMs)) + 1 > mailbox.providerLimit24h) {
        const reason = `its provider takes ${mailbox.providerLimit24h} in 24 hours, and they are used up`;
        await updateLetter(tx, letter.id, { leavesAt: realMs + LIMIT_MS, reason });
        await announce(tx, 'replies');
        return 'dealt_with';
      }
    }
    const compose = await letterComposer(tx, mailbox, letter, nowMs);
    const message = await compose().catch(() => null);
    if (message === null) {
      await updateLetter(tx, letter.id, { state: 'failed', reason: 'it could not be put together' });
      await announce(tx, 'replies', 'today');
      return 'dealt_with';
    }
    await updateLetter(tx, letter.id, { state: 'sending', startedAt: realMs, lookedAt: null, tries: letter.tries + 1 });
    await addOtherSend(tx, useOf(letter, nowMs), localDay(mailbox, nowMs));
    return { mailbox, letter, message, isLate: (letter.leavesAt ?? 0) < realMs - LATE_MS };
  });
}

const useOf = ({ mailboxId, messageId }: LetterRow, at: number) => ({
  mailboxId,
  messageId,
  at,
  units: 1,
  byHand: true,
});

/** What did not leave costs no quota. */
export async function giveBack(tx: Queryable, mailbox: MailboxRow, letter: LetterRow): Promise<void> {
  const counted = await removeOtherSend(tx, letter);
  if (!counted) return;
  const day = localDay(mailbox, counted.at);
  await countUse(tx, { mailboxId: mailbox.id, day, units: -counted.units, messages: 0 });
}

/** Of one that is in the Sent folder already. */
const FOUND: SendOutcome = { code: 250, answer: 'found in the Sent folder', stage: 'body', bodyStarted: true };

/** Hands a letter over; one that is late only where the Sent folder does not have it. @returns what came of it */
export async function handOverLetter(
  connections: Connections,
  { mailbox, letter, message, isLate }: ClaimedLetter,
): Promise<SendOutcome> {
  // A folder that cannot be asked keeps nobody from answering.
  const looked = isLate
    ? await connections
        .reader(mailbox)
        .lookInSent(letter.messageId)
        .catch(() => 'unknown')
    : '';
  if (looked === 'found') return FOUND;
  return connections
    .sender(mailbox)
    .send({ from: envelopeAddress(mailbox.address), to: [envelopeAddress(letter.toKey)] }, message);
}

/** Whether a letter left just now, and not before. */
export const hasJustLeft = (outcome: SendOutcome): boolean => outcome !== FOUND;

/** The last phase. @returns whether it was taken */
export async function recordLetter(
  db: Database,
  { mailbox, letter }: ClaimedLetter,
  outcome: SendOutcome,
  nowMs: number,
  realMs = systemClock.now(),
): Promise<boolean> {
  const verdict = judgeAnswer(outcome);
  // Left in `sending`: sent or not, the Sent folder tells a little later.
  if (verdict === 'unknown' && mailbox.keepsSent) return false;
  await db.transaction(async (tx) => {
    // Where the answer to a commit was lost, this is done a second time.
    if ((await lockLetter(tx, letter.id))?.state !== 'sending') return;
    if (verdict === 'accepted') {
      await recordLetterSent(tx, letter, nowMs);
      if (mailbox.sendFailedSince !== null) await updateMailbox(tx, mailbox.id, NO_FAILURE);
    } else if (verdict === 'unknown')
      await updateLetter(tx, letter.id, { state: 'unconfirmed', reason: outcome.answer });
    else {
      await giveBack(tx, mailbox, letter);
      const isAboutMailbox = await blameMailbox(tx, mailbox, { verdict, outcome, nowMs });
      const ends = verdict === 'permanent' || letter.tries + 1 >= MAX_TRIES;
      await updateLetter(tx, letter.id, {
        reason: outcome.answer,
        ...(ends
          ? { state: 'failed' }
          : { state: 'waiting', leavesAt: realMs + (isAboutMailbox ? MINUTE_MS : pauseMs(letter)) }),
      });
    }
    await announce(tx, 'replies', 'today', 'mailboxes');
  });
  return verdict === 'accepted';
}

const pauseMs = ({ id, tries }: LetterRow): number => retryPauseMs(tries + 1, chanceOf(`letter ${id} ${tries}`));

async function recordLetterSent(tx: Queryable, { id, mailboxId }: LetterRow, sentAt: number): Promise<void> {
  await updateLetter(tx, id, { state: 'sent', sentAt, reason: '' });
  await updateMailbox(tx, mailboxId, { lastSentAt: sentAt });
}

/**
 * Clears up letters of a mailbox whose handing over broke off, by the Sent folder, as with messages of campaigns: there, it
 * has left; absent in two looks, it waits again; where that cannot be told, a person says.
 *
 * @returns how many were cleared up, or looked for the first time
 */
export async function recoverLetters(
  { store, connections }: { store: Store; connections: Connections },
  mailbox: MailboxRow,
  nowMs: number,
  realMs = systemClock.now(),
): Promise<number> {
  const left = (await lettersInSending(store.db, mailbox.id)).filter((l) => lookAt(l) <= realMs);
  for (const letter of left) {
    const seen = mailbox.keepsSent ? await connections.reader(mailbox).lookInSent(letter.messageId) : 'unknown';
    await store.db.transaction(async (tx) => {
      if (seen === 'found') await recordLetterSent(tx, letter, nowMs);
      else if (mailbox.keepsSent && letter.lookedAt === null) await updateLetter(tx, letter.id, { lookedAt: realMs });
      else if (seen === 'absent') {
        await giveBack(tx, mailbox, letter);
        const ends = letter.tries >= MAX_TRIES;
        const reason = 'interrupted before it was sent';
        await updateLetter(tx, letter.id, { reason, leavesAt: realMs, state: ends ? 'failed' : 'waiting' });
      } else await updateLetter(tx, letter.id, { state: 'unconfirmed', reason: UNKNOWN });
      await announce(tx, 'replies', 'today');
    });
  }
  return left.length;
}

const UNKNOWN = 'the connection was lost, or Baton was stopped, while it was being sent';

const lookAt = ({ startedAt, lookedAt }: LetterRow): number =>
  lookedAt === null ? (startedAt ?? 0) + SETTLE.firstMs : lookedAt + SETTLE.againMs;
