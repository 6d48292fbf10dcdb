import { DomainError, ownWords } from '@baton/core';
import type { MailParts, ThreadMessage, ThreadView } from '@baton/contract';
import type { ServerParts } from '../http/context';
import { enrolledProof } from '../messages/enrolled-proof';
import { readEnrolment } from '../store/campaigns/campaign-rows';
import type { Queryable } from '../store/database';
import { enrolmentIdsOf } from '../store/people/person/person-rows';
import { lettersWith } from '../store/reading/letter-rows';
import { notesOf } from '../store/reading/note-rows';
import { listIncoming, readIncoming as readRow, updateIncoming, type IncomingRow } from '../store/reading/reply-rows';
import { readEnrolledMessages } from '../store/sending/sent-rows';
import { viewAnswer } from './answers';
import { NO_PARTS } from './mail-parts';
import { readIncoming } from './read-incoming';

/** Messages of a thread that are shown, the newest. */
const MOST_SHOWN = 100;

/** Everything exchanged with the person of a message, whoever wrote it and with whatever, oldest first. */
export async function viewThread(parts: ServerParts, id: number): Promise<ThreadView> {
  const { db } = parts.store;
  const incoming = await readRow(db, id);
  if (!incoming) throw new DomainError('not_found', 'There is no such message.');
  const person = incoming.enrolmentId === null ? null : await readEnrolment(db, incoming.enrolmentId);
  const contactId = person?.contactId ?? null;
  const all = [
    ...(contactId === null ? [] : await sentTo(parts, contactId)),
    ...(await cameFrom(db, incoming, contactId)),
    ...(await byHand(db, contactId === null ? { key: incoming.fromKey } : { contactId })),
  ].sort((a, b) => a.at - b.at);
  // The one that was opened is always there.
  const shown = all.filter((m, i) => i >= all.length - MOST_SHOWN || m.incomingId === id);
  return {
    messages: shown,
    others: all.length - shown.length,
    notes: contactId === null ? [] : await notesOf(db, contactId),
    contactId,
    answer: await viewAnswer(parts, incoming),
  };
}

const OWN = {
  incomingId: null,
  letterId: null,
  state: 'sent',
  reason: '',
  whole: '',
  campaign: '',
  parts: NO_PARTS,
} as const;

/** Messages of campaigns; rebuilt from what is stored. */
async function sentTo(parts: ServerParts, contactId: number): Promise<ThreadMessage[]> {
  const { db } = parts.store;
  const out: ThreadMessage[] = [];
  for (const enrolmentId of await enrolmentIdsOf(db, contactId)) {
    for (const message of await readEnrolledMessages(db, { enrolmentId })) {
      if (message.sentAt === null) continue;
      const { proof, mailbox } = await enrolledProof(parts, message);
      out.push({
        ...OWN,
        key: `campaign ${enrolmentId} ${message.step}`,
        from: 'campaign',
        at: message.sentAt,
        who: proof.senderName || mailbox.senderName,
        mailbox: mailbox.address,
        campaign: message.campaignName,
        subject: message.sentSubject ?? proof.subject,
        text: proof.text,
      });
    }
  }
  return out;
}

async function cameFrom(
  db: Queryable,
  { id, fromKey }: IncomingRow,
  contactId: number | null,
): Promise<ThreadMessage[]> {
  const page = { offset: 0, limit: MOST_SHOWN };
  const whose = contactId === null ? { fromNobody: fromKey } : { contactId };
  const found = await listIncoming(db, whose, page);
  if (!found.some((r) => r.id === id)) found.push(...(await listIncoming(db, { id }, { offset: 0, limit: 1 })));
  const out: ThreadMessage[] = [];
  for (const { body, ...r } of found.reverse()) {
    const text = ownWords(body);
    out.push({
      ...OWN,
      key: `incoming ${r.id}`,
      from: 'them',
      incomingId: r.id,
      at: r.receivedAt,
      who: r.fromName || r.fromKey,
      mailbox: r.mailbox,
      subject: r.subject,
      text,
      whole: body.trim() === text.trim() ? '' : body,
      parts: r.parts ?? (await partsOfOld(db, r.id)),
    });
  }
  return out;
}

/** Of a message that was taken before its parts were kept. */
async function partsOfOld(db: Queryable, id: number): Promise<MailParts> {
  const row = await readRow(db, id);
  if (!row) return NO_PARTS;
  const { parts } = await readIncoming(row.raw);
  await updateIncoming(db, id, { parts });
  return parts;
}

async function byHand(db: Queryable, whom: Parameters<typeof lettersWith>[1]): Promise<ThreadMessage[]> {
  return (await lettersWith(db, whom, MOST_SHOWN)).reverse().map(({ letter, mailbox, senderName }) => {
    const isFound = letter.raw !== null;
    const text = isFound ? ownWords(letter.body) : letter.body;
    return {
      ...OWN,
      key: `letter ${letter.id}`,
      from: 'hand',
      letterId: letter.id,
      state: letter.state,
      reason: letter.reason,
      at: letter.sentAt ?? letter.writtenAt,
      who: senderName,
      mailbox,
      subject: letter.subject,
      text,
      whole: text.trim() === letter.body.trim() ? '' : letter.body,
      parts: letter.parts ?? NO_PARTS,
    };
  });
}
