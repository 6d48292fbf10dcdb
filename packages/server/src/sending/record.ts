import { isBadAddress, judgeAnswer, MAX_TRIES, retryPauseMs, type SendOutcome, type SendVerdict } from '@baton/core';
import { announce } from '../store/changes';
import type { Database, Queryable } from '../store/database';
import { readEnrolment, updateEnrolment } from '../store/campaign-rows';
import { addEvent, removePlanned, updateAttempt, updateDelivery } from '../store/delivery-rows';
import { addMailboxEvent } from '../store/mailbox-event-rows';
import { countUse, sameConnection, updateMailbox } from '../store/mailbox-rows';
import { addSuppression } from '../store/people-rows';
import { markSent } from '../store/sending-rows';
import { readWorkspace } from '../store/workspace-rows';
import { finishIfDone, stopContact } from '../campaigns/stop-recipient';
import { beginRest, restIfTroubled } from '../mailboxes/rest';
import { wantPlan } from '../planning/want-plan';
import type { Claimed } from './claim';

/** The last phase: writes down how the try ended and what follows from it. */
export async function recordOutcome(
  db: Database,
  claimed: Claimed,
  outcome: SendOutcome,
  nowMs: number,
): Promise<SendVerdict> {
  const verdict = judgeAnswer(outcome);
  const { delivery, attemptId, day } = claimed;
  const { answer } = outcome;
  const sent = { deliveryId: delivery.id, attemptId, answer, day, atMs: nowMs };
  if (verdict === 'accepted' && delivery.step + 1 < delivery.steps) {
    await markSent(db, sent);
    return verdict;
  }
  // Left in `sending`: sent or not, the Sent folder tells a little later.
  if (verdict === 'unknown' && claimed.mailbox.keepsSent) return verdict;
  await db.transaction(async (tx) => {
    if (verdict === 'accepted') return recordSent(tx, { ...sent, campaignId: delivery.campaignId });
    await updateAttempt(tx, attemptId, { verdict, answer });
    if (verdict === 'unknown') await updateDelivery(tx, delivery.id, { state: 'unconfirmed', reason: answer });
    else await recordRefusal(tx, claimed, verdict, outcome, nowMs);
    await announce(tx, 'today', 'progress', 'mailboxes');
  });
  return verdict;
}

/** Marks a delivery as sent; with a campaign's last one the campaign is finished. */
export async function recordSent(
  tx: Queryable,
  sent: Parameters<typeof markSent>[1] & { campaignId: number },
): Promise<void> {
  if (await markSent(tx, sent)) await finishIfDone(tx, sent.campaignId, sent.atMs);
}

async function recordRefusal(
  tx: Queryable,
  claimed: Claimed,
  verdict: SendVerdict,
  outcome: SendOutcome,
  nowMs: number,
): Promise<void> {
  const { delivery, mailbox } = claimed;
  // What never reached the body costs no quota.
  await countUse(tx, { mailboxId: mailbox.id, day: claimed.day, units: -delivery.units, messages: -1 });
  if (verdict === 'permanent') {
    await updateDelivery(tx, delivery.id, { state: 'failed', reason: outcome.answer, instant: nowMs });
    await bounceContact(tx, claimed, outcome, nowMs);
    await restIfTroubled(tx, mailbox.id, nowMs);
  } else if (verdict === 'too_much' && (await readWorkspace(tx)).restBounds.tooMuch) {
    // The day's limit is met: on the next the provider takes more.
    for (const { id } of await sameConnection(tx, mailbox))
      await beginRest(tx, id, { why: `the provider said: ${outcome.answer}`, days: 1, nowMs });
    await updateDelivery(tx, delivery.id, { state: 'planned', instant: null, reason: outcome.answer });
  } else if (verdict === 'mailbox_refused') {
    await updateMailbox(tx, mailbox.id, { problem: outcome.answer });
    await addMailboxEvent(tx, mailbox.id, nowMs, `shut out: ${outcome.answer}`);
    await updateDelivery(tx, delivery.id, { state: 'planned', instant: null, reason: outcome.answer });
    await wantPlan(tx, nowMs);
  } else if (delivery.tries + 1 >= MAX_TRIES) {
    await updateDelivery(tx, delivery.id, {
      state: 'failed',
      reason: `given up after ${MAX_TRIES} tries: ${outcome.answer}`,
      instant: nowMs,
    });
    await removePlanned(tx, delivery.enrolmentId);
    await updateEnrolment(tx, delivery.enrolmentId, {
      state: 'stopped',
      reason: `given up after ${MAX_TRIES} tries`,
      changedAt: nowMs,
    });
    await finishIfDone(tx, delivery.campaignId, nowMs);
  } else {
    await updateDelivery(tx, delivery.id, {
      state: 'deferred',
      instant: nowMs + retryPauseMs(delivery.tries + 1),
      reason: outcome.answer,
    });
  }
}

/** A permanent refusal of the recipient is a hard bounce; one of the message or sender ends this recipient only. */
async function bounceContact(tx: Queryable, claimed: Claimed, outcome: SendOutcome, nowMs: number): Promise<void> {
  const enrolment = await readEnrolment(tx, claimed.delivery.enrolmentId);
  if (!enrolment) return;
  const aboutAddress = isBadAddress(outcome);
  if (aboutAddress)
    await addSuppression(tx, {
      kind: 'address',
      key: enrolment.key,
      reason: `bounced: ${outcome.answer}`,
      source: claimed.delivery.campaign.name,
      createdAt: nowMs,
    });
  await addEvent(tx, {
    at: nowMs,
    kind: aboutAddress ? 'bounce' : 'soft_bounce',
    contactId: enrolment.contactId,
    enrolmentId: enrolment.id,
    deliveryId: claimed.delivery.id,
    detail: outcome.answer,
  });
  if (aboutAddress) {
    await stopContact(tx, {
      contactId: enrolment.contactId,
      cause: enrolment.id,
      where: 'everywhere',
      state: 'bounced',
      reason: outcome.answer,
      nowMs,
    });
    await announce(tx, 'people');
  } else {
    await updateEnrolment(tx, enrolment.id, { state: 'bounced', reason: outcome.answer, changedAt: nowMs });
    await removePlanned(tx, enrolment.id);
    await finishIfDone(tx, enrolment.campaignId, nowMs);
  }
}
