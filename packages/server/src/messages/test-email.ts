import { randomUUID } from 'node:crypto';
import { DomainError } from '@baton/core';
import type { TestAsked } from '@baton/contract';
import type { ServerParts } from '../http/context';
import { localDay } from '../mailboxes/capacity';
import { accessOf } from '../mailboxes/connection';
import { SmtpSender } from '../mailboxes/smtp/smtp-sender';
import { composeMessage } from '../sending/compose';
import { proofWayOut } from '../sending/signed-links';
import { announce } from '../store/changes';
import { addOtherSend } from '../store/mailboxes/mailbox-rows';
import { suppressedAmong } from '../store/people/person/people-rows';
import { readFiles } from './message-files';
import { makeProof } from './proof-service';

/** How a test says that it is one. */
const MARK = '[Test]';

/**
 * Sends one recipient's message to oneself: marked as a test, without copies, with links from which nobody can leave.
 * It is no message to anybody, so nothing is counted as sent; the mailbox's quota is used, as its provider counts it.
 *
 * @throws DomainError `conflict` for a mailbox that cannot send, `invalid` with the server's words when it does not take it
 */
export async function sendTest(parts: ServerParts, asked: TestAsked): Promise<{ from: string }> {
  const { proof, mailbox, publicAddress, nowMs } = await makeProof(parts, asked);
  if (!mailbox) throw new DomainError('conflict', 'There is no mailbox to send it from; connect one first.');
  if (mailbox.problem !== null)
    throw new DomainError('conflict', `${mailbox.address} cannot sign in: ${mailbox.problem}. Choose another mailbox.`);
  const { db } = parts.store;
  const [suppressed] = await suppressedAmong(db, asked.to);
  if (suppressed) throw new DomainError('conflict', `${suppressed} is on the suppression list; nothing is sent there.`);
  const files = await readFiles(db, proof);
  const sender = new SmtpSender(accessOf(mailbox, parts));
  try {
    for (const to of asked.to) {
      const messageId = `${randomUUID()}@${mailbox.address.split('@')[1]}`;
      const message = await composeMessage({
        mailbox,
        to,
        proof: { ...proof, subject: `${MARK} ${proof.subject}`, cc: [] },
        files,
        messageId,
        references: [],
        dateMs: nowMs,
        leaveBy: proofWayOut(publicAddress, mailbox.address).header,
      });
      const outcome = await sender.send({ from: mailbox.address, to: [to] }, message);
      if (outcome.code !== 250) throw new DomainError('invalid', `${to}: the server said “${outcome.answer}”.`);
      const send = { mailboxId: mailbox.id, messageId, at: nowMs, units: 1, byHand: false };
      await addOtherSend(db, send, localDay(mailbox, nowMs));
    }
  } finally {
    sender.close();
  }
  await announce(db, 'mailboxes');
  return { from: mailbox.address };
}
