import { classify, detailsOf, type Classified } from '@baton/core';
import type { Secrets } from '../security/secrets';
import { enrolmentOfSubject } from '../sending/signed-links';
import { announce } from '../store/changes';
import type { Queryable, Store } from '../store/database';
import { connectionKey, listMailboxes, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { candidatesOfEnrolment } from '../store/reading/candidate-rows';
import { addIncoming, knownMessageIds, type NewIncoming } from '../store/reading/reply-rows';
import { findMatches, type Found } from './find-match';
import { readIncoming, type ReadMail } from './read-incoming';
import { settle } from './settle';

export interface ArrivedMail {
  uidValidity: string;
  uid: number;
  raw: Buffer;
  /** Whether it is taken only if it belongs to a message of ours. */
  isOnlyOurs?: boolean;
}

export interface TakingParts {
  store: Store;
  secrets: Secrets;
}

/** A message that came in, as it was read. */
interface Read {
  arrived: ArrivedMail;
  mail: ReadMail;
  found: Classified;
  /** The enrolment that it ends, as a message that a link of ours has written. */
  leaver: number | null;
}

/**
 * Takes messages that came into a mailbox: keeps them, says what they are, and does what follows. Twice is once. Several are
 * taken together; where that fails, each by itself, so that none is in the way of another.
 *
 * @throws what the one threw that could not be taken; those before it have been
 */
export async function takeMails(
  parts: TakingParts,
  mailbox: MailboxRow,
  arrived: readonly ArrivedMail[],
  nowMs: number,
): Promise<void> {
  // One is classified while the next is parsed.
  const read = await Promise.all(arrived.map((one) => readOne(parts, one, nowMs)));
  const take = (some: readonly Read[]) =>
    parts.store.db.transaction((tx) => takeRead(tx, parts.secrets, { mailbox, read: some, nowMs }));
  if (
    read.length > 1 &&
    (await take(read).then(
      () => true,
      () => false,
    ))
  )
    return;
  for (const one of read) await take([one]);
}

async function readOne({ secrets }: TakingParts, arrived: ArrivedMail, nowMs: number): Promise<Read> {
  const mail = await readIncoming(arrived.raw);
  const leaver = enrolmentOfSubject(secrets, mail.subject);
  return { arrived, mail, leaver, found: classifiedMail(mail, leaver !== null, nowMs) };
}

const BY_LINK = 'it was sent by the unsubscribe link of the message';
const OURS = 'it comes from a mailbox of ours';

function classifiedMail(mail: ReadMail, isByLink: boolean, nowMs: number): Classified {
  const found = classify(mail, nowMs);
  if (isByLink)
    return { ...found, kind: 'unsubscribe', sureness: 'sure', bounce: null, backOn: null, because: [BY_LINK] };
  return mail.isHeadOnly ? { ...found, because: [...found.because, 'only its head could be read'] } : found;
}

async function takeRead(
  tx: Queryable,
  secrets: Secrets,
  { mailbox, read, nowMs }: { mailbox: MailboxRow; read: readonly Read[]; nowMs: number },
): Promise<void> {
  const fresh = await notTakenYet(tx, mailbox, read);
  if (fresh.length === 0) return;
  const all = await listMailboxes(tx);
  const ours = new Set(all.map((m) => m.address.toLowerCase()));
  const mailboxIds = all.filter((m) => connectionKey(m) === connectionKey(mailbox)).map((m) => m.id);
  const toFind = fresh.map(({ mail, found }) => ({
    mail,
    classified: found,
    isOurs: ours.has(mail.from.toLowerCase()),
  }));
  const matches = await findMatches(tx, secrets, toFind, { mailboxIds, nowMs });
  const rows: NewIncoming[] = [];
  for (const [i, { arrived, mail, found, leaver }] of fresh.entries()) {
    const match = leaver === null ? (matches[i] ?? null) : await leaverOf(tx, leaver);
    if (arrived.isOnlyOurs && match?.sureness !== 'sure') continue;
    const isNoise = match === null && ours.has(mail.from.toLowerCase());
    rows.push({
      ...rowOf(mailbox, arrived, mail, nowMs),
      kind: isNoise ? 'noise' : found.kind,
      because: isNoise ? OURS : reasons(found, match).join('; '),
      details: detailsOf(found),
      did: '',
      deliveryId: match?.to.delivery.id ?? null,
      enrolmentId: match?.to.enrolmentId ?? null,
      match: match?.sureness ?? null,
    });
  }
  const added = await addIncoming(tx, rows);
  for (const row of added) await settle(tx, row, nowMs);
  if (added.length > 0) await announce(tx, 'replies', 'today', 'progress');
}

/** Moved from one folder to another it is the same message. */
async function notTakenYet(tx: Queryable, mailbox: MailboxRow, read: readonly Read[]): Promise<Read[]> {
  const known = await knownMessageIds(
    tx,
    mailbox.id,
    read.map(({ mail }) => mail.messageId),
  );
  return read.filter(({ mail }, i) => {
    const isFirst = mail.messageId === '' || read.findIndex((r) => r.mail.messageId === mail.messageId) === i;
    return isFirst && !known.has(mail.messageId);
  });
}

const rowOf = (mailbox: MailboxRow, { uidValidity, uid, raw }: ArrivedMail, mail: ReadMail, nowMs: number) => ({
  ...{ mailboxId: mailbox.id, uidValidity, uid, raw, receivedAt: nowMs },
  ...{ fromName: mail.fromName, fromKey: mail.from.toLowerCase(), subject: mail.subject, body: mail.text },
  messageId: mail.messageId,
  parts: mail.parts,
});

/** Why it is taken for what it is, and whose; that it is its sender's goes without saying. */
const reasons = ({ because, sureness }: Classified, match: Found | null): string[] =>
  match && (match.sureness === 'unsure' || sureness === 'unsure') ? [...because, match.because] : because;

async function leaverOf(tx: Queryable, enrolmentId: number): Promise<Found | null> {
  const [to] = await candidatesOfEnrolment(tx, enrolmentId);
  return to ? { to, sureness: 'sure', because: BY_LINK } : null;
}
