import { DomainError, recipientValues, renderProof, type Proof } from '@baton/core';
import type { ProofAsked, ProofView } from '@baton/contract';
import type { ServerParts } from '../http/context';
import { composeMessage } from '../sending/compose';
import { proofWayOut } from '../sending/signed-links';
import { assetKey, listAssets } from '../store/messages/asset-rows';
import type { Queryable } from '../store/database';
import { countPeople, personAt, readList, type ListPerson } from '../store/people/list/list-rows';
import { listMailboxes, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { readWorkspace } from '../store/workspace-rows';
import { picturesIn, readFiles } from './message-files';
import { proofValues } from './sending-values';

/** One finished message, with whom it is for and from. */
export interface MadeProof {
  proof: Proof;
  person: ListPerson;
  total: number;
  mailbox: MailboxRow | undefined;
  senderName: string;
  senderAddress: string;
  publicAddress: string;
  nowMs: number;
}

/**
 * The message as one recipient of a list will get it.
 *
 * @throws DomainError `template_invalid` with the place; `not_found` where the list has nobody
 */
export async function makeProof(parts: ServerParts, asked: ProofAsked): Promise<MadeProof> {
  const { db } = parts.store;
  const person = await personAt(db, asked.listId, asked.index);
  if (!person) throw new DomainError('not_found', 'The list has nobody at this place.');
  const mailboxes = await listMailboxes(db);
  const mailbox = mailboxes.find((m) => m.id === asked.mailboxId) ?? mailboxes[0];
  const workspace = await readWorkspace(db);
  const total = await countPeople(db, asked.listId);
  const nowMs = await parts.clock.now();
  const values = proofValues({
    mailbox,
    publicAddress: workspace.publicAddress,
    postalAddress: workspace.postalAddress,
    listName: (await readList(db, asked.listId))?.name ?? '',
    position: asked.index + 1,
    recipients: total,
    sendingMs: nowMs,
    zone: person.zone ?? workspace.zone,
  });
  const proof = renderProof(
    await parts.compiled.get(asked.content),
    recipientValues({ ...person.fields, ...asked.typed }, values),
  );
  const { senderName, senderAddress } = values;
  const { publicAddress } = workspace;
  return { proof, person, total, mailbox, senderName, senderAddress, publicAddress, nowMs };
}

export async function viewProof(parts: ServerParts, asked: ProofAsked): Promise<ProofView> {
  const { proof, person, total, senderName, senderAddress } = await makeProof(parts, asked);
  const { subject, preview, text, html, replyTo, cc, bcc, blanks, faults } = proof;
  return {
    index: asked.index,
    total,
    from: `${proof.senderName || senderName} <${senderAddress}>`,
    to: person.address,
    ...{ replyTo, cc, bcc, subject, preview, text, html, blanks, faults },
    ...(await filesOf(parts.store.db, proof)),
  };
}

/** The pictures and files of a proof by what the library has. */
export async function filesOf(db: Queryable, proof: Proof): Promise<Pick<ProofView, 'attachments' | 'pictures'>> {
  const cids = picturesIn(proof.html);
  if (cids.length + proof.attachmentIds.length + proof.attachmentNames.length === 0)
    return { attachments: [], pictures: [] };
  const library = await listAssets(db);
  const named = new Map(library.map((a) => [assetKey(a.name), a]));
  const byId = new Map(library.map((a) => [a.id, a]));
  const file = (name: string, size: number | undefined) => ({ name, size: size ?? null });
  return {
    attachments: [
      ...proof.attachmentIds.map((id) => file(byId.get(id)?.name ?? 'a file that is gone', byId.get(id)?.size)),
      ...proof.attachmentNames.map((name) => file(name, named.get(assetKey(name))?.size)),
    ],
    pictures: cids.map((picture) => ({
      cid: `cid:${picture.cid}`,
      assetId: (picture.id === null ? named.get(assetKey(picture.name)) : byId.get(picture.id))?.id ?? null,
    })),
  };
}

/** The exact bytes of a proof, as they would go over the wire now. */
export async function proofBytes(parts: ServerParts, asked: ProofAsked): Promise<Buffer> {
  const { proof, person, senderName, senderAddress, publicAddress, nowMs } = await makeProof(parts, asked);
  return composeMessage({
    mailbox: { address: senderAddress, senderName },
    to: person.address,
    proof,
    files: await readFiles(parts.store.db, proof),
    messageId: `proof@${senderAddress.split('@')[1]}`,
    references: [],
    dateMs: nowMs,
    leaveBy: proofWayOut(publicAddress, senderAddress).header,
  });
}
