import { and, eq, isNull, lte, sql } from 'drizzle-orm';
import { isWaiting } from '../campaigns/state-conditions';
import type { Queryable } from '../database';
import { campaigns, contacts, deliveries, enrolments } from '../schema/schema';
import type { DeliveryRow } from './delivery-rows';

/** The highest number that a try of this database has had, taken back or not; a number is never given twice. */
export async function lastTry(db: Queryable): Promise<number> {
  const { rows } = await db.execute<{ n: number }>(
    sql`select case when is_called then last_value else 0 end::float8 as n from attempts_id_seq`,
  );
  return rows[0]?.n ?? 0;
}

/** Numbers of enrolments that are passed over after a restore: they may be in links of messages that have left. */
const PASSED_OVER = 1_000_000;

/** Gives no number again that may have been given after the backup. */
export async function passOverNumbers(tx: Queryable, lastTryKnown: number): Promise<void> {
  await tx.execute(
    sql`select setval('attempts_id_seq', greatest(${lastTryKnown}::bigint, last_value)) from attempts_id_seq`,
  );
  await tx.execute(sql`select setval('enrolments_id_seq', last_value + ${PASSED_OVER}) from enrolments_id_seq`);
}

/** A message to a recipient, locked, with whom it goes to; null where there is none. */
export async function lockMessage(
  tx: Queryable,
  { enrolmentId, step }: { enrolmentId: number; step: number },
): Promise<{ delivery: DeliveryRow; address: string } | null> {
  const [row] = await tx
    .select({ delivery: deliveries, address: contacts.address })
    .from(deliveries)
    .innerJoin(enrolments, eq(enrolments.id, deliveries.enrolmentId))
    .innerJoin(contacts, eq(contacts.id, enrolments.contactId))
    .where(and(eq(deliveries.enrolmentId, enrolmentId), eq(deliveries.step, step)))
    .for('update', { of: deliveries });
  return row ?? null;
}

/** Messages of running campaigns from a mailbox whose time has come, and which nobody holds. */
export async function dueBefore(tx: Queryable, mailboxId: number, nowMs: number): Promise<DeliveryRow[]> {
  const rows = await tx
    .select({ delivery: deliveries })
    .from(deliveries)
    .innerJoin(campaigns, and(eq(campaigns.id, deliveries.campaignId), eq(campaigns.state, 'running')))
    .where(
      and(
        eq(deliveries.mailboxId, mailboxId),
        isWaiting(deliveries.state),
        lte(deliveries.instant, nowMs),
        isNull(deliveries.heldAt),
      ),
    )
    .for('update', { of: deliveries });
  return rows.map((r) => r.delivery);
}
