import { randomUUID } from 'node:crypto';
import { renderProof, type Proof } from '@baton/core';
import { finishIfDone, stopContact } from '../campaigns/stop-recipient';
import { localDay } from '../mailboxes/capacity';
import { senderValues } from '../messages/message-service';
import { wantPlan } from '../planning/plan-workspace';
import type { Secrets } from '../security/secrets';
import { announce } from '../store/changes';
import { updateEnrolment } from '../store/campaign-rows';
import type { Database, Queryable } from '../store/database';
import { removePlanned, updateDelivery } from '../store/delivery-rows';
import { lockMailbox, type MailboxRow } from '../store/mailbox-rows';
import { lockDueDelivery, markSending, type DueDelivery } from '../store/sending-rows';
import { readWorkspace } from '../store/workspace-rows';
import { replySubject, type CompiledMessages } from './compose';
import { unsubscribeUrl } from './unsubscribe-link';
import { whyNotNow, type Due } from './why-not-now';

/** A delivery marked `sending`, with all that leaves. */
export interface Claimed {
  mailbox: MailboxRow;
  delivery: DueDelivery;
  attemptId: number;
  messageId: string;
  references: string[];
  to: string;
  proof: Proof;
  unsubscribeUrl: string;
  day: number;
}

/** Why nothing was claimed: nothing is due; a due delivery was put off, ended or left out; the mailbox must be read first. */
export type NoClaim = 'nothing' | 'dealt_with' | 'read_first';

export interface ClaimRules {
  secrets: Secrets;
  publicUrl: string;
  compiled: CompiledMessages;
}

/** A follow-up leaves only when the mailbox was read this recently: the answer may already be there. */
const FRESH_READ_MS = 5 * 60_000;

/**
 * The first of the two phases: in one transaction, locks the mailbox row, checks again everything that may
 * have changed since the plan was made, writes the attempt, counts the units and marks the delivery. The
 * rule of locks: mailbox, then delivery, then enrolment; a mailbox that is locked is somebody else's.
 */
export async function claimNext(
  db: Database,
  mailboxId: number,
  nowMs: number,
  rules: ClaimRules,
): Promise<Claimed | NoClaim> {
  return db.transaction(async (tx) => {
    const mailbox = await lockMailbox(tx, mailboxId);
    if (!mailbox || mailbox.held || mailbox.problem !== null || (await readWorkspace(tx)).heldAll) return 'nothing';
    if (mailbox.lastSentAt !== null && nowMs < mailbox.lastSentAt + mailbox.paceSeconds * 1000) return 'nothing';
    const day = localDay(mailbox, nowMs);
    const delivery = await lockDueDelivery(tx, { mailboxId, day, nowMs });
    if (!delivery) return 'nothing';
    const due: Due = { mailbox, delivery, nowMs, day };
    const putOff = whyNotNow(due);
    if (putOff !== null) {
      await updateDelivery(tx, delivery.id, { instant: null, state: 'planned', reason: putOff });
      await wantPlan(tx, nowMs);
      return 'dealt_with';
    }
    if (delivery.step > 0 && (mailbox.lastReadAt ?? 0) < nowMs - FRESH_READ_MS) return 'read_first';
    return claimFor(tx, due, rules);
  });
}

/** The recipient's reasons against it end the delivery; without any the message is filled in and claimed. */
async function claimFor(tx: Queryable, due: Due, rules: ClaimRules): Promise<Claimed | NoClaim> {
  const { delivery, nowMs } = due;
  const { person, enrolmentId } = delivery;
  const isNext = (person.state === 'waiting' || person.state === 'in_progress') && person.sent === delivery.step;
  if (!isNext) {
    await removePlanned(tx, enrolmentId);
    return 'dealt_with';
  }
  if (delivery.suppression !== null) {
    const reason = `on the suppression list: ${delivery.suppression}`;
    const { contactId } = person;
    await stopContact(tx, { contactId, cause: enrolmentId, where: 'everywhere', state: 'stopped', reason, nowMs });
    return 'dealt_with';
  }
  const url = unsubscribeUrl(rules.publicUrl, rules.secrets, enrolmentId);
  const sender = senderValues(due.mailbox, url, delivery.workspace.postalAddress);
  const proof = renderProof(rules.compiled.get(delivery.message), person.fields, sender);
  if (proof.blanks.length > 0) {
    await leaveOut(tx, delivery, proof.blanks, nowMs);
    return 'dealt_with';
  }
  return mark(tx, due, proof, url);
}

async function leaveOut(tx: Queryable, delivery: DueDelivery, blanks: string[], nowMs: number): Promise<void> {
  await updateEnrolment(tx, delivery.enrolmentId, {
    state: delivery.step === 0 ? 'left_out' : 'stopped',
    reason: `no value for ${blanks.join(', ')} and no fallback`,
    changedAt: nowMs,
  });
  await removePlanned(tx, delivery.enrolmentId);
  await finishIfDone(tx, delivery.campaignId, nowMs);
  await announce(tx, 'progress');
}

async function mark(
  tx: Queryable,
  { mailbox, delivery, nowMs, day }: Due,
  proof: Proof,
  url: string,
): Promise<Claimed> {
  const first = delivery.thread[0];
  if (first) proof.subject = replySubject(first.subject);
  const messageId = `${randomUUID()}@${mailbox.address.split('@')[1]}`;
  const attemptId = await markSending(tx, {
    deliveryId: delivery.id,
    mailboxId: mailbox.id,
    day,
    units: delivery.units,
    messageId,
    subject: proof.subject,
    nowMs,
  });
  return {
    mailbox,
    delivery,
    attemptId,
    messageId,
    references: delivery.thread.map((t) => t.messageId),
    to: delivery.person.address,
    proof,
    unsubscribeUrl: url,
    day,
  };
}
