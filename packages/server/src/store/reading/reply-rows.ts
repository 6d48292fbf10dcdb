import type { IncomingKind } from '@baton/core';
import { and, count, desc, eq, inArray, isNull, sql } from 'drizzle-orm';
import { batches, type Queryable } from '../database';
import { campaigns, enrolments, incoming, mailboxes } from '../schema/schema';
import { takesOutcome } from '../campaigns/state-conditions';

export type IncomingRow = typeof incoming.$inferSelect;

/** @returns its id, or null when this message of the mailbox has been taken before */
export async function addIncoming(
  tx: Queryable,
  row: Omit<typeof incoming.$inferInsert, 'id'>,
): Promise<number | null> {
  const [added] = await tx.insert(incoming).values(row).onConflictDoNothing().returning({ id: incoming.id });
  return added?.id ?? null;
}

/** Which of these Message-IDs a mailbox has had before. */
export async function knownMessageIds(
  db: Queryable,
  mailboxId: number,
  messageIds: readonly string[],
): Promise<Set<string>> {
  const known = new Set<string>();
  for (const some of batches(messageIds)) {
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

export async function updateIncoming(
  db: Queryable,
  id: number,
  change: Partial<Pick<IncomingRow, 'outcome' | 'did'>>,
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
  outcome: incoming.outcome,
  mailbox: mailboxes.address,
  campaignId: enrolments.campaignId,
  campaign: campaigns.name,
  enrolmentId: incoming.enrolmentId,
};

/** Which of the messages that came in are meant. */
export interface IncomingFilter {
  /** Of these kinds; all where it is absent. */
  kinds?: readonly IncomingKind[];
  /** Only those that a person has still to give an outcome. */
  isWaiting?: boolean;
  id?: number;
}

const whereOf = ({ kinds, isWaiting, id }: IncomingFilter) =>
  and(
    kinds && inArray(incoming.kind, [...kinds]),
    isWaiting ? and(takesOutcome(incoming.kind), isNull(incoming.outcome)) : undefined,
    id === undefined ? undefined : eq(incoming.id, id),
  );

/** What came in, newest first; mail that concerns no campaign is left where it is. */
export async function listIncoming(db: Queryable, filter: IncomingFilter, page: { offset: number; limit: number }) {
  return db
    .select(columns)
    .from(incoming)
    .innerJoin(mailboxes, eq(mailboxes.id, incoming.mailboxId))
    .innerJoin(enrolments, eq(enrolments.id, incoming.enrolmentId))
    .innerJoin(campaigns, eq(campaigns.id, enrolments.campaignId))
    .where(whereOf(filter))
    .orderBy(desc(incoming.receivedAt), desc(incoming.id))
    .offset(page.offset)
    .limit(page.limit);
}

/** How many of each kind have come in, and how many of them wait for an outcome. */
export async function countIncoming(db: Queryable): Promise<{ kind: IncomingKind; n: number; waiting: number }[]> {
  return db
    .select({
      kind: incoming.kind,
      n: count(),
      waiting: sql<number>`count(*) filter (where ${takesOutcome(incoming.kind)} and ${isNull(incoming.outcome)})::int`,
    })
    .from(incoming)
    .innerJoin(enrolments, eq(enrolments.id, incoming.enrolmentId))
    .groupBy(incoming.kind);
}

export async function countWithoutOutcome(db: Queryable): Promise<number> {
  return (await countIncoming(db)).reduce((sum, { waiting }) => sum + waiting, 0);
}
