import type { BatchPage, PlanLoad } from '@baton/contract';
import { nameOf, type PlanChange } from '@baton/core';
import { and, asc, eq, isNotNull, isNull, lte, or, sql } from 'drizzle-orm';
import type { Queryable } from '../database';
import { campaigns, contacts, deliveries, enrolments, listRows, planVariants } from '../schema/schema';
import { messagesBefore } from '../sending/delivery-rows';
import { isOpenRecipient, isReplied, isWaiting } from '../campaigns/state-conditions';

/** What one mailbox has of one campaign on one local day. */
export interface LoadRow extends Omit<PlanLoad, 'day'> {
  day: number;
}

/** Loads from a day on. Failed messages count where they have left. */
export async function loadsFrom(db: Queryable, fromDay: number): Promise<LoadRow[]> {
  const { rows } = await db.execute<LoadRow & Record<string, unknown>>(sql`
    select mailbox_id as "mailboxId", day, campaign_id as "campaignId",
      coalesce(sum(units) filter (where step = 0), 0)::int as first,
      coalesce(sum(units) filter (where step > 0), 0)::int as "followUps",
      coalesce(sum(units) filter (where step = 0 and not ${isWaiting(sql`state`)}), 0)::int as "firstSent",
      coalesce(sum(units) filter (where step > 0 and not ${isWaiting(sql`state`)}), 0)::int as "followUpsSent",
      count(*)::int as messages,
      count(*) filter (where ${isWaiting(sql`state`)} and held_at is not null)::int as held
    from deliveries where day >= ${fromDay} and not (state = 'failed' and sent_at is null)
    group by mailbox_id, day, campaign_id`);
  return rows;
}

/** Of each campaign: when its last first message and last message of all are planned, and what has come of it so far. */
export async function campaignProgress(db: Queryable): Promise<
  {
    campaignId: number;
    lastStartDay: number | null;
    lastDay: number | null;
    sent: number;
    replies: number;
  }[]
> {
  const { rows } = await db.execute<{
    campaignId: number;
    lastStartDay: number | null;
    lastDay: number | null;
    sent: number;
    replies: number;
  }>(sql`
    select c.id as "campaignId",
      (select max(day) from deliveries where campaign_id = c.id and step = 0) as "lastStartDay",
      (select max(day) from deliveries where campaign_id = c.id) as "lastDay",
      (select count(*)::int from deliveries where campaign_id = c.id and state = 'sent') as sent,
      (select count(*)::int from enrolments where campaign_id = c.id and ${isReplied(sql`state`)}) as replies
    from campaigns c where c.state <> 'draft'`);
  return rows;
}

/** Open people of campaigns who are in no plan. */
export async function unplannedPeople(db: Queryable): Promise<{ campaignId: number; people: number }[]> {
  const { rows } = await db.execute<{ campaignId: number; people: number }>(sql`
    select e.campaign_id as "campaignId", count(*)::int as people from enrolments e join campaigns c on c.id = e.campaign_id
    where c.state = 'running' and ${isOpenRecipient(sql`e.state`)}
      and not exists (select from deliveries d where d.enrolment_id = e.id and d.state <> 'sent' and d.state <> 'failed')
    group by e.campaign_id`);
  return rows;
}

const waits = isWaiting(deliveries.state);

