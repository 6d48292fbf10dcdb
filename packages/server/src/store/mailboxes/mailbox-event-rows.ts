import { and, asc, desc, eq, gte, gt } from 'drizzle-orm';
import type { Queryable } from '../database';
import { mailboxDays, mailboxEvents } from '../schema/schema';

/** Writes down what happened to a mailbox, in words such as `held`. */
export async function addMailboxEvent(tx: Queryable, mailboxId: number, at: number, words: string): Promise<void> {
  await tx.insert(mailboxEvents).values({ mailboxId, at, words });
}

/** The newest first. */
export async function mailboxEventsOf(
  db: Queryable,
  mailboxId: number,
  most: number,
): Promise<{ at: number; words: string }[]> {
  return db
    .select({ at: mailboxEvents.at, words: mailboxEvents.words })
    .from(mailboxEvents)
    .where(eq(mailboxEvents.mailboxId, mailboxId))
    .orderBy(desc(mailboxEvents.at), desc(mailboxEvents.id))
    .limit(most);
}

/** Units and quotas by local day number from a day on, in order, of days on which something left. */
export async function unitsByDay(
  db: Queryable,
  mailboxId: number,
  fromDay: number,
): Promise<{ day: number; units: number; quota: number | null }[]> {
  return db
    .select({ day: mailboxDays.day, units: mailboxDays.units, quota: mailboxDays.quota })
    .from(mailboxDays)
    .where(and(eq(mailboxDays.mailboxId, mailboxId), gte(mailboxDays.day, fromDay), gt(mailboxDays.units, 0)))
    .orderBy(asc(mailboxDays.day));
}
