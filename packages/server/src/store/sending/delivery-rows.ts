import { COUNTED_DELIVERIES } from '@baton/core';
import {
  and,
  asc,
  desc,
  eq,
  gte,
  inArray,
  isNull,
  lt,
  max,
  ne,
  not,
  or,
  sql,
  type SQL,
  type SQLWrapper,
} from 'drizzle-orm';
import type { Queryable } from '../database';
import { attempts, campaigns, contacts, deliveries, enrolments } from '../schema/schema';
import { isOneOf, isWaiting } from '../campaigns/state-conditions';

export type DeliveryRow = typeof deliveries.$inferSelect;

const waits = isWaiting(deliveries.state);

export async function updateDelivery(tx: Queryable, id: number, change: Partial<DeliveryRow>): Promise<void> {
  await tx.update(deliveries).set(change).where(eq(deliveries.id, id));
}

export async function lockDelivery(tx: Queryable, id: number): Promise<DeliveryRow | null> {
  const [row] = await tx.select().from(deliveries).where(eq(deliveries.id, id)).for('update');
  return row ?? null;
}

export async function readDelivery(db: Queryable, id: number): Promise<DeliveryRow | null> {
  const [row] = await db.select().from(deliveries).where(eq(deliveries.id, id));
  return row ?? null;
}

/** How many messages of the same recipient come before a delivery, sent or planned: 0 for their first. */
export const messagesBefore = (d: SQLWrapper | typeof deliveries): SQL<number> =>
  sql<number>`(select count(*)::int from ${deliveries} earlier where earlier.enrolment_id = ${d}.enrolment_id
    and coalesce(earlier.sent_at, earlier.instant) < coalesce(${d}.sent_at, ${d}.instant))`;

/** Messages to come of one enrolment, from a day on. */
export async function countPlanned(db: Queryable, enrolmentId: number, fromDay: number): Promise<number> {
  const [row] = await db
    .select({ n: sql<number>`count(*)::int` })
    .from(deliveries)
    .where(and(eq(deliveries.enrolmentId, enrolmentId), eq(deliveries.state, 'planned'), gte(deliveries.day, fromDay)));
  return row?.n ?? 0;
}

export async function lastAttempt(
  db: Queryable,
  deliveryId: number,
): Promise<{ id: number; startedAt: number } | null> {
  const [row] = await db
    .select({ id: attempts.id, startedAt: attempts.startedAt })
    .from(attempts)
    .where(eq(attempts.deliveryId, deliveryId))
    .orderBy(desc(attempts.id))
    .limit(1);
  return row ?? null;
}

/** A message that is to be sent once more: that it had left before is not forgotten with it. */
export const hasLeftBefore = sql`exists (select from ${attempts} a where a.delivery_id = ${deliveries.id} and a.verdict = 'accepted')`;

/** Removes what was planned for a recipient and has never left. */
export async function removePlanned(tx: Queryable, enrolmentId: number): Promise<void> {
  await tx.delete(deliveries).where(and(eq(deliveries.enrolmentId, enrolmentId), waits, not(hasLeftBefore)));
}

/** What was to be sent once more to a recipient is not. */
export async function failReturned(tx: Queryable, enrolmentId: number): Promise<void> {
  await tx
    .update(deliveries)
    .set({ state: 'failed', instant: null })
    .where(and(eq(deliveries.enrolmentId, enrolmentId), waits, hasLeftBefore));
}

/** The mailbox-local day of the last message that was sent to a recipient, of all but one; null where there is none. */
export async function lastSentDayBut(db: Queryable, enrolmentId: number, deliveryId: number): Promise<number | null> {
  const [row] = await db
    .select({ day: deliveries.day })
    .from(deliveries)
    .where(and(eq(deliveries.enrolmentId, enrolmentId), ne(deliveries.id, deliveryId), eq(deliveries.state, 'sent')))
    .orderBy(desc(deliveries.sentAt))
    .limit(1);
  return row?.day ?? null;
}

export async function updateAttempt(
  tx: Queryable,
  id: number,
  change: { verdict: string; answer: string },
): Promise<void> {
  await tx.update(attempts).set(change).where(eq(attempts.id, id));
}

/** Gives a try its verdict, unless it has one. @returns whether it had none */
export async function closeAttempt(
  tx: Queryable,
  id: number,
  change: { verdict: string; answer: string },
): Promise<boolean> {
  const closed = await tx
    .update(attempts)
    .set(change)
    .where(and(eq(attempts.id, id), isNull(attempts.verdict)))
    .returning({ id: attempts.id });
  return closed.length > 0;
}

/** Messages of campaigns that have left, or may have, by mailbox-local day, from a day on. */
export async function sentByDay(
  db: Queryable,
  campaignIds: readonly number[],
  fromDay: number,
): Promise<{ campaignId: number; day: number; messages: number }[]> {
  if (campaignIds.length === 0) return [];
  return db
    .select({ campaignId: deliveries.campaignId, day: deliveries.day, messages: sql<number>`count(*)::int` })
    .from(deliveries)
    .where(
      and(
        inArray(deliveries.campaignId, [...campaignIds]),
        isOneOf(deliveries.state, COUNTED_DELIVERIES),
        gte(deliveries.day, fromDay),
      ),
    )
    .groupBy(deliveries.campaignId, deliveries.day);
}

