import { EMPTY_CONTENT, recipientValues, renderProof, type Proof } from '@baton/core';
import type { ServerParts } from '../http/context';
import { browserUrl, unsubscribeUrl } from '../sending/signed-links';
import { readMailbox, type MailboxRow } from '../store/mailbox-rows';
import type { EnrolledMessage } from '../store/sent-rows';
import { readWorkspace } from '../store/workspace-rows';
import { NOBODY, sendingValues } from './sending-values';

/** A message of a campaign as its recipient's values make it now, of the time at which it left. */
export async function enrolledProof(
  { store: { db }, clock, config, secrets, compiled }: ServerParts,
  message: EnrolledMessage,
): Promise<{ proof: Proof; mailbox: Pick<MailboxRow, 'senderName' | 'address' | 'signature'> }> {
  const mailbox = (message.mailboxId === null ? null : await readMailbox(db, message.mailboxId)) ?? NOBODY;
  const workspace = await readWorkspace(db);
  const { campaignName, listName, position, recipients, enrolmentId } = message;
  const values = sendingValues({
    mailbox,
    unsubscribeLink: unsubscribeUrl(config.publicUrl, secrets, enrolmentId),
    browserLink: browserUrl(config.publicUrl, secrets, enrolmentId, message.step),
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
