import type { IncomingKind } from '@baton/core';
import { and, desc, eq, ilike, inArray, isNotNull, isNull, ne, or, sql, type SQL } from 'drizzle-orm';
import { batches, like, type Queryable } from '../database';
import { campaigns, contacts, enrolments, incoming, mailboxes } from '../schema/schema';
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
  details: incoming.details,
  readAs: incoming.readAs,
  match: incoming.match,
  person: contacts.address,
  outcome: incoming.outcome,
  mailbox: mailboxes.address,
  campaignId: enrolments.campaignId,
  campaign: sql<string>`coalesce(${campaigns.name}, '')`,
  enrolmentId: incoming.enrolmentId,
};

/** Which of the messages that came in are meant. */
export interface IncomingFilter {
  /** Of these kinds, and somebody's; all where it is absent. */
  kinds?: readonly IncomingKind[];
  /** Only those about which a person has still to decide. */
  isWaiting?: boolean;
  /** Only those of nobody who was written to. */
  isUnmatched?: boolean;
  /** Only those with this in name, address, subject or text; '' finds all. */
  search?: string;
  id?: number;
}

const isSomebodys = isNotNull(incoming.enrolmentId);
/** A person gives it an outcome, or says whether it is theirs. */
const isWaiting = and(
  isSomebodys,
  or(and(takesOutcome(incoming.kind), isNull(incoming.outcome)), eq(incoming.match, 'unsure')),
) as SQL;
const isUnmatched = and(isNull(incoming.enrolmentId), ne(incoming.kind, 'noise')) as SQL;

const whereOf = ({ kinds, search = '', id, ...only }: IncomingFilter) => {
  const pattern = like(search);
  return and(
    kinds && and(isSomebodys, inArray(incoming.kind, [...kinds])),
    only.isWaiting ? isWaiting : undefined,
    only.isUnmatched ? isUnmatched : undefined,
    search === ''
      ? undefined
      : or(...[incoming.fromName, incoming.fromKey, incoming.subject, incoming.body].map((c) => ilike(c, pattern))),
    id === undefined ? undefined : eq(incoming.id, id),
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

/** How many of a kind have come in: of somebody, of nobody, and how many of them wait for a person to decide. */
export interface IncomingCount {
  kind: IncomingKind;
  matched: number;
  unmatched: number;
  waiting: number;
}

export async function countIncoming(db: Queryable, search = ''): Promise<IncomingCount[]> {
  return db
    .select({
      kind: incoming.kind,
      matched: countIf(isSomebodys),
      unmatched: countIf(isNull(incoming.enrolmentId)),
      waiting: countIf(isWaiting),
    })
    .from(incoming)
    .where(whereOf({ search }))
    .groupBy(incoming.kind);
}

const countIf = (condition: SQL) => sql<number>`(count(*) filter (where ${condition}))::int`;

/** How many wait for a person to decide, and how many are nobody's. */
export async function countToDecide(db: Queryable): Promise<{ waiting: number; unmatched: number }> {
  const [row] = await db.select({ waiting: countIf(isWaiting), unmatched: countIf(isUnmatched) }).from(incoming);
  return row ?? { waiting: 0, unmatched: 0 };
}
