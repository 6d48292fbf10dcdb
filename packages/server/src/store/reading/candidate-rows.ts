import type { MatchCandidate } from '@baton/core';
import { and, desc, eq, gte, inArray, or, sql, type SQL } from 'drizzle-orm';
import type { Queryable } from '../database';
import { attempts, contacts, deliveries, enrolments } from '../schema/schema';
import type { DeliveryRow } from '../sending/delivery-rows';

/** A message that left, to which one that came in may belong. */
export interface Candidate extends MatchCandidate {
  delivery: DeliveryRow;
  enrolmentId: number;
  attemptId: number;
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
      attemptId: attempts.id,
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
  return rows.map(({ attemptId, delivery, address, subject, startedAt, messageId }) => ({
    ...{ attemptId, delivery, enrolmentId: delivery.enrolmentId, isNamed, address, subject, messageId },
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

/** What messages without reference are looked for by: people of a domain ('' for none) or a subject ('' for none). */
export interface Alike {
  domain: string;
  subject: string;
}

/**
 * Messages from some mailboxes since an instant, to people of a domain or with a subject: for several that came in at once.
 *
 * @returns for each of those asked for its own, the newest first
 */
export async function candidatesAlike(
  db: Queryable,
  asked: readonly Alike[],
  mailboxIds: readonly number[],
  sinceMs: number,
): Promise<Candidate[][]> {
  if (asked.length === 0) return [];
  const texts = (of: (a: Alike) => string) => sql`${sql.param(asked.map(of))}::text[]`;
  const title = sql`lower(regexp_replace(trim(${attempts.subject}), '\\s+', ' ', 'g'))`;
  const isAlike = or(
    sql`(asked.domain <> '' and ${contacts.domain} = asked.domain)`,
    sql`(asked.subject <> '' and ${title} = asked.subject)`,
  );
  const newest = db
    .select({ id: attempts.id })
    .from(attempts)
    .innerJoin(deliveries, eq(deliveries.id, attempts.deliveryId))
    .innerJoin(enrolments, eq(enrolments.id, deliveries.enrolmentId))
    .innerJoin(contacts, eq(contacts.id, enrolments.contactId))
    .where(and(inArray(attempts.mailboxId, [...mailboxIds]), gte(attempts.startedAt, sinceMs), hasLeft, isAlike))
    .orderBy(desc(attempts.startedAt), desc(attempts.id))
    .limit(MOST)
    .as('newest');
  const found = await db
    .select({ place: sql<number>`asked.place::int`, id: newest.id })
    .from(
      sql`unnest(${texts((a) => a.domain)}, ${texts((a) => a.subject)}) with ordinality as asked(domain, subject, place)`,
    )
    .innerJoinLateral(newest, sql`true`);
  if (found.length === 0) return asked.map(() => []);
  const ids = [...new Set(found.map(({ id }) => id))];
  const all = await candidates(db, inArray(attempts.id, ids), false, ids.length);
  const wanted = asked.map((_, i) => new Set(found.filter(({ place }) => place === i + 1).map(({ id }) => id)));
  return wanted.map((of) => all.filter(({ attemptId }) => of.has(attemptId)));
}
