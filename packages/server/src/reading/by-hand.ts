import type { ImapReader, SentHead } from '../mailboxes/imap';
import { localDay } from '../mailboxes/capacity';
import { wantPlan } from '../planning/want-plan';
import { announce } from '../store/changes';
import type { Database } from '../store/database';
import { addOtherSend, campaignMessages, updateMailbox, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import type { MailHead } from './parse-mail';
import { readSentHead } from './read-incoming';

/**
 * Counts what the owner has sent by hand since the Sent folder was last looked at: every recipient of it is a unit of
 * the mailbox's quota and of the provider's limit. What was there when the mailbox was connected, or before the server
 * numbered the folder anew, is not counted.
 *
 * @param mailbox the one by which the connection is read
 * @param sharing all mailboxes of the connection
 * @returns how many messages were counted
 */
export async function countByHand(
  db: Database,
  reader: ImapReader,
  { mailbox, sharing }: { mailbox: MailboxRow; sharing: readonly MailboxRow[] },
  nowMs: number,
): Promise<number> {
  const isKnown = mailbox.sentUidNext !== null && mailbox.sentUidValidity !== null;
  const sent = await reader.sentFrom(
    isKnown ? { uidValidity: mailbox.sentUidValidity as string, uidNext: mailbox.sentUidNext as number } : null,
  );
  if (sent === null) return 0;
  const isWhereItStood = sent.uidValidity === mailbox.sentUidValidity && sent.uidNext === mailbox.sentUidNext;
  if (isWhereItStood) return 0;
  const ids = sent.heads.map(idOf);
  const own = await campaignMessages(db, ids);
  // Where campaigns send, nearly all is Baton's own.
  const others = sent.heads.filter((_, i) => !own.has(ids[i] as string));
  const heads = await Promise.all(others.map((h) => readHead(h)));
  let counted = 0;
  await db.transaction(async (tx) => {
    for (const head of heads) {
      const from = sharing.find((m) => m.address.toLowerCase() === head.from) ?? mailbox;
      const at = Math.min(head.at ?? nowMs, nowMs);
      const send = { mailboxId: from.id, messageId: head.messageId, at, units: head.recipients, byHand: true };
      if (await addOtherSend(tx, send, localDay(from, at))) counted++;
    }
    await updateMailbox(tx, mailbox.id, { sentUidValidity: sent.uidValidity, sentUidNext: sent.uidNext });
    if (counted === 0) return;
    await wantPlan(tx, nowMs);
    await announce(tx, 'mailboxes', 'today');
  });
  return counted;
}

/** The Message-ID without brackets, found without reading the head; '' for none. */
const idOf = ({ raw }: SentHead): string => /^message-id:\s*<([^<>\s]+)>/im.exec(raw.toString('latin1'))?.[1] ?? '';

/** A message without an id of its own is named by its place in the folder. */
async function readHead({ raw, at, place }: SentHead): Promise<MailHead & Pick<SentHead, 'at'>> {
  const head = await readSentHead(raw);
  return { ...head, messageId: head.messageId || place, at };
}
