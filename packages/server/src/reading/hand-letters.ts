import type { ImapReader, SentHead } from '../mailboxes/imap';
import type { Queryable } from '../store/database';
import type { MailboxRow } from '../store/mailboxes/mailbox-rows';
import { addLetter, lettersOfIds, peopleOf, updateLetter } from '../store/reading/letter-rows';
import type { MailHead } from './parse-mail';
import { readIncoming, type ReadMail } from './read-incoming';

/** A message of the Sent folder, as far as its head says. */
export type SentMessage = MailHead & Pick<SentHead, 'at' | 'uid'>;

/** One that was written to people of campaigns; without its contents where Baton sent it itself. */
interface FoundLetter {
  head: SentMessage;
  contactIds: number[];
  whole: { mail: ReadMail; raw: Buffer } | null;
}

/** Letters of one reading of the folder that are kept: more than anybody writes by hand between two readings. */
const MOST_LETTERS = 500;

/** Finds what was written by hand to people of campaigns, and reads it whole. Only heads of anything else are looked at. */
export async function findLetters(
  db: Queryable,
  reader: ImapReader,
  heads: readonly SentMessage[],
): Promise<FoundLetter[]> {
  if (heads.length === 0) return [];
  const known = new Set(
    (
      await lettersOfIds(
        db,
        heads.map((h) => h.messageId),
      )
    ).map((l) => l.messageId),
  );
  const people = await peopleOf(db, heads);
  const found = heads
    .map((head, i) => ({ head, contactIds: people[i] ?? [], whole: null as FoundLetter['whole'] }))
    .filter(({ head, contactIds }) => contactIds.length > 0 || known.has(head.messageId))
    .slice(0, MOST_LETTERS);
  const toRead = found.filter(({ head }) => !known.has(head.messageId));
  await reader.eachSent(
    toRead.map(({ head }) => head.uid),
    async (mails) => {
      for (const { uid, raw } of mails) {
        const letter = toRead.find(({ head }) => head.uid === uid);
        if (letter) letter.whole = { raw, mail: await readIncoming(raw) };
      }
    },
  );
  return found;
}

/**
 * Keeps them. An answer that Baton wrote and that is there has left, whatever the database says: it may be from a backup, or
 * the worker was stopped meanwhile.
 */
export async function keepLetters(
  tx: Queryable,
  letters: readonly FoundLetter[],
  { mailbox, sharing }: { mailbox: MailboxRow; sharing: readonly MailboxRow[] },
  nowMs: number,
): Promise<void> {
  const known = await lettersOfIds(
    tx,
    letters.map(({ head }) => head.messageId),
  );
  for (const { head, contactIds, whole } of letters) {
    const sentAt = Math.min(head.at ?? nowMs, nowMs);
    const own = known.filter((l) => l.messageId === head.messageId);
    for (const { id, sentAt: at } of own)
      if (at === null) await updateLetter(tx, id, { state: 'sent', sentAt, reason: '' });
    if (own.length > 0 || !whole) continue;
    const from = sharing.find((m) => m.address.toLowerCase() === head.from) ?? mailbox;
    for (const contactId of contactIds)
      await addLetter(tx, {
        mailboxId: from.id,
        ...{ contactId, state: 'sent', toKey: head.to[0] ?? '', subject: head.subject, body: whole.mail.text },
        ...{ quotes: false, messageId: head.messageId, raw: whole.raw, parts: whole.mail.parts },
        ...{ writtenAt: sentAt, sentAt },
      });
  }
}
