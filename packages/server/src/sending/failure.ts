import { chanceOf, MINUTE_MS, type SendOutcome } from '@baton/core';
import { networkWords } from '../mailboxes/network-words';
import type { Queryable } from '../store/database';
import { updateMailbox, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { backOffMs } from '../time/back-off';

/** Pauses after a mailbox could not hand over anything: the first, and the longest. */
const LATER_MS = MINUTE_MS;
const LATER_MOST_MS = 30 * MINUTE_MS;

/** What a mailbox that can send has. */
export const NO_FAILURE = { sendFailedSince: null, sendFailures: 0, sendFailure: '', sendRetryAt: null };

/** Leaves a mailbox alone for a while; the pauses grow for as long as it cannot hand over anything. */
export async function failLater(
  tx: Queryable,
  mailbox: MailboxRow,
  outcome: SendOutcome,
  nowMs: number,
): Promise<void> {
  const sendFailures = mailbox.sendFailures + 1;
  await updateMailbox(tx, mailbox.id, {
    sendFailedSince: mailbox.sendFailedSince ?? nowMs,
    sendFailures,
    sendFailure: networkWords(outcome.answer, mailbox.smtp),
    // By which mailbox it is, so that simulated weeks go the same way twice.
    sendRetryAt:
      nowMs + backOffMs(sendFailures, LATER_MS, LATER_MOST_MS, chanceOf(`mailbox ${mailbox.id} ${sendFailures}`)),
  });
}
