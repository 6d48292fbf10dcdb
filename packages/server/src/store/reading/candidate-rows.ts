import type { MatchCandidate } from '@baton/core';
import { and, desc, eq, gte, inArray, or, sql, type SQL } from 'drizzle-orm';
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

async function candidates(
  db: Queryable,
  where: SQL | undefined,
  isNamed: boolean,
  most = MOST,
): Promise<(Candidate & { messageId: string })[]> {
  const rows = await db
    .select({
      delivery: deliveries,
      address: contacts.key,
      subject: attempts.subject,
      startedAt: attempts.startedAt,
      messageId: attempts.messageId,
    })
    .from(attempts)
    .innerJoin(deliveries, eq(deliveries.id, attempts.deliveryId))
    .innerJoin(enrolments, eq(enrolments.id, deliveries.enrolmentId))
    .innerJoin(contacts, eq(contacts.id, enrolments.contactId))
    .where(where)
    .orderBy(desc(attempts.startedAt), desc(attempts.id))
    .limit(most);
  return rows.map(({ delivery, address, subject, startedAt, messageId }) => ({
    ...{ delivery, enrolmentId: delivery.enrolmentId, isNamed, address, subject, messageId },
    sentAt: delivery.sentAt ?? startedAt,
  }));
}

/** Also one that is to be sent once more. */
const hasLeft = or(inArray(deliveries.state, ['sent', 'unconfirmed', 'failed']), eq(attempts.verdict, 'accepted'));

/** Messages with these Message-IDs, by them. */
export async function candidatesOfIds(db: Queryable, messageIds: readonly string[]): Promise<Map<string, Candidate>> {
  if (messageIds.length === 0) return new Map();
  const found = await candidates(db, inArray(attempts.messageId, [...messageIds]), true, messageIds.length);
  return new Map(found.map((c) => [c.messageId, c]));
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
  return candidates(db, and(inArray(contacts.key, [...keys]), from, hasLeft), false, MOST * keys.length);
}

/** Messages from some mailboxes since an instant, to people of a domain ('' for none) or with a subject ('' for none). */
export function candidatesAlike(
  db: Queryable,
  { domain, subject }: { domain: string; subject: string },
  mailboxIds: readonly number[],
  sinceMs: number,
): Promise<Candidate[]> {
  const which = [
    ...(domain === '' ? [] : [eq(contacts.domain, domain)]),
    ...(subject === '' ? [] : [sql`lower(regexp_replace(trim(${attempts.subject}), '\\s+', ' ', 'g')) = ${subject}`]),
  ];
  if (which.length === 0) return Promise.resolve([]);
  const recent = and(inArray(attempts.mailboxId, [...mailboxIds]), gte(attempts.startedAt, sinceMs));
  return candidates(db, and(recent, hasLeft, or(...which)), false);
}
