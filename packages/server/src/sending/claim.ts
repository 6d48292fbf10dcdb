import { randomUUID } from 'node:crypto';
import { renderProof, type Proof } from '@baton/core';
import { announce } from '../store/changes';
import type { Database, Queryable } from '../store/database';
import {
  readCampaign,
  readEnrolment,
  readSteps,
  updateEnrolment,
  type CampaignRow,
  type EnrolledPerson,
} from '../store/campaign-rows';
import {
  addAttempt,
  lockDueDelivery,
  removePlanned,
  threadOf,
  updateDelivery,
  type DeliveryRow,
} from '../store/delivery-rows';
import { countUse, lockMailbox, type MailboxRow } from '../store/mailbox-rows';
import { findSuppression } from '../store/people-rows';
import { readWorkspace } from '../store/workspace-rows';
import { finishIfDone, stopContact } from '../campaigns/stop-recipient';
import { localDay } from '../mailboxes/capacity';
import { senderValues } from '../messages/message-service';
import { wantPlan } from '../planning/plan-workspace';
import type { Secrets } from '../security/secrets';
import { replySubject, type CompiledMessages } from './compose';
import { unsubscribeUrl } from './unsubscribe-link';
import { whyNotNow, type Due } from './why-not-now';

/** A delivery marked `sending`, with all that leaves. */
export interface Claimed {
  mailbox: MailboxRow;
  delivery: DeliveryRow;
  attemptId: number;
  messageId: string;
  references: string[];
  to: string;
  proof: Proof;
  unsubscribeUrl: string;
  campaign: CampaignRow;
  contactId: number;
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
    const delivery = await lockDueDelivery(tx, mailboxId, nowMs);
    if (!delivery) return 'nothing';
    const campaign = (await readCampaign(tx, delivery.campaignId)) as CampaignRow;
    const due: Due = { mailbox, delivery, campaign, nowMs, day: localDay(mailbox, nowMs) };
    const putOff = await whyNotNow(tx, due);
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
  const person = await readEnrolment(tx, due.delivery.enrolmentId);
  if (!person || !isNext(person, due.delivery)) {
    await removePlanned(tx, due.delivery.enrolmentId);
    return 'dealt_with';
  }
  const suppression = await findSuppression(tx, person.key, person.domain);
  if (suppression) {
    const reason = `on the suppression list: ${suppression.reason}`;
    await stopContact(tx, {
      contactId: person.contactId,
      cause: person.id,
      where: 'everywhere',
      state: 'stopped',
      reason,
      nowMs: due.nowMs,
    });
    return 'dealt_with';
  }
  const url = unsubscribeUrl(rules.publicUrl, rules.secrets, person.id);
  const proof = await fill(tx, due, person, url, rules);
  if (proof.blanks.length > 0) {
    await updateEnrolment(tx, person.id, {
      state: due.delivery.step === 0 ? 'left_out' : 'stopped',
      reason: `no value for ${proof.blanks.join(', ')} and no fallback`,
      changedAt: due.nowMs,
    });
    await removePlanned(tx, person.id);
    await finishIfDone(tx, due.campaign.id, due.nowMs);
    await announce(tx, 'progress');
    return 'dealt_with';
  }
  return mark(tx, due, person, proof, url);
}

const isNext = (person: EnrolledPerson, delivery: DeliveryRow): boolean =>
  (person.state === 'waiting' || person.state === 'in_progress') && person.sent === delivery.step;

async function fill(
  tx: Queryable,
  { mailbox, delivery, campaign }: Due,
  person: EnrolledPerson,
  unsubscribeLink: string,
  { compiled }: ClaimRules,
): Promise<Proof> {
  const step = (await readSteps(tx, [campaign.id]))[delivery.step];
  const sender = senderValues(mailbox, unsubscribeLink, (await readWorkspace(tx)).postalAddress);
  return renderProof(compiled.get({ subject: step?.subject ?? '', body: step?.body ?? '' }), person.fields, sender);
}

/** Writes the attempt, counts the units, and marks the delivery: from here on it may have left. */
async function mark(
  tx: Queryable,
  { mailbox, delivery, campaign, nowMs, day }: Due,
  person: EnrolledPerson,
  proof: Proof,
  url: string,
): Promise<Claimed> {
  const thread = await threadOf(tx, person.id);
  const first = thread[0];
  if (first) proof.subject = replySubject(first.subject);
  const messageId = `${randomUUID()}@${mailbox.address.split('@')[1]}`;
  const attemptId = await addAttempt(tx, {
    deliveryId: delivery.id,
    mailboxId: mailbox.id,
    messageId,
    subject: proof.subject,
    units: delivery.units,
    startedAt: nowMs,
  });
  await countUse(tx, { mailboxId: mailbox.id, day, units: delivery.units, messages: 1 });
  await updateDelivery(tx, delivery.id, { state: 'sending', day, tries: delivery.tries + 1 });
  return {
    mailbox,
    delivery,
    attemptId,
    messageId,
    references: thread.map((t) => t.messageId),
    to: person.address,
    proof,
    unsubscribeUrl: url,
    campaign,
    contactId: person.contactId,
    day,
  };
}
