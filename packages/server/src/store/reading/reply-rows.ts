import type { IncomingKind } from '@baton/core';
import { and, desc, eq, ilike, inArray, isNotNull, isNull, lte, ne, or, sql, type SQL } from 'drizzle-orm';
import { batches, like, type Queryable } from '../database';
import { campaigns, contacts, enrolments, incoming, letters, mailboxes } from '../schema/schema';
import { takesOutcome } from '../campaigns/state-conditions';

export type IncomingRow = typeof incoming.$inferSelect;

export type NewIncoming = Omit<typeof incoming.$inferInsert, 'id'>;

/** @returns those that this mailbox has not had before, in their order */
export async function addIncoming(tx: Queryable, rows: readonly NewIncoming[]): Promise<IncomingRow[]> {
  if (rows.length === 0) return [];
  const added = await tx
    .insert(incoming)
    .values([...rows])
    .onConflictDoNothing()
    .returning();
  return added.sort((a, b) => a.id - b.id);
}

/** Which of these Message-IDs a mailbox has had before. */
export async function knownMessageIds(
  db: Queryable,
  mailboxId: number,
  messageIds: readonly string[],
): Promise<Set<string>> {
  const known = new Set<string>();
  for (const some of batches(messageIds.filter((id) => id !== ''))) {
    const rows = await db
      .select({ messageId: incoming.messageId })
      .from(incoming)
      .where(and(eq(incoming.mailboxId, mailboxId), inArray(incoming.messageId, [...some])));
    for (const { messageId } of rows) known.add(messageId);
  }
  return known;
}

export async function readIncoming(db: Queryable, id: number): Promise<IncomingRow | null> {
  const [row] = await db.select().from(incoming).where(eq(incoming.id, id));
  return row ?? null;
}

/** As `readIncoming`, and nobody else changes it meanwhile. */
export async function lockIncoming(tx: Queryable, id: number): Promise<IncomingRow | null> {
  const [row] = await tx.select().from(incoming).where(eq(incoming.id, id)).for('update');
  return row ?? null;
}

export async function updateIncoming(
  db: Queryable,
  id: number,
  change: Partial<Omit<IncomingRow, 'id' | 'raw'>>,
): Promise<void> {
  await db.update(incoming).set(change).where(eq(incoming.id, id));
}

const columns = {
  id: incoming.id,
  kind: incoming.kind,
  receivedAt: incoming.receivedAt,
  fromName: incoming.fromName,
  fromKey: incoming.fromKey,
  subject: incoming.subject,
  body: incoming.body,
  because: incoming.because,
  did: incoming.did,
  canUndo: sql<boolean>`${incoming.before} is not null`,
  heldColleagues: sql<number>`coalesce(jsonb_array_length(jsonb_path_query_array(${incoming.before}, '$.enrolments[*] ? (@.isColleague == true)')), 0)`,
  details: incoming.details,
  readAs: incoming.readAs,
  match: incoming.match,
  person: contacts.address,
  outcome: incoming.outcome,
  assignedTo: incoming.assignedTo,
  remindOn: incoming.remindOn,
  isAnswered: sql<boolean>`exists (select from ${letters} l where l.state in ('waiting', 'sending', 'sent', 'unconfirmed')
    and (l.incoming_id = ${incoming.id} or l.contact_id = ${enrolments.contactId})
    and coalesce(l.sent_at, l.written_at) >= ${incoming.receivedAt})`,
  mailbox: mailboxes.address,
  campaignId: enrolments.campaignId,
  campaign: sql<string>`coalesce(${campaigns.name}, '')`,
  enrolmentId: incoming.enrolmentId,
  parts: incoming.parts,
};

/** Which of the messages that came in are meant. */
export interface IncomingFilter {
  /** Of these kinds, and somebody's; all where it is absent. */
  kinds?: readonly IncomingKind[];
  /** Only those about which a person has still to decide, on this day (ISO date). */
  waitsOn?: string;
  /** Only those that come back to a person after this day (ISO date). */
  laterThan?: string;
  /** Only those of nobody who was written to. */
  isUnmatched?: boolean;
  /** Only those with this in name, address, subject or text; '' finds all. */
  search?: string;
  /** Only those of this colleague; '' finds all. */
  assignedTo?: string;
  id?: number;
  /** Only those of this person. */
  contactId?: number;
  /** Only those of nobody, from this address. */
  fromNobody?: string;
}

const isSomebodys = isNotNull(incoming.enrolmentId);
const comesBackAfter = (day: string): SQL => sql`coalesce(${incoming.remindOn} > ${day}, false)`;
/** A person gives it an outcome, says whether it is theirs, or wanted to be reminded of it by then. */
const waitsOn = (day: string): SQL =>
  or(
    and(
      isSomebodys,
      or(and(takesOutcome(incoming.kind), isNull(incoming.outcome)), eq(incoming.match, 'unsure')),
      sql`not ${comesBackAfter(day)}`,
    ),
    lte(incoming.remindOn, day),
  ) as SQL;
