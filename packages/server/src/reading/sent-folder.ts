import type { ImapReader, SentHead } from '../mailboxes/imap';
import { localDay } from '../mailboxes/capacity';
import { wantPlan } from '../planning/want-plan';
import { announce } from '../store/changes';
import type { Database } from '../store/database';
import { addOtherSend, campaignMessages, updateMailbox, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { recordForgotten } from '../sending/forgotten';
import { messageOfId } from '../sending/message-id';
import type { Secrets } from '../security/secrets';
import { addMailboxEvent } from '../store/mailboxes/mailbox-event-rows';
import { findLetters, keepLetters, type SentMessage } from './hand-letters';
import { readSentHead } from './read-incoming';

export interface SentFolderParts {
  db: Database;
  secrets: Secrets;
}

/**
 * Reads what has come into the Sent folder since it was last looked at. What the owner has sent by hand is counted: every
 * recipient of it is a unit of the mailbox's quota and of the provider's limit. What is Baton's own and not known to have
 * left is written down as sent; what was written to a person of a campaign is kept, for their thread. What was there when the mailbox was connected, or before the server numbered the folder
 * anew, is passed over.
 *
 * @param mailbox the one by which the connection is read
 * @param sharing all mailboxes of the connection
 * @returns how many messages of others were counted; null where there is no Sent folder
 */
export async function readSentFolder(
  { db, secrets }: SentFolderParts,
  reader: ImapReader,
  { mailbox, sharing }: { mailbox: MailboxRow; sharing: readonly MailboxRow[] },
  nowMs: number,
): Promise<number | null> {
  const isKnown = mailbox.sentUidNext !== null && mailbox.sentUidValidity !== null;
  const sent = await reader.sentFrom(
    isKnown ? { uidValidity: mailbox.sentUidValidity as string, uidNext: mailbox.sentUidNext as number } : null,
  );
  if (sent === null) return null;
  const isWhereItStood = sent.uidValidity === mailbox.sentUidValidity && sent.uidNext === mailbox.sentUidNext;
  if (isWhereItStood) return 0;
  const ids = sent.heads.map(idOf);
  const own = await campaignMessages(db, ids);
  // Where campaigns send, nearly all is Baton's own.
  // There may be two copies of one message: the provider's and Baton's.
  const isNew = (id: string, i: number) => !own.has(id) && (id === '' || ids.indexOf(id) === i);
  const others = sent.heads.filter((_, i) => isNew(ids[i] as string, i));
  const heads = await Promise.all(others.map((h) => readHead(h)));
  const byHand = heads.filter((h) => messageOfId(secrets, h.messageId) === null);
  const letters = await findLetters(db, reader, byHand);
  let counted = 0;
  await db.transaction(async (tx) => {
    // First, since whoever claims a message locks the mailbox before it.
    await updateMailbox(tx, mailbox.id, { sentUidValidity: sent.uidValidity, sentUidNext: sent.uidNext });
    const forgotten = new Map<MailboxRow, number>();
    await keepLetters(tx, letters, { mailbox, sharing }, nowMs);
    for (const head of heads.sort((a, b) => (a.at ?? nowMs) - (b.at ?? nowMs))) {
      const from = sharing.find((m) => m.address.toLowerCase() === head.from) ?? mailbox;
      const at = Math.min(head.at ?? nowMs, nowMs);
      const own = messageOfId(secrets, head.messageId);
      if (own && (await recordForgotten(tx, from, { ...head, ...own, atMs: at }))) {
        forgotten.set(from, (forgotten.get(from) ?? 0) + 1);
        continue;
      }
      const send = { mailboxId: from.id, messageId: head.messageId, at, units: head.recipients, byHand: own === null };
      if (await addOtherSend(tx, send, localDay(from, at))) counted++;
    }
    for (const [{ id }, n] of forgotten) await addMailboxEvent(tx, id, nowMs, forgottenWords(n));
    if (counted + forgotten.size === 0) return;
    await wantPlan(tx, nowMs);
    await announce(tx, 'mailboxes', 'today', 'progress', ...(letters.length > 0 ? (['replies'] as const) : []));
  });
  return counted;
}

const forgottenWords = (n: number): string =>
  `${n === 1 ? '1 message was' : `${n} messages were`} found in the Sent folder that the database did not know to have left; marked as sent`;

/** The Message-ID without brackets, found without reading the head; '' for none. */
const idOf = ({ raw }: SentHead): string => /^message-id:\s*<([^<>\s]+)>/im.exec(raw.toString('latin1'))?.[1] ?? '';

/** A message without an id of its own is named by its place in the folder. */
async function readHead({ raw, at, place, uid }: SentHead): Promise<SentMessage> {
  const head = await readSentHead(raw);
  return { ...head, messageId: head.messageId || place, at, uid };
}
