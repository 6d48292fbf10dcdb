import { and, asc, desc, eq, exists, inArray, isNotNull, isNull, lte, or, sql } from 'drizzle-orm';
import { batches, type Queryable } from '../database';
import { attempts, contacts, deliveries, enrolments, incoming, letters, mailboxes } from '../schema/schema';

export type LetterRow = typeof letters.$inferSelect;

/** What a message that was found may belong to. */
export interface LetterHead {
  messageId: string;
  /** In small letters. */
  to: readonly string[];
  references: readonly string[];
}

/**
 * The people with whom messages by hand have to do: who was written to by a campaign and stands in To; where nobody of
 * these does, the person of the thread that it continues.
 *
 * @returns their contacts, for each of the messages
 */
export async function peopleOf(db: Queryable, heads: readonly LetterHead[]): Promise<number[][]> {
  const byKey = await writtenTo(db, [...new Set(heads.flatMap((h) => h.to))]);
  const byId = await personOfIds(db, [...new Set(heads.flatMap((h) => h.references))]);
  return heads.map(({ to, references }) => {
    const named = to.flatMap((key) => byKey.get(key) ?? []);
    if (named.length > 0) return [...new Set(named)];
    const thread = references.map((id) => byId.get(id)).find((id) => id !== undefined);
    return thread === undefined ? [] : [thread];
  });
}

async function writtenTo(db: Queryable, keys: readonly string[]): Promise<Map<string, number>> {
  const found = new Map<string, number>();
  for (const some of batches(keys)) {
    const rows = await db
      .select({ id: contacts.id, key: contacts.key })
      .from(contacts)
      .where(
        and(
          inArray(contacts.key, [...some]),
          exists(
            db
              .select({ one: sql`1` })
              .from(enrolments)
              .where(eq(enrolments.contactId, contacts.id)),
          ),
        ),
      );
    for (const { id, key } of rows) found.set(key, id);
  }
  return found;
}

async function personOfIds(db: Queryable, ids: readonly string[]): Promise<Map<string, number>> {
  const found = new Map<string, number>();
  for (const some of batches(ids)) {
    const sent = db
      .select({ messageId: attempts.messageId, contactId: enrolments.contactId })
      .from(attempts)
      .innerJoin(deliveries, eq(deliveries.id, attempts.deliveryId))
      .innerJoin(enrolments, eq(enrolments.id, deliveries.enrolmentId))
      .where(inArray(attempts.messageId, [...some]));
    const came = db
      .select({ messageId: incoming.messageId, contactId: enrolments.contactId })
      .from(incoming)
      .innerJoin(enrolments, eq(enrolments.id, incoming.enrolmentId))
      .where(inArray(incoming.messageId, [...some]));
    for (const { messageId, contactId } of await sent.union(came)) found.set(messageId, contactId);
  }
  return found;
}

/** Of letters with these Message-IDs, the enrolment of their person that changed last. */
export async function enrolmentsOfLetters(db: Queryable, messageIds: readonly string[]): Promise<Map<string, number>> {
  if (messageIds.length === 0) return new Map();
  const rows = await db
    .select({ messageId: letters.messageId, enrolmentId: enrolments.id })
    .from(letters)
    .innerJoin(enrolments, eq(enrolments.contactId, letters.contactId))
    .where(inArray(letters.messageId, [...messageIds]))
    .orderBy(asc(enrolments.changedAt), asc(enrolments.id));
  return new Map(rows.map((r) => [r.messageId, r.enrolmentId]));
}

/** Letters with these Message-IDs. */
export async function lettersOfIds(db: Queryable, messageIds: readonly string[]): Promise<LetterRow[]> {
  const found: LetterRow[] = [];
  for (const some of batches(messageIds.filter((id) => id !== '')))
    found.push(
      ...(await db
        .select()
        .from(letters)
        .where(inArray(letters.messageId, [...some]))),
    );
  return found;
}

