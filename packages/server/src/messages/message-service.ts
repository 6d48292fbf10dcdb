import { compileMessage, DomainError, findFault, renderProof, WHOLE_LIST, type SenderValues } from '@baton/core';
import type { MessageDraft, MessageFault, MessageView, ProofView } from '@baton/contract';
import type { ServerParts } from '../http/context';
import { announce } from '../store/changes';
import type { Queryable } from '../store/database';
import { listCampaigns, readSteps } from '../store/campaign-rows';
import { listMailboxes, type MailboxRow } from '../store/mailbox-rows';
import { addMessage, listMessages, updateMessage, type MessageRow } from '../store/message-rows';
import { countRows, findRows } from '../store/list-rows';
import { readWorkspace } from '../store/workspace-rows';

export function faultOf(message: Pick<MessageRow, 'subject' | 'body'>): MessageFault | null {
  for (const part of ['subject', 'body'] as const) {
    const fault = findFault(message[part]);
    if (fault) return { part, ...fault };
  }
  return null;
}

export async function viewMessages(db: Queryable): Promise<MessageView[]> {
  const campaigns = await listCampaigns(db);
  const steps = await readSteps(
    db,
    campaigns.map((c) => c.id),
  );
  const usedBy = (id: number) =>
    campaigns.filter((c) => steps.some((s) => s.campaignId === c.id && s.messageId === id)).map((c) => c.name);
  return (await listMessages(db)).map((m) => ({
    id: m.id,
    name: m.name,
    subject: m.subject,
    body: m.body,
    updatedAt: m.updatedAt,
    fault: faultOf(m),
    usedBy: usedBy(m.id),
  }));
}

/** Keeps a message as it is being written, whether or not it parses: one that does not is never sent. */
export async function saveMessage(
  { store, clock }: ServerParts,
  id: number | null,
  draft: MessageDraft,
): Promise<number> {
  const nowMs = await clock.now();
  const saved =
    id === null
      ? await addMessage(store.db, { ...draft, createdAt: nowMs, updatedAt: nowMs })
      : (await updateMessage(store.db, id, { ...draft, updatedAt: nowMs }))
        ? id
        : null;
  if (saved === null) throw new DomainError('not_found', 'There is no such message.');
  await announce(store.db, 'messages');
  return saved;
}

/** Stands where a recipient's own link will be: a proof must not let anybody leave. */
const PROOF_LINK = '/u/proof';

export function proofSender(mailbox: MailboxRow | undefined, publicUrl: string, postalAddress: string): SenderValues {
  const nobody = {
    senderName: 'Sender name',
    address: 'sender@mailbox.example',
    signature: 'Signature of the mailbox',
  };
  return senderValues(mailbox ?? nobody, `${publicUrl}${PROOF_LINK}`, postalAddress);
}

export function senderValues(
  mailbox: Pick<MailboxRow, 'senderName' | 'address' | 'signature'>,
  unsubscribeLink: string,
  postalAddress: string,
): SenderValues {
  const { senderName, address, signature } = mailbox;
  return { senderName, senderAddress: address, signature, unsubscribeLink, postalAddress };
}

/**
 * The message as one recipient of a list will get it.
 *
 * @param draft as typed so far, saved or not
 * @param index 0-based position in the list
 * @throws DomainError `template_invalid` with the place
 */
export async function viewProof(
  { store, config }: ServerParts,
  draft: MessageDraft,
  listId: number,
  index: number,
  mailboxId: number | null,
): Promise<ProofView> {
  const rows = { listId, columns: [] };
  const [person] = await findRows(store.db, rows, WHOLE_LIST, 0, { offset: index, limit: 1 });
  if (!person) throw new DomainError('not_found', 'The list has nobody at this place.');
  const mailboxes = await listMailboxes(store.db);
  const mailbox = mailboxes.find((m) => m.id === mailboxId) ?? mailboxes[0];
  const sender = proofSender(mailbox, config.publicUrl, (await readWorkspace(store.db)).postalAddress);
  const proof = renderProof(compileMessage(draft), person.fields, sender);
  const total = await countRows(store.db, rows, WHOLE_LIST, 0);
  return { index, total, from: `${sender.senderName} <${sender.senderAddress}>`, to: person.address, ...proof };
}
