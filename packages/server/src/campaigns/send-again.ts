import { softBouncePause } from '@baton/core';
import { calendarOf, localDay } from '../mailboxes/capacity';
import { wantPlan } from '../planning/want-plan';
import { announce } from '../store/changes';
import {
  placesOfSteps,
  updateCampaign,
  readCampaign,
  readEnrolment,
  updateEnrolment,
} from '../store/campaigns/campaign-rows';
import { countSoftBounces } from '../store/campaigns/event-rows';
import type { Queryable } from '../store/database';
import { readMailbox } from '../store/mailboxes/mailbox-rows';
import type { SentBefore } from '../store/schema/schema';
import {
  lastSentDayBut,
  readDelivery,
  removePlanned,
  updateDelivery,
  type DeliveryRow,
} from '../store/sending/delivery-rows';
import { readWorkspace } from '../store/workspace-rows';

/** What a message that came back softly comes to. */
export type Again =
  /** It is sent again after so many working days. */
  | { event: 'returned'; pause: number }
  /** Later messages have left since; or the campaign ends for the person. */
  | { event: 'returned_late' | 'soft_bounce' };

export async function afterSoftBounce(tx: Queryable, delivery: DeliveryRow): Promise<Again> {
  const pause = softBouncePause(await countSoftBounces(tx, delivery.enrolmentId));
  if (pause === null) return { event: 'soft_bounce' };
  const enrolment = await readEnrolment(tx, delivery.enrolmentId);
  const isLast = delivery.state === 'sent' && enrolment?.sent === (await placeOf(tx, delivery)) + 1;
  return isLast ? { event: 'returned', pause } : { event: 'returned_late' };
}

/** Where the step of a message stands in its campaign's sequence. */
async function placeOf(tx: Queryable, { campaignId, step }: DeliveryRow): Promise<number> {
  return (await placesOfSteps(tx, [campaignId])).get(campaignId)?.get(step) ?? step;
}

/**
 * Has a message sent once more that had left: the person is as far as before it, and it is planned anew. What left stays in
 * the history, in the quota of its day, and known by its Message-ID.
 *
 * @returns what was before, and the local day number before which it is not sent
 */
export async function sendAgain(
  tx: Queryable,
  delivery: DeliveryRow,
  pause: number,
  nowMs: number,
): Promise<{ was: SentBefore; notBefore: number }> {
  const { id, enrolmentId, state, sentAt, instant, tries, reason } = delivery;
  const place = await placeOf(tx, delivery);
  const enrolment = await readEnrolment(tx, enrolmentId);
  const mailbox = await readMailbox(tx, delivery.mailboxId);
  const calendar = calendarOf(await readWorkspace(tx));
  const today = mailbox ? localDay(mailbox, nowMs) : delivery.day;
  const notBefore = Math.max(calendar.add(today, pause), enrolment?.notBefore ?? -Infinity);
  const was: SentBefore = {
    delivery: { id, state, sentAt, instant, tries, reason },
    ...{
      enrolmentId,
      sent: place + 1,
      lastSentDay: enrolment?.lastSentDay ?? null,
      notBefore: enrolment?.notBefore ?? null,
    },
  };
  await removePlanned(tx, enrolmentId);
  await updateDelivery(tx, id, { state: 'planned', instant: null, sentAt: null, tries: 0, reason: 'it came back' });
  await updateEnrolment(tx, enrolmentId, {
    sent: place,
    lastSentDay: await lastSentDayBut(tx, enrolmentId, id),
    notBefore,
  });
  const campaign = await readCampaign(tx, delivery.campaignId);
  if (campaign?.state === 'finished') await updateCampaign(tx, campaign.id, { state: 'running', finishedAt: null });
  await wantPlan(tx, nowMs);
  await announce(tx, 'campaigns', 'progress', 'today');
  return { was, notBefore };
}

/** Takes it back, unless it has been sent once more meanwhile. */
export async function undoSendAgain(tx: Queryable, was: SentBefore): Promise<void> {
  const { delivery, enrolmentId, sent, lastSentDay, notBefore } = was;
  const now = await readDelivery(tx, delivery.id);
  if (now?.state !== 'planned') return;
  const { id, ...before } = delivery;
  await removePlanned(tx, enrolmentId);
  await updateDelivery(tx, id, before);
  await updateEnrolment(tx, enrolmentId, { sent, lastSentDay, notBefore });
}