/** One mailbox's messages of a local day, in order of time. */
export async function batchOf(
  db: Queryable,
  { mailboxId, day }: { mailboxId: number; day: number },
  page: { offset: number; limit: number },
): Promise<BatchPage> {
  const where = and(eq(deliveries.mailboxId, mailboxId), eq(deliveries.day, day));
  const rows = await db
    .select({
      delivery: deliveries,
      nth: messagesBefore(deliveries),
      contactId: contacts.id,
      address: contacts.address,
      fields: listRows.fields,
    })
    .from(deliveries)
    .innerJoin(enrolments, eq(enrolments.id, deliveries.enrolmentId))
    .innerJoin(contacts, eq(contacts.id, enrolments.contactId))
    .innerJoin(listRows, eq(listRows.id, enrolments.listRowId))
    .where(where)
    .orderBy(sql`coalesce(${deliveries.sentAt}, ${deliveries.instant})`, asc(deliveries.id))
    .offset(page.offset)
    .limit(page.limit);
  const isHeld = sql`${deliveries.heldAt} is not null`;
  const [counts] = await db
    .select({
      total: sql<number>`count(*)::int`,
      gone: sql<number>`count(*) filter (where not (${waits}))::int`,
      toCome: sql<number>`count(*) filter (where ${waits} and not (${isHeld}))::int`,
      held: sql<number>`count(*) filter (where ${waits} and ${isHeld})::int`,
    })
    .from(deliveries)
    .where(where);
  return {
    counts: counts ?? { total: 0, gone: 0, toCome: 0, held: 0 },
    messages: rows.map(({ nth, delivery: d, contactId, address, fields }) => ({
      deliveryId: d.id,
      enrolmentId: d.enrolmentId,
      contactId,
      campaignId: d.campaignId,
      step: d.step,
      nth,
      address,
      name: nameOf(fields),
      at: d.sentAt ?? d.instant,
      state: d.heldAt !== null && (d.state === 'planned' || d.state === 'deferred') ? 'held' : d.state,
      reason: d.reason,
    })),
  };
}

/** Holds what waits on a local day, of one mailbox or of all, or lets it go. @returns how many messages */
export async function setBatchHeld(
  tx: Queryable,
  { day, mailboxId }: { day: number; mailboxId: number | null },
  heldAt: number | null,
): Promise<number> {
  const rows = await tx
    .update(deliveries)
    .set({ heldAt })
    .where(
      and(
        eq(deliveries.day, day),
        mailboxId === null ? undefined : eq(deliveries.mailboxId, mailboxId),
        waits,
        heldAt === null ? isNotNull(deliveries.heldAt) : isNull(deliveries.heldAt),
      ),
    )
    .returning({ id: deliveries.id });
  return rows.length;
}

/**
 * Days of mailboxes on which messages are held, in order; of campaigns that are released by hand day by day, those up to today.
 *
 * @param today local day number
 */
export async function heldBatches(
  db: Queryable,
  today: number,
): Promise<{ day: number; mailboxId: number; messages: number }[]> {
  return db
    .select({ day: deliveries.day, mailboxId: deliveries.mailboxId, messages: sql<number>`count(*)::int` })
    .from(deliveries)
    .innerJoin(campaigns, eq(campaigns.id, deliveries.campaignId))
    .where(
      and(waits, isNotNull(deliveries.heldAt), or(eq(campaigns.releasedByHand, false), lte(deliveries.day, today))),
    )
    .groupBy(deliveries.day, deliveries.mailboxId)
    .orderBy(asc(deliveries.day), asc(deliveries.mailboxId));
}

export type VariantRow = typeof planVariants.$inferSelect;

export async function listVariants(db: Queryable): Promise<VariantRow[]> {
  return db.select().from(planVariants).orderBy(asc(planVariants.name));
}

/** Keeps changes under a name, in place of what had that name. */
export async function putVariant(
  db: Queryable,
  row: { name: string; changes: PlanChange[]; createdAt: number },
): Promise<number> {
  const [kept] = await db
    .insert(planVariants)
    .values(row)
    .onConflictDoUpdate({ target: planVariants.name, set: { changes: row.changes, createdAt: row.createdAt } })
    .returning({ id: planVariants.id });
  return (kept as { id: number }).id;
}

export async function removeVariant(db: Queryable, id: number): Promise<boolean> {
  return (await db.delete(planVariants).where(eq(planVariants.id, id)).returning({ id: planVariants.id })).length > 0;
}
