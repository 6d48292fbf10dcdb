import { MAX_TRIES, MINUTE_MS } from '@baton/core';
import { applyEvent } from '../campaigns/apply-event';
import type { Connections } from '../mailboxes/connections';
import { localDay } from '../mailboxes/capacity';
import { wantPlan } from '../planning/want-plan';
import { announce } from '../store/changes';
import { readEnrolment } from '../store/campaigns/campaign-rows';
import type { Queryable, Store } from '../store/database';
import { leftInSending, noteLook, updateAttempt, updateDelivery } from '../store/sending/delivery-rows';
import { countUse, readMailbox, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { recordSent } from './record';

/**
 * So long after a try began a broken-off one is looked for: the server may take ten minutes for its answer
 * (RFC 5321 4.5.3.2.6), and files what it took in that time. What is not there is looked for once more: copies are
 * filed later by some.
 */
export const SETTLE = { firstMs: 11 * MINUTE_MS, againMs: 20 * MINUTE_MS } as const;

type Left = Awaited<ReturnType<typeof leftInSending>>[number];

/**
 * Clears up deliveries of one mailbox that a crash, or a connection lost after the body, left in `sending`. The
 * caller holds the mailbox's sending lock, so no send is under way. Found in the Sent folder: sent. Absent in two looks,
 * where the provider is known to keep that folder: planned again. Otherwise, or where it cannot be searched at the second
 * look either, unconfirmed, and a person decides. Never sent
 * a second time unasked.
 *
 * @returns how many were cleared up, or looked for the first time
 */
export async function recoverMailbox(
  parts: { store: Store; connections: Connections },
  mailboxId: number,
  nowMs: number,
): Promise<number> {
  const left = (await leftInSending(parts.store.db, mailboxId)).filter((l) => lookAt(l) <= nowMs);
  if (left.length === 0) return 0;
  const mailbox = (await readMailbox(parts.store.db, mailboxId)) as MailboxRow;
  for (const l of left) {
    const seen = mailbox.keepsSent ? await parts.connections.reader(mailbox).lookInSent(l.messageId) : 'unknown';
    await parts.store.db.transaction(async (tx) => {
      if (seen === 'found') await recordFound(tx, mailbox, l);
      // Not there yet, or the folder cannot be searched just now: it is asked once more.
      else if (mailbox.keepsSent && l.lookedAt === null) await noteLook(tx, l.attemptId, nowMs);
      else if (seen === 'absent') await recordAbsent(tx, mailbox, l, nowMs);
      else
        await recordUnknown(
          tx,
          l,
          mailbox.keepsSent
            ? 'interrupted; its Sent folder cannot be searched'
            : 'interrupted; this provider keeps no Sent folder to look in',
        );
      await announce(tx, 'today', 'progress');
    });
  }
  return left.length;
}

const lookAt = ({ startedAt, lookedAt }: Left): number =>
  lookedAt === null ? startedAt + SETTLE.firstMs : lookedAt + SETTLE.againMs;

async function recordFound(
  tx: Queryable,
  mailbox: MailboxRow,
  { delivery, attemptId, startedAt }: Left,
): Promise<void> {
  const answer = 'found in the Sent folder afterwards';
  const day = localDay(mailbox, startedAt);
  await recordSent(tx, {
    deliveryId: delivery.id,
    campaignId: delivery.campaignId,
    ...{ attemptId, answer, day, atMs: startedAt },
  });
}

async function recordAbsent(tx: Queryable, mailbox: MailboxRow, left: Left, nowMs: number): Promise<void> {
  const { delivery, attemptId, startedAt } = left;
  await updateAttempt(tx, attemptId, { verdict: 'transient', answer: 'not in the Sent folder afterwards' });
  const day = localDay(mailbox, startedAt);
  await countUse(tx, { mailboxId: mailbox.id, day, units: -delivery.units, messages: -1 });
  const reason = 'interrupted before it was sent';
  if (delivery.tries >= MAX_TRIES) {
    const enrolment = await readEnrolment(tx, delivery.enrolmentId);
    await updateDelivery(tx, delivery.id, { instant: nowMs });
    await applyEvent(tx, {
      ...{ kind: 'given_up', reason: `given up after ${MAX_TRIES} tries: ${reason}`, detail: reason, nowMs },
      contactId: enrolment?.contactId ?? 0,
      cause: delivery.enrolmentId,
      delivery: { id: delivery.id, mailboxId: mailbox.id },
    });
  } else await updateDelivery(tx, delivery.id, { state: 'planned', instant: null, reason });
  await wantPlan(tx, nowMs);
}

async function recordUnknown(tx: Queryable, { delivery, attemptId }: Left, answer: string): Promise<void> {
  await updateAttempt(tx, attemptId, { verdict: 'unknown', answer });
  await updateDelivery(tx, delivery.id, {
    state: 'unconfirmed',
    reason: 'the connection was lost, or Baton was stopped, while this message was being sent',
  });
}
