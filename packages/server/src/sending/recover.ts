import { MINUTE_MS } from '@baton/core';
import type { Connections } from '../mailboxes/connections';
import { localDay } from '../mailboxes/capacity';
import { wantPlan } from '../planning/want-plan';
import { announce } from '../store/changes';
import type { Store } from '../store/database';
import { leftInSending, updateAttempt, updateDelivery } from '../store/sending/delivery-rows';
import { countUse, readMailbox, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { recordSent } from './record';

/**
 * So long after a try began the server has surely filed what it took: a look into the Sent folder before would
 * call a message unsent that is only on its way.
 */
export const SETTLE_MS = 2 * MINUTE_MS;

/**
 * Clears up deliveries of one mailbox that a crash, or a connection lost after the body, left in `sending`. The
 * caller holds the mailbox's sending lock, so no send is under way. Found in the Sent folder: sent. Not found, where the provider keeps that
 * folder: planned again. Otherwise unconfirmed, and a person decides. Never sent a second time unasked.
 *
 * @returns how many were cleared up
 */
export async function recoverMailbox(
  parts: { store: Store; connections: Connections },
  mailboxId: number,
  nowMs: number,
): Promise<number> {
  const left = await leftInSending(parts.store.db, mailboxId, nowMs - SETTLE_MS);
  if (left.length === 0) return 0;
  const mailbox = (await readMailbox(parts.store.db, mailboxId)) as MailboxRow;
  for (const l of left) {
    const found = mailbox.keepsSent ? await parts.connections.reader(mailbox).isInSent(l.messageId) : null;
    await parts.store.db.transaction(async (tx) => {
      const day = localDay(mailbox, l.startedAt);
      if (found === true) {
        const { id, campaignId } = l.delivery;
        const answer = 'found in the Sent folder afterwards';
        await recordSent(tx, { deliveryId: id, campaignId, attemptId: l.attemptId, answer, day, atMs: l.startedAt });
      } else if (found === false) {
        await updateAttempt(tx, l.attemptId, {
          verdict: 'transient',
          answer: 'not in the Sent folder afterwards',
        });
        await countUse(tx, { mailboxId, day, units: -l.delivery.units, messages: -1 });
        await updateDelivery(tx, l.delivery.id, {
          state: 'planned',
          instant: null,
          reason: 'interrupted before it was sent',
        });
        await wantPlan(tx, nowMs);
      } else {
        await updateAttempt(tx, l.attemptId, {
          verdict: 'unknown',
          answer: 'interrupted; this provider keeps no Sent folder to look in',
        });
        await updateDelivery(tx, l.delivery.id, {
          state: 'unconfirmed',
          reason: 'the connection was lost, or Baton was stopped, while this message was being sent',
        });
      }
      await announce(tx, 'today', 'progress');
    });
  }
  return left.length;
}
