import type { MatchCandidate } from '@baton/core';
import { and, desc, eq, gte, inArray, sql, type SQL } from 'drizzle-orm';
import type { Queryable } from '../database';
import { attempts, contacts, deliveries, enrolments } from '../schema/schema';
import type { DeliveryRow } from '../sending/delivery-rows';

/** A message that left, to which one that came in may belong. */
export interface Candidate extends MatchCandidate {
  delivery: DeliveryRow;
  enrolmentId: number;
}

/** As many of one kind are looked at. */
const MOST = 50;

async function candidates(db: Queryable, where: SQL | undefined, isNamed: boolean): Promise<Candidate[]> {
  const rows = await db
    .select({ delivery: deliveries, address: contacts.key, subject: attempts.subject, startedAt: attempts.startedAt })
    .from(attempts)
    .innerJoin(deliveries, eq(deliveries.id, attempts.deliveryId))
    .innerJoin(enrolments, eq(enrolments.id, deliveries.enrolmentId))
    .innerJoin(contacts, eq(contacts.id, enrolments.contactId))
    .where(where)
    .orderBy(desc(attempts.startedAt), desc(attempts.id))
    .limit(MOST);
  return rows.map(({ delivery, address, subject, startedAt }) => ({
    ...{ delivery, enrolmentId: delivery.enrolmentId, isNamed, address, subject },
    sentAt: delivery.sentAt ?? startedAt,
  }));
}

const hasLeft = inArray(deliveries.state, ['sent', 'unconfirmed', 'failed']);

/** Messages with these Message-IDs, in their order. */
export async function candidatesOfIds(db: Queryable, messageIds: readonly string[]): Promise<Candidate[]> {
  if (messageIds.length === 0) return [];
  const ids = [...messageIds];
  const order = sql`array_position(${sql.param(ids)}::text[], ${attempts.messageId})`;
  const found = await db
    .select({ deliveryId: attempts.deliveryId })
    .from(attempts)
    .where(inArray(attempts.messageId, ids))
    .orderBy(order)
    .limit(1);
  return found[0] ? candidates(db, eq(attempts.deliveryId, found[0].deliveryId), true) : [];
}

/** The messages of an enrolment that left. */
export const candidatesOfEnrolment = (db: Queryable, enrolmentId: number): Promise<Candidate[]> =>
  candidates(db, and(eq(deliveries.enrolmentId, enrolmentId), hasLeft), true);

/** Messages from some mailboxes to addresses. */
export async function candidatesTo(
  db: Queryable,
  keys: readonly string[],
  mailboxIds: readonly number[] | null,
): Promise<Candidate[]> {
  if (keys.length === 0) return [];
  const from = mailboxIds === null ? undefined : inArray(deliveries.mailboxId, [...mailboxIds]);
  return candidates(db, and(inArray(contacts.key, [...keys]), from, hasLeft), false);
}

/** Messages from some mailboxes since an instant, to people of a domain or with a subject. */
export function candidatesAlike(
  db: Queryable,
  { domain, subject }: { domain?: string; subject?: string },
  mailboxIds: readonly number[],
  sinceMs: number,
): Promise<Candidate[]> {
  const which = [
    ...(domain === undefined ? [] : [eq(contacts.domain, domain)]),
    ...(subject === undefined
      ? []
      : [sql`lower(regexp_replace(trim(${attempts.subject}), '\\s+', ' ', 'g')) = ${subject}`]),
  ];
  const recent = and(inArray(attempts.mailboxId, [...mailboxIds]), gte(attempts.startedAt, sinceMs));
  return candidates(db, and(recent, hasLeft, ...which), false);
}
