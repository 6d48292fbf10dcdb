import { and, asc, eq, getTableColumns, gt, gte, inArray, sql, type SQL, type SQLWrapper } from 'drizzle-orm';
import { prepared, type Queryable } from '../database';
import { attempts, mailboxDays, mailboxes, otherSends } from '../schema/schema';

type StoredMailbox = typeof mailboxes.$inferSelect;

export interface MailboxRow extends StoredMailbox {
  /** Day numbers on which it has sent since its ramp began, in order; none without a ramp. */
  sentDays: number[];
}

const columns = {
  ...getTableColumns(mailboxes),
  sentDays: sql<number[]>`coalesce((select array_agg(d.day order by d.day) from mailbox_days d
    where d.mailbox_id = ${mailboxes.id} and d.messages > 0 and d.day >= (${mailboxes.ramp}->>'day')::int), '{}')`,
};

export async function listMailboxes(db: Queryable): Promise<MailboxRow[]> {
  return db.select(columns).from(mailboxes).orderBy(asc(mailboxes.id));
}

export async function readMailbox(db: Queryable, id: number): Promise<MailboxRow | null> {
  const [row] = await db.select(columns).from(mailboxes).where(eq(mailboxes.id, id));
  return row ?? null;
}

/** A mailbox as far as its connection goes. */
type Connected = Pick<MailboxRow, 'smtp' | 'imap' | 'username'>;

/** What names a mailbox's connection: servers and user. Mailboxes of one connection share inbox and provider's limit. */
export const connectionKey = ({ smtp, imap, username }: Connected): string =>
  [smtp.host, smtp.port, imap.host, imap.port, username].join(' ');

/** The same of a mailbox in a statement. */
export const connectionKeyOf = (alias: SQL): SQL =>
  sql`concat_ws(' ', ${alias}.smtp->>'host', ${alias}.smtp->>'port', ${alias}.imap->>'host', ${alias}.imap->>'port', ${alias}.username)`;

/** Mailboxes of a connection, this one with them, the first connected first: addresses of one account. */
export async function sameConnection(
  db: Queryable,
  mailbox: Connected,
): Promise<Pick<MailboxRow, 'id' | 'passwordSealed' | 'grantId'>[]> {
  return db
    .select({ id: mailboxes.id, passwordSealed: mailboxes.passwordSealed, grantId: mailboxes.grantId })
    .from(mailboxes)
    .where(sql`${connectionKeyOf(sql`mailboxes`)} = ${connectionKey(mailbox)}`)
    .orderBy(asc(mailboxes.id));
}

/**
 * Locks the mailbox until the transaction ends, and tells whether everything is held.
 *
 * @returns null when another transaction holds it, or there is none
 */
export async function lockMailbox(tx: Queryable, id: number): Promise<LockedMailbox | null> {
  return (await lockedMailbox(tx, { id }))[0] ?? null;
}

type LockedMailbox = MailboxRow & { heldAll: boolean };

/** Instants come as numbers, as everywhere else. */
const lockedMailbox = prepared<{ id: number }, LockedMailbox>('lock_mailbox', (value) => {
  const shown = Object.entries(columns).map(([name, column]) => {
    const isInstant = 'columnType' in column && column.columnType === 'PgBigInt53';
    return sql`${column}${isInstant ? sql`::float8` : sql``} as ${sql.identifier(name)}`;
  });
  return sql`select ${sql.join(shown, sql`, `)}, (select held_all from workspace where id = 1) as "heldAll"
    from ${mailboxes} where ${mailboxes.id} = ${value('id')} for update skip locked`;
});

export async function addMailbox(db: Queryable, row: Omit<typeof mailboxes.$inferInsert, 'id'>): Promise<number> {
  const [added] = await db.insert(mailboxes).values(row).returning({ id: mailboxes.id });
  return (added as { id: number }).id;
}

export async function updateMailbox(
  db: Queryable,
  id: number,
  change: Partial<typeof mailboxes.$inferInsert>,
): Promise<boolean> {
  return (
    (await db.update(mailboxes).set(change).where(eq(mailboxes.id, id)).returning({ id: mailboxes.id })).length > 0
  );
}

