import {
  chanceOf,
  isBadAddress,
  judgeAnswer,
  MAX_TRIES,
  retryPauseMs,
  type RecipientEventKind,
  type SendOutcome,
  type SendVerdict,
} from '@baton/core';
import { announce } from '../store/changes';
import type { Database, Queryable } from '../store/database';
import { closeAttempt, updateDelivery } from '../store/sending/delivery-rows';
import { addMailboxEvent } from '../store/mailboxes/mailbox-event-rows';
import { countUse, sameConnection, updateMailbox, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { markSent, unitsIn24h } from '../store/sending/sending-rows';
import { readWorkspace } from '../store/workspace-rows';
import { applyEvent, finishIfDone } from '../campaigns/apply-event';
import { beginRest } from '../mailboxes/rest';
import { wantPlan } from '../planning/want-plan';
import type { Claimed } from './claim';
import { failLater, NO_FAILURE } from './failure';

/**
 * The last phase: writes down how the try ended and what follows from it.
 *
 * @param tells whether open pages are told of a message that was taken; of anything else they are
 */
export async function recordOutcome(
  db: Database,
  claimed: Claimed,
  outcome: SendOutcome,
  { nowMs, tells }: { nowMs: number; tells: boolean },
): Promise<SendVerdict> {
  const verdict = judgeAnswer(outcome);
  const { delivery, attemptId, day } = claimed;
  const { answer } = outcome;
  const sent = { deliveryId: delivery.id, attemptId, answer, day, atMs: nowMs, tells };
  if (verdict === 'accepted' && claimed.mailbox.sendFailedSince !== null)
    await updateMailbox(db, claimed.mailbox.id, NO_FAILURE);
  if (verdict === 'accepted') {
    await markSent(db, sent);
    return verdict;
  }
  // Left in `sending`: sent or not, the Sent folder tells a little later.
  if (verdict === 'unknown' && claimed.mailbox.keepsSent) return verdict;
  await db.transaction(async (tx) => {
    // Where the answer to a commit was lost, this is done a second time: what was spared then is not spared again.
    if (!(await closeAttempt(tx, attemptId, { verdict, answer }))) return;
    if (verdict === 'unknown') await updateDelivery(tx, delivery.id, { state: 'unconfirmed', reason: answer });
    else await recordRefusal(tx, claimed, verdict, outcome, nowMs);
    await announce(tx, 'today', 'progress', 'mailboxes');
  });
  return verdict;
}

/** Marks a delivery as sent that was found to be, which the caller tells of; with a campaign's last one the campaign is finished. */
export async function recordSent(
  tx: Queryable,
  sent: Omit<Parameters<typeof markSent>[1], 'tells'> & { campaignId: number },
): Promise<void> {
  if (await markSent(tx, { ...sent, tells: false })) await finishIfDone(tx, sent.campaignId, sent.atMs);
}

async function recordRefusal(
  tx: Queryable,
  claimed: Claimed,
  verdict: SendVerdict,
  outcome: SendOutcome,
  nowMs: number,
): Promise<void> {
  const { delivery, mailbox } = claimed;
  if (outcome.copiesTaken) await updateDelivery(tx, delivery.id, { copiesSent: true });
  const end = async (kind: RecipientEventKind, reason: string) => {
    await updateDelivery(tx, delivery.id, { instant: nowMs });
    await applyEvent(tx, {
      ...{ kind, reason, detail: outcome.answer, nowMs },
      contactId: delivery.person.contactId,
      cause: delivery.enrolmentId,
      delivery: { id: delivery.id, mailboxId: mailbox.id },
    });
  };
  // What is about the mailbox costs the recipient no try.
  const putBack = (change: { instant?: null }) =>
    updateDelivery(tx, delivery.id, { state: 'planned', tries: delivery.tries, reason: outcome.answer, ...change });
  // What never reached the body costs no quota.
  const spared = outcome.copiesTaken ? { units: -1, messages: 0 } : { units: -delivery.units, messages: -1 };
  await countUse(tx, { mailboxId: mailbox.id, day: claimed.day, ...spared });
  if (verdict === 'permanent') {
    // About the address: a hard bounce. About the message or its sender: this recipient only.
    await end(isBadAddress(outcome, delivery.person.address) ? 'hard_bounce' : 'blocked', outcome.answer);
  } else if (await blameMailbox(tx, mailbox, { verdict, outcome, nowMs })) {
    // At its own time or as soon as the mailbox can: late ones are planned anew. Otherwise the plan has to find one.
    await putBack(verdict === 'mailbox_later' ? {} : { instant: null });
  } else if (delivery.tries + 1 >= MAX_TRIES) {
    await end('given_up', `given up after ${MAX_TRIES} tries: ${outcome.answer}`);
  } else {
    await updateDelivery(tx, delivery.id, {
      state: 'deferred',
      instant: nowMs + retryPauseMs(delivery.tries + 1, chanceOf(`delivery ${delivery.id} ${delivery.tries}`)),
      reason: outcome.answer,
    });
  }
}

/**
 * What follows for the mailbox from an answer that is about it, and not about the recipient or the message.
 *
 * @returns whether it is about the mailbox
 */
export async function blameMailbox(
  tx: Queryable,
  mailbox: MailboxRow,
  { verdict, outcome, nowMs }: { verdict: SendVerdict; outcome: SendOutcome; nowMs: number },
): Promise<boolean> {
  const rest = async (why: string) => {
    for (const { id } of await sameConnection(tx, mailbox)) await beginRest(tx, id, { why, days: 1, nowMs });
  };
  switch (verdict) {
    case 'too_much':
      await learnLimit(tx, mailbox, nowMs);
      if (!(await readWorkspace(tx)).restBounds.tooMuch) return false;
      // The day's limit is met: on the next the provider takes more.
      await rest(`the provider said: ${outcome.answer}`);
      return true;
    case 'mailbox_rests':
      await rest(`the provider refused it: ${outcome.answer}`);
      return true;
    case 'mailbox_later':
      await failLater(tx, mailbox, outcome, nowMs);
      return true;
    case 'mailbox_refused':
      await updateMailbox(tx, mailbox.id, { problem: outcome.answer });
      await addMailboxEvent(tx, mailbox.id, nowMs, `cannot sign in: ${outcome.answer}`);
      await wantPlan(tx, nowMs);
      return true;
    default:
      return false;
  }
}

/** Fewer than this say nothing about a limit: it was something else that was too much. */
const LEAST_LEARNT = 10;

/** Notes how much the provider took before it said that it was too much, for a person to make it the limit. */
async function learnLimit(tx: Queryable, mailbox: MailboxRow, nowMs: number): Promise<void> {
  const learntLimit24h = await unitsIn24h(tx, mailbox, nowMs);
  if (learntLimit24h < LEAST_LEARNT || learntLimit24h >= (mailbox.providerLimit24h ?? Infinity)) return;
  for (const { id } of await sameConnection(tx, mailbox)) await updateMailbox(tx, id, { learntLimit24h });
}