export async function addLetter(db: Queryable, row: Omit<typeof letters.$inferInsert, 'id'>): Promise<number> {
  const [added] = await db.insert(letters).values(row).returning({ id: letters.id });
  return (added as { id: number }).id;
}

export async function updateLetter(db: Queryable, id: number, change: Partial<LetterRow>): Promise<void> {
  await db.update(letters).set(change).where(eq(letters.id, id));
}

/** The letters that answer a message are with the person whose it is; null for nobody. */
export async function giveLettersTo(db: Queryable, incomingId: number, contactId: number | null): Promise<void> {
  await db.update(letters).set({ contactId }).where(eq(letters.incomingId, incomingId));
}

export async function removeLetter(db: Queryable, id: number): Promise<void> {
  await db.delete(letters).where(eq(letters.id, id));
}

export async function lockLetter(tx: Queryable, id: number): Promise<LetterRow | null> {
  const [row] = await tx.select().from(letters).where(eq(letters.id, id)).for('update');
  return row ?? null;
}

export async function readLetter(db: Queryable, id: number): Promise<LetterRow | null> {
  const [row] = await db.select().from(letters).where(eq(letters.id, id));
  return row ?? null;
}

/** Letters that answer a message, the newest first. */
export const answersTo = (db: Queryable, incomingId: number): Promise<LetterRow[]> =>
  db.select().from(letters).where(eq(letters.incomingId, incomingId)).orderBy(desc(letters.id));

/** The draft of an answer, locked. */
export async function lockDraft(tx: Queryable, incomingId: number): Promise<LetterRow | null> {
  const [row] = await tx
    .select()
    .from(letters)
    .where(and(eq(letters.incomingId, incomingId), eq(letters.state, 'draft')))
    .for('update');
  return row ?? null;
}

/** The mailbox's letter that waits longest and may leave, locked; null for none. */
export async function lockDueLetter(tx: Queryable, mailboxId: number, realMs: number): Promise<LetterRow | null> {
  const [row] = await tx
    .select()
    .from(letters)
    .where(and(eq(letters.mailboxId, mailboxId), eq(letters.state, 'waiting'), lte(letters.leavesAt, realMs)))
    .orderBy(asc(letters.leavesAt), asc(letters.id))
    .limit(1)
    .for('update', { skipLocked: true });
  return row ?? null;
}

/** Letters of a mailbox that were being handed over when that broke off. */
export const lettersInSending = (db: Queryable, mailboxId: number): Promise<LetterRow[]> =>
  db
    .select()
    .from(letters)
    .where(and(eq(letters.mailboxId, mailboxId), eq(letters.state, 'sending')));

/** Letters that did not leave, or of which nobody knows whether they did. */
export const unsentLetters = (db: Queryable, limit: number) =>
  db
    .select({
      id: letters.id,
      to: letters.toKey,
      reason: letters.reason,
      state: letters.state,
      incomingId: letters.incomingId,
    })
    .from(letters)
    .where(inArray(letters.state, ['unconfirmed', 'failed']))
    .orderBy(asc(letters.id))
    .limit(limit);

/** What was written to a person by hand, or to the sender of a message of nobody's; newest first. */
export function lettersWith(db: Queryable, whom: { contactId: number } | { key: string }, limit: number) {
  const isTheirs =
    'contactId' in whom
      ? eq(letters.contactId, whom.contactId)
      : and(isNull(letters.contactId), eq(letters.toKey, whom.key));
  return db
    .select({ letter: letters, mailbox: mailboxes.address, senderName: mailboxes.senderName })
    .from(letters)
    .innerJoin(mailboxes, eq(mailboxes.id, letters.mailboxId))
    .where(and(isTheirs, or(isNotNull(letters.sentAt), inArray(letters.state, [...ON_THE_WAY]))))
    .orderBy(desc(letters.id))
    .limit(limit);
}

const ON_THE_WAY = ['waiting', 'sending', 'failed', 'unconfirmed'] as const;
