import { randomUUID } from 'node:crypto';
import { createZones, DAY_MS, isInside, isoWeekday, renderProof, spansOfDay, type Proof } from '@baton/core';
import { announce } from '../store/changes';
import type { Database, Queryable } from '../store/database';
import { readCampaign, readEnrolment, readSteps, updateEnrolment, type CampaignRow } from '../store/campaign-rows';
import {
  addAttempt,
  lockDueDelivery,
  removePlanned,
  threadOf,
  updateDelivery,
  type DeliveryRow,
} from '../store/delivery-rows';
import { countUse, lockMailbox, usedOnDay, usesSince, type MailboxRow } from '../store/mailbox-rows';
import { findSuppression } from '../store/people-rows';
import { readWorkspace } from '../store/workspace-rows';
import { stopContact } from '../campaigns/stop-recipient';
import { localDay, quotaOn, restsOn, workingDays } from '../mailboxes/capacity';
import { wantPlan } from '../planning/plan-workspace';
import type { Secrets } from '../security/secrets';
import { replySubject, type CompiledMessages } from './compose';
import { unsubscribeUrl } from './unsubscribe-link';

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
    const day = localDay(mailbox, nowMs);
    const putOff = await whyNotNow(tx, { mailbox, delivery, campaign, nowMs, day });
    if (putOff !== null) {
      await updateDelivery(tx, delivery.id, { instant: null, state: 'planned', reason: putOff });
      await wantPlan(tx, nowMs);
      return 'dealt_with';
    }
    if (delivery.step > 0 && (mailbox.lastReadAt ?? 0) < nowMs - FRESH_READ_MS) return 'read_first';
    return fill(tx, { mailbox, delivery, campaign, nowMs, day }, rules);
  });
}

interface Due {
  mailbox: MailboxRow;
  delivery: DeliveryRow;
  campaign: CampaignRow;
  nowMs: number;
  day: number;
}

/** The mailbox's and the clock's reasons against sending now; null when there is none. */
async function whyNotNow(tx: Queryable, { mailbox, delivery, campaign, nowMs, day }: Due): Promise<string | null> {
  if (restsOn(mailbox, day)) return 'the mailbox rests';
  const zones = createZones();
  if (!isInside(spansOfDay(mailbox.windows, day, zones.get(mailbox.zone)), nowMs))
    return 'outside the mailbox’s window';
  const used = await usedOnDay(tx, mailbox.id, day);
  if (used.units + delivery.units > quotaOn(mailbox, day)) return 'the mailbox’s quota for the day is used up';
  if (mailbox.providerLimit24h !== null) {
    const last24h = (await usesSince(tx, mailbox.id, nowMs - DAY_MS)).reduce((sum, u) => sum + u.units, 0);
    if (last24h + delivery.units > mailbox.providerLimit24h) return 'the provider’s limit in 24 hours is used up';
  }
  const enrolment = await readEnrolment(tx, delivery.enrolmentId);
  const zone = campaign.windowZone === 'recipient' ? enrolment?.zone : null;
  const local = zones.get(zone ?? (await readWorkspace(tx)).zone).toLocal(nowMs);
  const { weekdays, from, to } = campaign.window;
  if (!weekdays.includes(isoWeekday(local.day)) || local.minute < from || local.minute >= to)
    return 'outside the hours in which the recipient is written to';
  if (enrolment?.notBefore != null && day < enrolment.notBefore) return 'the recipient is away';
  const step = (await readSteps(tx, [campaign.id]))[delivery.step];
  if (
    delivery.step > 0 &&
    enrolment?.lastSentDay != null &&
    workingDays.between(enrolment.lastSentDay, day) < (step?.delay ?? 0)
  )
    return 'too soon after the previous message';
  return null;
}

/** The recipient's reasons against it end the delivery; without any the message is filled in and claimed. */
async function fill(
  tx: Queryable,
  { mailbox, delivery, campaign, nowMs, day }: Due,
  rules: ClaimRules,
): Promise<Claimed | NoClaim> {
  const enrolment = await readEnrolment(tx, delivery.enrolmentId);
  if (
    !enrolment ||
    (enrolment.state !== 'waiting' && enrolment.state !== 'in_progress') ||
    enrolment.sent !== delivery.step
  ) {
    await removePlanned(tx, delivery.enrolmentId);
    return 'dealt_with';
  }
  const suppression = await findSuppression(tx, enrolment.key, enrolment.domain);
  if (suppression) {
    await stopContact(tx, {
      contactId: enrolment.contactId,
      state: 'stopped',
      reason: `on the suppression list: ${suppression.reason}`,
      nowMs,
    });
    return 'dealt_with';
  }
  const step = (await readSteps(tx, [campaign.id]))[delivery.step];
  const url = unsubscribeUrl(rules.publicUrl, rules.secrets, enrolment.id);
  const { postalAddress } = await readWorkspace(tx);
  const sender = {
    senderName: mailbox.senderName,
    senderAddress: mailbox.address,
    signature: mailbox.signature,
    unsubscribeLink: url,
    postalAddress,
  };
  const proof = renderProof(
    rules.compiled.get({ subject: step?.subject ?? '', body: step?.body ?? '' }),
    enrolment.fields,
    sender,
  );
  if (proof.blanks.length > 0) {
    await updateEnrolment(tx, enrolment.id, {
      state: delivery.step === 0 ? 'left_out' : 'stopped',
      reason: `no value for ${proof.blanks.join(', ')} and no fallback`,
      changedAt: nowMs,
    });
    await removePlanned(tx, enrolment.id);
    await announce(tx, 'campaigns');
    return 'dealt_with';
  }
  const thread = await threadOf(tx, enrolment.id);
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
    to: enrolment.address,
    proof,
    unsubscribeUrl: url,
    campaign,
    contactId: enrolment.contactId,
    day,
  };
}