const isUnmatched = and(isNull(incoming.enrolmentId), ne(incoming.kind, 'noise')) as SQL;

const whereOf = ({ kinds, search = '', assignedTo = '', ...only }: IncomingFilter) => {
  const pattern = like(search);
  return and(
    kinds && and(isSomebodys, inArray(incoming.kind, [...kinds])),
    only.waitsOn === undefined ? undefined : waitsOn(only.waitsOn),
    only.laterThan === undefined ? undefined : comesBackAfter(only.laterThan),
    only.isUnmatched ? isUnmatched : undefined,
    search === ''
      ? undefined
      : or(...[incoming.fromName, incoming.fromKey, incoming.subject, incoming.body].map((c) => ilike(c, pattern))),
    assignedTo === '' ? undefined : eq(incoming.assignedTo, assignedTo),
    only.id === undefined ? undefined : eq(incoming.id, only.id),
    only.contactId === undefined ? undefined : eq(enrolments.contactId, only.contactId),
    only.fromNobody === undefined
      ? undefined
      : and(isNull(incoming.enrolmentId), eq(incoming.fromKey, only.fromNobody)),
  );
};

/** What came in, newest first. */
export async function listIncoming(db: Queryable, filter: IncomingFilter, page: { offset: number; limit: number }) {
  return db
    .select(columns)
    .from(incoming)
    .innerJoin(mailboxes, eq(mailboxes.id, incoming.mailboxId))
    .leftJoin(enrolments, eq(enrolments.id, incoming.enrolmentId))
    .leftJoin(contacts, eq(contacts.id, enrolments.contactId))
    .leftJoin(campaigns, eq(campaigns.id, enrolments.campaignId))
    .where(whereOf(filter))
    .orderBy(desc(incoming.receivedAt), desc(incoming.id))
    .offset(page.offset)
    .limit(page.limit);
}

/** How many of a kind have come in: of somebody, of nobody, that wait for a person, and that come back to one later. */
export interface IncomingCount {
  kind: IncomingKind;
  matched: number;
  unmatched: number;
  waiting: number;
  later: number;
}

/** @param day ISO date of today */
export async function countIncoming(
  db: Queryable,
  filter: Pick<IncomingFilter, 'search' | 'assignedTo'>,
  day: string,
): Promise<IncomingCount[]> {
  return db
    .select({
      kind: incoming.kind,
      matched: countIf(isSomebodys),
      unmatched: countIf(isNull(incoming.enrolmentId)),
      waiting: countIf(waitsOn(day)),
      later: countIf(comesBackAfter(day)),
    })
    .from(incoming)
    .where(whereOf(filter))
    .groupBy(incoming.kind);
}

const countIf = (condition: SQL) => sql<number>`(count(*) filter (where ${condition}))::int`;

/** How many wait for a person to decide, and how many are nobody's. */
export async function countToDecide(db: Queryable, day: string): Promise<{ waiting: number; unmatched: number }> {
  const [row] = await db.select({ waiting: countIf(waitsOn(day)), unmatched: countIf(isUnmatched) }).from(incoming);
  return row ?? { waiting: 0, unmatched: 0 };
}

/** Names of colleagues to whom messages are assigned. */
export async function listColleagues(db: Queryable): Promise<string[]> {
  const rows = await db
    .selectDistinct({ name: incoming.assignedTo })
    .from(incoming)
    .where(ne(incoming.assignedTo, ''))
    .orderBy(incoming.assignedTo);
  return rows.map((r) => r.name);
}

/** The day on which a message comes back, if that is after today. */
const stillComesBack = (day: string): SQL => sql`case when ${comesBackAfter(day)} then ${incoming.remindOn} end`;

/** It has been dealt with: if it came back for that, it need not any more. @param day ISO date of today */
export async function forgetReminder(db: Queryable, id: number, day: string): Promise<void> {
  await db
    .update(incoming)
    .set({ remindOn: stillComesBack(day) })
    .where(eq(incoming.id, id));
}

/**
 * Changes several messages at once; an outcome only where the kind takes one. Whoever says what one comes to has been reminded
 * of it.
 *
 * @param day ISO date of today
 * @returns how many were changed
 */
export async function changeIncoming(
  db: Queryable,
  ids: readonly number[],
  { outcome, ...change }: Partial<Pick<IncomingRow, 'outcome' | 'assignedTo' | 'remindOn'>>,
  day: string,
): Promise<number> {
  const set = {
    ...(outcome === undefined ? {} : { remindOn: stillComesBack(day) }),
    ...change,
    ...(outcome === undefined
      ? {}
      : { outcome: sql`case when ${takesOutcome(incoming.kind)} then ${outcome} else ${incoming.outcome} end` }),
  };
  const changed = await db
    .update(incoming)
    .set(set)
    .where(inArray(incoming.id, [...ids]))
    .returning({ id: incoming.id });
  return changed.length;
}
