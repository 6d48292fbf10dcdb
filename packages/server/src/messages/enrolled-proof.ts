import { clockWords, EMPTY_CONTENT, isoDate, quotedBelow, recipientValues, renderProof, type Proof } from '@baton/core';
import type { ServerParts } from '../http/context';
import type { Secrets } from '../security/secrets';
import { replySubject } from '../sending/compose';
import { browserUrl, wayOut } from '../sending/signed-links';
import type { Queryable } from '../store/database';
import { readMailbox, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { readEnrolledMessages, type EnrolledMessage } from '../store/sending/sent-rows';
import { readWorkspace } from '../store/workspace-rows';
import { zones } from '../time/zones';
import type { CompiledMessages } from './compiled-messages';
import { NOBODY, sendingValues } from './sending-values';

interface EnrolledProof {
  proof: Proof;
  mailbox: Pick<MailboxRow, 'senderName' | 'address' | 'signature'>;
}

/** What a message is made with. */
interface Making {
  db: Queryable;
  secrets: Secrets;
  compiled: CompiledMessages;
}

/**
 * A message of a campaign as its recipient's values make it now, of the time at which it left. A follow-up
 * is sent under the subject of the first message of its thread, as it leaves, and with the message before it where it says so.
 */
export async function enrolledProof(
  { store: { db }, clock, secrets, compiled }: ServerParts,
  message: EnrolledMessage,
): Promise<EnrolledProof> {
  const making = { db, secrets, compiled };
  const nowMs = await clock.now();
  const made = await ownProof(making, message, nowMs);
  if (message.startsThread) return { ...made, proof: { ...made.proof, subject: subjectOf(message, made.proof) } };
  const all = await readEnrolledMessages(db, { enrolmentId: message.enrolmentId });
  const before = all.slice(
    0,
    all.findIndex((m) => m.step === message.step),
  );
  const first = before.findLast((m) => m.startsThread);
  if (!first?.content) return made;
  const subject = replySubject(subjectOf(first, (await ownProof(making, first, nowMs)).proof));
  const quoted = message.quotes ? before.at(-1) : undefined;
  const proof = quoted ? await quoting(making, quoted, made.proof, nowMs) : made.proof;
  return { ...made, proof: { ...proof, subject } };
}

/** The subject of a message that begins a thread, as it has left or would. */
const subjectOf = ({ sentSubject, answered: [first] }: EnrolledMessage, proof: Proof): string =>
  sentSubject ?? (first === undefined ? proof.subject : replySubject(first.subject));

/** A follow-up that is about to leave, with what has left to its recipient before it below. */
export async function withMessageBefore(making: Making, enrolmentId: number, proof: Proof): Promise<Proof> {
  const sent = (await readEnrolledMessages(making.db, { enrolmentId })).filter((m) => m.sentAt !== null);
  const last = sent.at(-1);
  return last?.content ? quoting(making, last, proof, last.sentAt ?? 0) : proof;
}

/** Who wrote and when, in a form that is the same in every language. */
async function quoting(making: Making, earlier: EnrolledMessage, proof: Proof, nowMs: number): Promise<Proof> {
  const { proof: quoted, mailbox } = await ownProof(making, earlier, nowMs);
  const { zone } = await readWorkspace(making.db);
  const { day, minute } = zones.get(earlier.zone ?? zone).toLocal(earlier.sentAt ?? nowMs);
  const who = `${quoted.senderName || mailbox.senderName} <${mailbox.address}>`.trim();
  return { ...proof, ...quotedBelow(proof, quoted, `${who}, ${isoDate(day)} ${clockWords(Math.floor(minute))}:`) };
}

async function ownProof(
  { db, secrets, compiled }: Making,
  message: EnrolledMessage,
  nowMs: number,
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
    sendingMs: message.sentAt ?? nowMs,
    zone: message.zone ?? workspace.zone,
  });
  const filled = renderProof(
    await compiled.get(message.content ?? EMPTY_CONTENT),
    recipientValues(message.fields, values),
  );
  return { proof: filled, mailbox };
}
