import { localDay, quotaOn } from '../mailboxes/capacity';
import type { Queryable } from '../store/database';
import type { MailboxRow } from '../store/mailboxes/mailbox-rows';
import { updateDelivery } from '../store/sending/delivery-rows';
import { lockMessage } from '../store/sending/restored-rows';
import { markSending } from '../store/sending/sending-rows';
import type { MessageOf } from './message-id';
import { recordSent } from './record';

/** A message that the Sent folder has, and what Baton knows of it by its Message-ID. */
export interface Forgotten extends MessageOf {
  messageId: string;
  subject: string;
  to: readonly string[];
  atMs: number;
}

/** In which a message may still leave, or is thought to be leaving. */
const OPEN: ReadonlySet<string> = new Set(['planned', 'deferred', 'sending', 'unconfirmed']);

/**
 * Writes down as sent what the database does not know to have left: it was restored from a backup that is older. The
 * caller has locked the mailbox.
 *
 * @returns false where it is no such message: the recipient is another, or it is known to have left
 */
export async function recordForgotten(tx: Queryable, mailbox: MailboxRow, sent: Forgotten): Promise<boolean> {
  const found = await lockMessage(tx, sent);
  // Numbers are given again after a restore: who it went to decides.
  if (!found || !sent.to.includes(found.address.toLowerCase()) || !OPEN.has(found.delivery.state)) return false;
  const { id: deliveryId, campaignId, units } = found.delivery;
  const { messageId, subject, atMs } = sent;
  const day = localDay(mailbox, atMs);
  await updateDelivery(tx, deliveryId, { mailboxId: mailbox.id, heldAt: null });
  const tried = {
    ...{ deliveryId, mailboxId: mailbox.id, day, quota: quotaOn(mailbox, day, day), units },
    ...{ messageId, subject, forClicked: null, nowMs: atMs },
  };
  const attemptId = await markSending(tx, tried);
  const answer = 'found in the Sent folder; the database was older';
  await recordSent(tx, { deliveryId, campaignId, attemptId, answer, day, atMs });
  return true;
}