/** Notes that mailboxes have been read. */
export async function markRead(db: Queryable, ids: readonly number[], nowMs: number): Promise<void> {
  await db
    .update(mailboxes)
    .set({ lastReadAt: nowMs })
    .where(inArray(mailboxes.id, [...ids]));
}

/** Units and messages used on a local day. */
export async function usedOnDay(
  db: Queryable,
  mailboxId: number,
  day: number,
): Promise<{ units: number; messages: number }> {
  const [row] = await db
    .select({ units: mailboxDays.units, messages: mailboxDays.messages })
    .from(mailboxDays)
    .where(and(eq(mailboxDays.mailboxId, mailboxId), eq(mailboxDays.day, day)));
  return row ?? { units: 0, messages: 0 };
}

/** Adds (or, with negative numbers, gives back) what was used on a day. */
export async function countUse(
  tx: Queryable,
  use: { mailboxId: number; day: number; units: number; messages: number },
): Promise<void> {
  await tx
    .insert(mailboxDays)
    .values(use)
    .onConflictDoUpdate({
      target: [mailboxDays.mailboxId, mailboxDays.day],
      set: {
        units: sql`${mailboxDays.units} + ${use.units}`,
        messages: sql`${mailboxDays.messages} + ${use.messages}`,
      },
    });
}

/**
 * Notes what left besides campaigns, and counts it on that day.
 *
 * @returns whether it was not noted yet
 */
export async function addOtherSend(tx: Queryable, send: typeof otherSends.$inferInsert, day: number): Promise<boolean> {
  const added = await tx.insert(otherSends).values(send).onConflictDoNothing().returning({ id: otherSends.messageId });
  if (added.length === 0) return false;
  await countUse(tx, { mailboxId: send.mailboxId, day, units: send.units, messages: 0 });
  return true;
}

/** Takes such a note back: it did not leave. What was counted for it is the caller's to give back. @returns what it said */
export async function removeOtherSend(
  tx: Queryable,
  { mailboxId, messageId }: { mailboxId: number; messageId: string },
): Promise<{ at: number; units: number } | null> {
  const [removed] = await tx
    .delete(otherSends)
    .where(and(eq(otherSends.mailboxId, mailboxId), eq(otherSends.messageId, messageId)))
    .returning({ at: otherSends.at, units: otherSends.units });
  return removed ?? null;
}

/** Which of these Message-IDs are those of campaigns' messages. */
export async function campaignMessages(db: Queryable, messageIds: readonly string[]): Promise<Set<string>> {
  if (messageIds.length === 0) return new Set();
  const rows = await db
    .select({ id: attempts.messageId })
    .from(attempts)
    .where(inArray(attempts.messageId, [...messageIds]));
  return new Set(rows.map((r) => r.id));
}

/** Units sent by hand since an instant, by mailbox. */
export async function byHandSince(db: Queryable, mailboxId: number, fromMs: number): Promise<number> {
  const [row] = await db
    .select({ units: sql<number>`coalesce(sum(${otherSends.units}), 0)::int` })
    .from(otherSends)
    .where(and(eq(otherSends.mailboxId, mailboxId), eq(otherSends.byHand, true), gte(otherSends.at, fromMs)));
  return row?.units ?? 0;
}

/** Whether the provider has counted a try by its verdict: not where nothing of it reached the body. */
export const isCounted = (verdict: SQLWrapper): SQL =>
  sql`coalesce(${verdict}, '') not in ('transient', 'permanent', 'too_much', 'mailbox_refused')`;

/** All that counts against the quota and the provider's limit, after an instant (exclusive), oldest first. */
export async function usesSince(
  db: Queryable,
  mailboxId: number,
  afterMs: number,
): Promise<{ instant: number; units: number }[]> {
  const tries = await db
    .select({ instant: attempts.startedAt, units: attempts.units })
    .from(attempts)
    .where(and(eq(attempts.mailboxId, mailboxId), gt(attempts.startedAt, afterMs), isCounted(attempts.verdict)));
  const others = await db
    .select({ instant: otherSends.at, units: otherSends.units })
    .from(otherSends)
    .where(and(eq(otherSends.mailboxId, mailboxId), gt(otherSends.at, afterMs)));
  return [...tries, ...others].sort((a, b) => a.instant - b.instant);
}
