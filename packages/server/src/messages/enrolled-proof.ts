import { EMPTY_CONTENT, recipientValues, renderProof, type Proof } from '@baton/core';
import type { ServerParts } from '../http/context';
import { replySubject } from '../sending/compose';
import { browserUrl, wayOut } from '../sending/signed-links';
import { readMailbox, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { readEnrolledMessages, type EnrolledMessage } from '../store/sending/sent-rows';
import { readWorkspace } from '../store/workspace-rows';
import { NOBODY, sendingValues } from './sending-values';

interface EnrolledProof {
  proof: Proof;
  mailbox: Pick<MailboxRow, 'senderName' | 'address' | 'signature'>;
}

/**
 * A message of a campaign as its recipient's values make it now, of the time at which it left. A follow-up
 * is sent under the subject of the first message of its thread, as it leaves.
 */
export async function enrolledProof(parts: ServerParts, message: EnrolledMessage): Promise<EnrolledProof> {
  const made = await ownProof(parts, message);
  if (message.startsThread) return made;
  const all = await readEnrolledMessages(parts.store.db, { enrolmentId: message.enrolmentId });
  const before = all.slice(
    0,
    all.findIndex((m) => m.step === message.step),
  );
  const first = before.findLast((m) => m.startsThread);
  if (!first?.content) return made;
  const subject = first.sentSubject ?? (await ownProof(parts, first)).proof.subject;
  return { ...made, proof: { ...made.proof, subject: replySubject(subject) } };
}

async function ownProof(
  { store: { db }, clock, secrets, compiled }: ServerParts,
  message: EnrolledMessage,
): Promise<EnrolledProof> {
  const mailbox = (message.mailboxId === null ? null : await readMailbox(db, message.mailboxId)) ?? NOBODY;
  const workspace = await readWorkspace(db);
  const { campaignName, listName, position, recipients, enrolmentId } = message;
  const links = { secrets, publicAddress: workspace.publicAddress };
  const values = sendingValues({
    mailbox,
    unsubscribeLink: wayOut(links, enrolmentId, mailbox.address).link,
    browserLink: browserUrl(links, enrolmentId, message.step),
    postalAddress: workspace.postalAddress,
    ...{ campaignName, listName, position, recipients },
    sendingMs: message.sentAt ?? (await clock.now()),
    zone: message.zone ?? workspace.zone,
  });
  const filled = renderProof(
    await compiled.get(message.content ?? EMPTY_CONTENT),
    recipientValues(message.fields, values),
  );
  return { proof: filled, mailbox };
}
