import { DomainError } from '@baton/core';
import { localDay } from '../mailboxes/capacity';
import { wantPlan } from '../planning/want-plan';
import { announce } from '../store/changes';
import type { Database } from '../store/database';
import { lastAttempt, lockDelivery, updateAttempt, updateDelivery } from '../store/sending/delivery-rows';
import { readMailbox } from '../store/mailboxes/mailbox-rows';
import { recordSent } from './record';

/**
 * A person has found out what became of an unconfirmed message.
 *
 * @param left true: it had been sent; false: it had not, and is planned again
 * @throws DomainError `conflict` when it is not, or no longer, unconfirmed
 */
export async function settleUnconfirmed(db: Database, deliveryId: number, left: boolean, nowMs: number): Promise<void> {
  await db.transaction(async (tx) => {
    const delivery = await lockDelivery(tx, deliveryId);
    const attempt = delivery && (await lastAttempt(tx, deliveryId));
    const mailbox = delivery && (await readMailbox(tx, delivery.mailboxId));
    if (delivery?.state !== 'unconfirmed' || !attempt || !mailbox)
      throw new DomainError('conflict', 'This message is no longer unconfirmed.');
    const answer = `settled by hand: ${left ? 'it had been sent' : 'it had not been sent'}`;
    if (left) {
      const { campaignId } = delivery;
      const day = localDay(mailbox, attempt.startedAt);
      await recordSent(tx, { deliveryId, campaignId, attemptId: attempt.id, answer, day, atMs: attempt.startedAt });
    } else {
      await updateAttempt(tx, attempt.id, { verdict: 'transient', answer });
      await updateDelivery(tx, deliveryId, { state: 'planned', instant: null, reason: 'it had not been sent' });
    }
    await wantPlan(tx, nowMs);
    await announce(tx, 'today', 'progress');
  });
}
