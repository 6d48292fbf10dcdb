import { dayWords, DomainError, isoDate, whyNotWritten, firstWords, nameOf } from '@baton/core';
import type { LetterState, PersonEvent, PersonProof, PersonView } from '@baton/contract';
import { applyEvent } from '../../campaigns/apply-event';
import type { ServerParts } from '../../http/context';
import { enrolledProof } from '../../messages/enrolled-proof';
import { filesOf } from '../../messages/proof-service';
import { wantPlan } from '../../planning/want-plan';
import { announce } from '../../store/changes';
import type { Database, Queryable } from '../../store/database';
import {
  campaignsOf,
  enrolmentOf,
  eraseContact,
  countEventsOf,
  eventsOf,
  incomingOf,
  listRowsOf,
  othersOnRowsOf,
  readContact,
  suppressionOf,
} from '../../store/people/person/person-rows';
import { lettersWith } from '../../store/reading/letter-rows';
import { notesOf } from '../../store/reading/note-rows';
import { countResults } from '../../store/results/result-counting';
import { readEnrolledMessages } from '../../store/sending/sent-rows';
import { readWorkspace } from '../../store/workspace-rows';
import type { WorkspaceRow } from '../../store/workspace-rows';
import { zones } from '../../time/zones';

/** Events of a person's history that are shown. */
const MOST_SHOWN = 500;

/**
 * @param most events of the history, the newest
 * @throws DomainError `not_found`
 */
export async function viewPerson(db: Queryable, id: number, most = MOST_SHOWN): Promise<PersonView> {
  const contact = await readContact(db, id);
  if (!contact) throw new DomainError('not_found', 'There is no such person, or they have been erased.');
  const [workspace, suppression, lists, campaigns, events, came, notes] = await Promise.all([
    readWorkspace(db),
    suppressionOf(db, contact),
    listRowsOf(db, id),
    campaignsOf(db, id),
    eventsOf(db, id, most),
    incomingOf(db, id),
    notesOf(db, id),
  ]);
  const fields = Object.fromEntries(lists.flatMap((l) => l.fields.map((f) => [f.key, f.value])));
  const next = (c: (typeof campaigns)[number]) => {
    const m = c.messages.find((d) => (d.state === 'planned' || d.state === 'deferred') && d.instant !== null);
    return m?.instant == null ? null : `${momentWords(m.instant, workspace)} from ${m.mailbox}`;
  };
  return {
    id,
    address: contact.address,
    name: nameOf(fields),
    standing: whyNotWritten({
      suppression: suppression?.reason ?? null,
      heldAll: workspace.heldAll,
      campaigns: campaigns.map((c) => ({
        campaign: c.name,
        campaignState: c.campaignState,
        state: c.state,
        reason: c.reason,
        next: next(c),
      })),
    }),
    suppression,
    lists: lists.map((l) => ({ id: l.id, name: l.name, fields: l.fields.map(({ name, value }) => ({ name, value })) })),
    campaigns: campaigns.map(({ enrolmentId: _, messages, ...c }) => ({
      ...c,
      mailbox: c.mailbox ?? messages[0]?.mailbox ?? null,
      messages: messages.map((m) => ({ step: m.step, state: m.state, at: m.sentAt ?? m.instant, subject: m.subject })),
    })),
    history: events.map((e) => eventOf(e, came)),
    historyTotal: events.length < most ? events.length : await countEventsOf(db, id),
    notes,
  };
}

type Came = Awaited<ReturnType<typeof incomingOf>>;

function eventOf(e: Awaited<ReturnType<typeof eventsOf>>[number], came: Came): PersonEvent {
  const { at, kind, campaign } = e;
  // What came in is noted at the moment it was taken.
  const mail = kind === 'sent' ? undefined : came.find((m) => m.receivedAt === at);
  const sent = e.nth === 0 ? 'the first message' : `follow-up ${e.nth}`;
  const words = kind === 'sent' ? sent : mail && kind === 'reply' ? firstWords(mail.body, MOST_WORDS) : e.detail;
  return { at, kind, campaign, words, incomingId: mail?.id ?? null, canUndo: mail?.canUndo ?? false };
}

/** Characters of what somebody wrote. */
const MOST_WORDS = 160;

function momentWords(instant: number, { zone, dateForm }: Pick<WorkspaceRow, 'zone' | 'dateForm'>): string {
  const { day, minute } = zones.get(zone).toLocal(instant);
  const two = (n: number) => String(Math.floor(n)).padStart(2, '0');
  return `on ${dayWords(isoDate(day), 'short', dateForm)} at ${two(minute / 60)}:${two(minute % 60)}`;
}

/** A message of a campaign as the person's row makes it now. @throws DomainError `not_found` */
export async function proofForPerson(
  parts: ServerParts,
  id: number,
  campaignId: number,
  step: number,
): Promise<PersonProof> {
  const { db } = parts.store;
  const enrolmentId = await enrolmentOf(db, id, campaignId);
  const [message] = enrolmentId === null ? [] : await readEnrolledMessages(db, { enrolmentId, step });
  if (!message?.content) throw new DomainError('not_found', 'There is no such message to this person.');
  const { proof, mailbox } = await enrolledProof(parts, message);
  return {
    from: `${proof.senderName || mailbox.senderName} <${mailbox.address}>`,
    to: message.address,
    subject: proof.subject,
    html: proof.html,
    pictures: (await filesOf(db, proof)).pictures,
    text: proof.text,
    sentSubject: message.sentSubject,
  };
}

/** Everything held about a person, as one JSON document. */
export async function exportPerson(
  db: Queryable,
  id: number,
): Promise<PersonView & { received: Came; written: Written }> {
  const [person, received, letters] = await Promise.all([
    viewPerson(db, id, Number.MAX_SAFE_INTEGER),
    incomingOf(db, id),
    lettersWith(db, { contactId: id }, Number.MAX_SAFE_INTEGER),
  ]);
  const written = letters.map(({ letter: { sentAt, state, subject, body }, mailbox }) => ({
    ...{ sentAt, state, subject, body, mailbox },
  }));
  return { ...person, received, written };
}

/** Letters by hand. */
type Written = { sentAt: number | null; state: LetterState; subject: string; body: string; mailbox: string }[];

/** Erases everything held about a person but an entry of the suppression list, which keeps them from being written to again. */
export async function erasePerson(db: Database, id: number, nowMs: number): Promise<void> {
  await db.transaction(async (tx) => {
    if (!(await readContact(tx, id)))
      throw new DomainError('not_found', 'There is no such person, or they have been erased.');
    // Rows of theirs that a campaign took for somebody else's, before the address in them was changed.
    for (const other of await othersOnRowsOf(tx, id))
      await applyEvent(tx, { kind: 'row_erased', contactId: other.contactId, cause: other.enrolmentId, nowMs });
    await eraseContact(tx, id);
    await wantPlan(tx, nowMs);
    await announce(tx, 'people', 'progress', 'replies', 'today');
  });
  // What results kept of them goes at once, not with what is counted next.
  await countResults({ db });
}
