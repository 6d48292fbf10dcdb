import { classify, detailsOf, type Classified } from '@baton/core';
import type { Secrets } from '../security/secrets';
import { enrolmentOfSubject } from '../sending/signed-links';
import { announce } from '../store/changes';
import type { Queryable, Store } from '../store/database';
import { listMailboxes, connectionKey, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { candidatesOfEnrolment } from '../store/reading/candidate-rows';
import { addIncoming, knownMessageIds, lockIncoming } from '../store/reading/reply-rows';
import { findMatch, type Found } from './find-match';
import { readIncoming, type ReadMail } from './read-incoming';
import { settle } from './settle';

export interface ArrivedMail {
  uidValidity: string;
  uid: number;
  raw: Buffer;
  /** Whether it is taken only if it belongs to a message of ours. */
  isOnlyOurs?: boolean;
}

/** Takes one message that came into a mailbox: keeps it, says what it is, and does what follows. Twice is once. */
export async function takeMail(
  { store: { db }, secrets }: { store: Store; secrets: Secrets },
  mailbox: MailboxRow,
  arrived: ArrivedMail,
  nowMs: number,
): Promise<void> {
  const mail = await readIncoming(arrived.raw);
  const leaver = enrolmentOfSubject(secrets, mail.subject);
  const read = classifiedMail(mail, leaver !== null, nowMs);
  await db.transaction(async (tx) => {
    // Moved from one folder to another it is the same message.
    if (
      (
        await knownMessageIds(
          tx,
          mailbox.id,
          [mail.messageId].filter((id) => id !== ''),
        )
      ).size > 0
    )
      return;
    const all = await listMailboxes(tx);
    const match = await matchOfMail(tx, secrets, { all, mailbox, mail, found: read, leaver, nowMs });
    if (arrived.isOnlyOurs && match?.sureness !== 'sure') return;
    const found = match === null && isOurs(all, mail) ? { ...read, kind: 'noise' as const, because: [OURS] } : read;
    const id = await addIncoming(tx, {
      mailboxId: mailbox.id,
      uidValidity: arrived.uidValidity,
      uid: arrived.uid,
      raw: arrived.raw,
      receivedAt: nowMs,
      fromName: mail.fromName,
      fromKey: mail.from.toLowerCase(),
      subject: mail.subject,
      body: mail.text,
      messageId: mail.messageId,
      kind: found.kind,
      because: reasons(found, match).join('; '),
      details: detailsOf(found),
      did: '',
      deliveryId: match?.to.delivery.id ?? null,
      enrolmentId: match?.to.enrolmentId ?? null,
      match: match?.sureness ?? null,
    });
    const row = id === null ? null : await lockIncoming(tx, id);
    if (!row) return;
    await settle(tx, row, nowMs);
    await announce(tx, 'replies', 'today', 'progress');
  });
}

const OURS = 'it comes from a mailbox of ours';
const isOurs = (all: readonly MailboxRow[], { from }: ReadMail): boolean =>
  all.some((m) => m.address.toLowerCase() === from.toLowerCase());

const BY_LINK = 'it was sent by the unsubscribe link of the message';

function classifiedMail(mail: ReadMail, isByLink: boolean, nowMs: number): Classified {
  const found = classify(mail, nowMs);
  if (isByLink)
    return { ...found, kind: 'unsubscribe', sureness: 'sure', bounce: null, backOn: null, because: [BY_LINK] };
  return mail.isHeadOnly ? { ...found, because: [...found.because, 'only its head could be read'] } : found;
}

/** Why it is taken for what it is, and whose; that it is its sender's goes without saying. */
const reasons = ({ because, sureness }: Classified, match: Found | null): string[] =>
  match && (match.sureness === 'unsure' || sureness === 'unsure') ? [...because, match.because] : because;

async function matchOfMail(
  tx: Queryable,
  secrets: Secrets,
  about: {
    all: MailboxRow[];
    mailbox: MailboxRow;
    mail: ReadMail;
    found: Classified;
    leaver: number | null;
    nowMs: number;
  },
): Promise<Found | null> {
  const { all, mailbox, mail, found, leaver, nowMs } = about;
  if (leaver !== null) {
    const [to] = await candidatesOfEnrolment(tx, leaver);
    return to ? { to, sureness: 'sure', because: BY_LINK } : null;
  }
  const sharing = all.filter((m) => connectionKey(m) === connectionKey(mailbox));
  const mailboxIds = sharing.map((m) => m.id);
  return findMatch(tx, secrets, { mail, classified: found, mailboxIds, isOurs: isOurs(all, mail), nowMs });
}
