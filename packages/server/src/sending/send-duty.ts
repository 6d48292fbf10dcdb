import { setTimeout as pause } from 'node:timers/promises';
import { chanceOf, envelopeAddress, DomainError } from '@baton/core';
import pLimit from 'p-limit';
import type { Duty, Pace } from '../duties/duty';
import { KeyedTasks } from '../duties/keyed-tasks';
import type { Connections } from '../mailboxes/connections';
import { READING_FIRST_AT_ONCE, SENDING_AT_ONCE, type Database, type Store } from '../store/database';
import { isDatabaseAway, isDiskFull } from '../store/database-errors';
import { announce } from '../store/changes';
import type { Agenda, ToSend } from '../store/duties/agenda-rows';
import { wantPlan } from '../planning/want-plan';
import { addMailboxEvent } from '../store/mailboxes/mailbox-event-rows';
import { readMailbox, updateMailbox, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { withSendingLock, type SendingConnection } from '../store/sending/sending-connection';
import { backOffMs } from '../time/back-off';
import { systemClock } from '../time/system-clock';
import { finishCampaigns } from '../campaigns/apply-event';
import { claimNext, type Claimed, type ClaimRules } from './claim';
import { claimLetter, handOverLetter, hasJustLeft, recordLetter, recoverLetters } from './letters';
import { recordOutcome } from './record';
import { recoverMailbox } from './recover';
import type { SentMark } from './sent-mark';

export interface SendingParts extends ClaimRules {
  pace: Pace;
  store: Store;
  connections: Connections;
  /** Reads a mailbox now: its inbox because a follow-up is about to leave from it, or all of it. */
  readNow(mailboxId: number, nowMs: number, what?: 'inbox' | 'all'): Promise<void>;
  /** Where it is kept how far this machine has sent. */
  mark: SentMark;
  /** Something unexpected kept a mailbox from sending: worth a line in the log, and another try later. */
  sendFailed(mailboxId: number, error: unknown): void;
}

/** After something unexpected, or while it cannot be read before a follow-up, a mailbox is left alone: at first and at most so long. */
const RETRY_MS = 60_000;
const RETRY_MOST_MS = 15 * 60_000;

/** Messages sent from one mailbox in one go before other mailboxes and duties are looked at again. */
const MAX_IN_A_ROW = 50;

/** While a mailbox sends one message after another, open pages are told this often, in real time. */
const TELL_EVERY_MS = 500;

/** Sends what is due, from all mailboxes at once, one message at a time from each. */
export function sendDuty(given: SendingParts): Duty {
  const tasks = new KeyedTasks(SENDING_AT_ONCE);
  const readingFirst = pLimit(READING_FIRST_AT_ONCE);
  const parts: SendingParts = { ...given, readNow: (...what) => readingFirst(() => given.readNow(...what)) };
  // Mailboxes whose Sent folder this process has looked at.
  const seen = new Set<number>();
  const retryAt = new Map<number, number>();
  const failures = new Map<number, number>();
  const next = ({ toSend }: Agenda) =>
    toSend
      .filter((n) => !tasks.isBusy(n.mailboxId))
      .map((n) => ({ ...n, at: Math.max(n.at, retryAt.get(n.mailboxId) ?? 0) }));
  const leaveAlone = (mailboxId: number, nowMs: number) => {
    const n = (failures.get(mailboxId) ?? 0) + 1;
    failures.set(mailboxId, n);
    retryAt.set(mailboxId, nowMs + backOffMs(n, RETRY_MS, RETRY_MOST_MS, chanceOf(`sending ${mailboxId} ${n}`)));
  };
  const tryFrom = async ({ mailboxId, isBroken }: ToSend, nowMs: number) => {
    try {
      // The database may be from a backup, on another machine: what has left since is in the Sent folder.
      if (!seen.has(mailboxId)) await parts.readNow(mailboxId, nowMs, 'all');
      seen.add(mailboxId);
      const { done, isUnread } = await sendFrom(parts, mailboxId, nowMs, isBroken);
      if (isUnread) leaveAlone(mailboxId, nowMs);
      else {
        retryAt.delete(mailboxId);
        failures.delete(mailboxId);
      }
      return done;
    } catch (error) {
      leaveAlone(mailboxId, nowMs);
      parts.sendFailed(mailboxId, error);
      return 0;
    }
  };
  return {
    name: 'send what is due',
    eventful: true,
    nextDue(_, agenda) {
      const at = next(agenda).map((n) => n.at);
      return at.length === 0 ? null : Math.min(...at);
    },
    async run(nowMs, agenda) {
      const due = next(agenda).filter((n) => n.at <= nowMs);
      for (const n of due) tasks.begin(n.mailboxId, () => tryFrom(n, nowMs));
      return tasks.turn(parts.pace.waitMs);
    },
    settle: async () => void (await tasks.turn(Infinity)),
  };
}

/** What was done, and whether a follow-up waits because its mailbox could not be read. */
interface SentFrom {
  done: number;
  isUnread: boolean;
}

async function sendFrom(parts: SendingParts, mailboxId: number, fromMs: number, isBroken: boolean): Promise<SentFrom> {
  // Held for the whole of claim, hand-over and record: a process that gets it knows that no send is under way.
  const done = await withSendingLock(parts.store, mailboxId, async (on) => {
    const mailbox = await readMailbox(on.db, mailboxId);
    if (!mailbox) return { done: 0, isUnread: false };
    if (!(await canOpen(parts, mailbox, fromMs))) return { done: 1, isUnread: false };
    let isUnread = false;
    let count = isBroken ? await recoverMailbox(parts, mailboxId, fromMs) : 0;
    if (isBroken) count += await recoverLetters(parts, mailbox, fromMs);
    count += await sendLetters(parts, on, mailbox, fromMs);
    // Campaigns of which a recipient's last message left.
    const ending = new Set<number>();
    let toldAt: number | null = null;
    let isUntold = false;
    // Once the lock is lost with its connection, another process may be at it.
    for (let i = 0; i < MAX_IN_A_ROW && on.isHeld(); i++) {
      const nowMs = parts.pace.now(fromMs);
      let claimed = await claimNext(on, mailbox, nowMs, parts);
      if (claimed === 'read_first') {
        await parts.readNow(mailboxId, nowMs);
        claimed = await claimNext(on, mailbox, nowMs, parts);
      }
      isUnread = claimed === 'read_first';
      if (claimed === 'nothing' || claimed === 'read_first') break;
      count++;
      if (claimed === 'dealt_with') continue;
      parts.mark.note(claimed.delivery.workspace.key, claimed.attemptId);
      const realMs = systemClock.now();
      const tells = toldAt === null || realMs >= toldAt + TELL_EVERY_MS;
      await handOver(parts, on, claimed, { nowMs, tells });
      isUntold = !tells;
      if (tells) toldAt = realMs;
      if (claimed.delivery.step === claimed.delivery.steps.at(-1)?.position) ending.add(claimed.delivery.campaignId);
      // With a pace, nothing more can be due at this moment.
      if (claimed.mailbox.paceSeconds > 0) break;
    }
    if (isUntold) await announce(on.db, 'today', 'progress');
    await finishCampaigns(parts.store.db, ending, parts.pace.now(fromMs));
    return { done: count, isUnread };
  });
  return done ?? { done: 0, isUnread: false };
}

/** Whether what the mailbox signs in with can be read; one that cannot is shut out before anything is claimed. */
async function canOpen({ store, connections }: SendingParts, mailbox: MailboxRow, nowMs: number): Promise<boolean> {
  if (mailbox.problem !== null) return true;
  try {
    await connections.check(mailbox);
    return true;
  } catch (error) {
    if (!(error instanceof DomainError)) throw error;
    const problem = error.message;
    await store.db.transaction(async (tx) => {
      await updateMailbox(tx, mailbox.id, { problem });
      await addMailboxEvent(tx, mailbox.id, nowMs, `cannot sign in: ${problem}`);
      await wantPlan(tx, nowMs);
      await announce(tx, 'mailboxes', 'today');
    });
    return false;
  }
}

async function handOver(
  parts: SendingParts,
  on: SendingConnection,
  claimed: Claimed,
  when: { nowMs: number; tells: boolean },
): Promise<void> {
  const { mailbox, message, recipients } = claimed;
  const outcome = await parts.connections
    .sender(mailbox)
    .send({ from: envelopeAddress(mailbox.address), to: recipients.map(envelopeAddress) }, message);
  const verdict = await recordPatiently(parts, on, (db) => recordOutcome(db, claimed, outcome, when));
  if (verdict === 'accepted') await fileCopies(parts, mailbox, message);
}

/** Sends the letters by hand that are due from a mailbox. @returns how many were dealt with */
async function sendLetters(
  parts: SendingParts,
  on: SendingConnection,
  mailbox: MailboxRow,
  fromMs: number,
): Promise<number> {
  let count = 0;
  for (; count < MAX_IN_A_ROW && on.isHeld(); count++) {
    const nowMs = parts.pace.now(fromMs);
    const claimed = await claimLetter(on, mailbox.id, nowMs);
    if (claimed === null) break;
    if (claimed === 'dealt_with') continue;
    const outcome = await handOverLetter(parts.connections, claimed);
    const isSent = await recordPatiently(parts, on, (db) => recordLetter(db, claimed, outcome, nowMs));
    if (isSent && hasJustLeft(outcome)) await fileCopies(parts, claimed.mailbox, claimed.message);
  }
  return count;
}

/** How long the database may be away, or have no space, while it is known what became of a message: about half a minute. */
const RECORD_TRIES = 8;
const RECORD_AGAIN_MS = 250;
const RECORD_AGAIN_MOST_MS = 8000;

/**
 * Writes down what became of a message, also where the database goes away meanwhile or its disk is full. Should it stay so,
 * the message is left as one that was interrupted.
 */
async function recordPatiently<T>(
  { store }: SendingParts,
  on: SendingConnection,
  record: (db: Database) => Promise<T>,
): Promise<T> {
  for (let i = 1; ; i++) {
    try {
      return await record(on.isHeld() ? on.db : store.db);
    } catch (error) {
      if (!(isDatabaseAway(error) || isDiskFull(error)) || i >= RECORD_TRIES) throw error;
      await pause(backOffMs(i, RECORD_AGAIN_MS, RECORD_AGAIN_MOST_MS));
    }
  }
}

/**
 * Files a copy where one was asked for, and in the Sent folder where the provider keeps none. A copy that cannot be filed
 * holds nothing up: the mailbox's page says why, until one can.
 */
async function fileCopies(parts: SendingParts, mailbox: MailboxRow, message: Buffer): Promise<void> {
  if (mailbox.archiveFolder === '' && mailbox.keepsSent) return;
  const { db } = parts.store;
  let problem: string | null = null;
  try {
    const reader = parts.connections.reader(mailbox);
    if (!mailbox.keepsSent) await reader.fileInSent(message);
    if (mailbox.archiveFolder !== '') await reader.file(mailbox.archiveFolder, message);
  } catch (error) {
    if (!(error instanceof DomainError)) throw error;
    problem = error.message;
  }
  if (problem === mailbox.archiveProblem) return;
  await updateMailbox(db, mailbox.id, { archiveProblem: problem });
  await announce(db, 'mailboxes');
}