/**
 * Takes the times of what was planned before an instant and has not left: it is to be planned anew. What another transaction
 * is changing is left as it is, and found at the next claim: waiting for it could end in a deadlock.
 */
export async function dropLate(tx: Queryable, mailboxId: number, beforeMs: number): Promise<void> {
  const late = tx
    .select({ id: deliveries.id })
    .from(deliveries)
    .where(
      and(
        eq(deliveries.mailboxId, mailboxId),
        eq(deliveries.state, 'planned'),
        lt(deliveries.instant, beforeMs),
        isNull(deliveries.heldAt),
      ),
    )
    .for('update', { skipLocked: true });
  await tx.update(deliveries).set({ instant: null }).where(inArray(deliveries.id, late));
}

/** Deliveries of a mailbox that have been in `sending` since before an instant, with the Message-ID of their last try. */
export async function leftInSending(
  db: Queryable,
  mailboxId: number,
): Promise<
  { delivery: DeliveryRow; attemptId: number; messageId: string; startedAt: number; lookedAt: number | null }[]
> {
  return db
    .selectDistinct({
      delivery: deliveries,
      attemptId: attempts.id,
      messageId: attempts.messageId,
      startedAt: attempts.startedAt,
      lookedAt: attempts.lookedAt,
    })
    .from(deliveries)
    .innerJoin(attempts, and(eq(attempts.deliveryId, deliveries.id), isNull(attempts.verdict)))
    .where(and(eq(deliveries.state, 'sending'), eq(deliveries.mailboxId, mailboxId)));
}

/** Notes that a try that broke off has been looked for and was not there. */
export async function noteLook(tx: Queryable, attemptId: number, atMs: number): Promise<void> {
  await tx.update(attempts).set({ lookedAt: atMs }).where(eq(attempts.id, attemptId));
}

/** Messages of which nobody knows whether they left. */
export async function unconfirmedDeliveries(
  db: Queryable,
  limit: number,
): Promise<{ id: number; campaignId: number; to: string; reason: string }[]> {
  return db
    .select({ id: deliveries.id, campaignId: deliveries.campaignId, to: contacts.address, reason: deliveries.reason })
    .from(deliveries)
    .innerJoin(enrolments, eq(enrolments.id, deliveries.enrolmentId))
    .innerJoin(contacts, eq(contacts.id, enrolments.contactId))
    .where(eq(deliveries.state, 'unconfirmed'))
    .orderBy(asc(deliveries.id))
    .limit(limit);
}

export async function countUnconfirmed(db: Queryable): Promise<number> {
  const [row] = await db
    .select({ n: sql<number>`count(*)::int` })
    .from(deliveries)
    .where(eq(deliveries.state, 'unconfirmed'));
  return row?.n ?? 0;
}

/** A mailbox's day for the screen: every message with its instant and what became of it. */
export async function dayOfMailboxes(db: Queryable, fromMs: number, toMs: number) {
  const at = sql<string>`coalesce(${deliveries.sentAt}, ${deliveries.instant})`;
  const rows = await db
    .select({
      id: deliveries.id,
      mailboxId: deliveries.mailboxId,
      campaignId: deliveries.campaignId,
      step: deliveries.step,
      state: deliveries.state,
      enrolmentState: enrolments.state,
      at,
    })
    .from(deliveries)
    .innerJoin(enrolments, eq(enrolments.id, deliveries.enrolmentId))
    .where(
      or(
        and(gte(deliveries.sentAt, fromMs), lt(deliveries.sentAt, toMs)),
        and(isNull(deliveries.sentAt), gte(deliveries.instant, fromMs), lt(deliveries.instant, toMs)),
      ),
    )
    .orderBy(asc(at));
  return rows.map((r) => ({ ...r, at: Number(r.at) }));
}

/** When the next message after a moment is planned; null when none is. */
export async function nextPlanned(db: Queryable, fromMs: number): Promise<number | null> {
  const [row] = await db
    .select({ at: sql<string | null>`min(${deliveries.instant})` })
    .from(deliveries)
    .where(and(waits, gte(deliveries.instant, fromMs)));
  return row?.at == null ? null : Number(row.at);
}

/** The last day on which each running campaign has a message planned, by number. */
export async function lastDays(db: Queryable): Promise<Map<number, number>> {
  const rows = await db
    .select({ id: deliveries.campaignId, day: max(deliveries.day) })
    .from(deliveries)
    .innerJoin(campaigns, and(eq(campaigns.id, deliveries.campaignId), eq(campaigns.state, 'running')))
    .where(eq(deliveries.state, 'planned'))
    .groupBy(deliveries.campaignId);
  return new Map(rows.map(({ id, day }) => [id, day as number]));
}

/** The plan from a day on: how many messages each mailbox has each day, by campaign and kind. */
export async function planByDay(
  db: Queryable,
  campaignId: number,
): Promise<{ mailboxId: number; day: number; first: number; followUps: number }[]> {
  return db
    .select({
      mailboxId: deliveries.mailboxId,
      day: deliveries.day,
      first: sql<number>`count(*) filter (where ${deliveries.step} = 0)::int`,
      followUps: sql<number>`count(*) filter (where ${deliveries.step} > 0)::int`,
    })
    .from(deliveries)
    .where(eq(deliveries.campaignId, campaignId))
    .groupBy(deliveries.mailboxId, deliveries.day)
    .orderBy(asc(deliveries.day), asc(deliveries.mailboxId));
}
