import { and, asc, desc, eq, gte, inArray, isNull, lt, lte, or, sql } from 'drizzle-orm';
import type { Queryable } from './database';
import { attempts, contacts, deliveries, enrolments, events, listRows } from './schema';

export type DeliveryRow = typeof deliveries.$inferSelect;

const waits = inArray(deliveries.state, ['planned', 'deferred']);

/**
 * When each mailbox next has something to do: a message to send, at its pace, or a try that broke off to clear up,
 * `settleMs` after it began. Mailboxes with neither are absent; those that may not send by themselves (held, shut
 * out, or everything held) have only tries to clear up. One index look-up a mailbox.
 */
export async function nextSends(db: Queryable, settleMs: number): Promise<{ mailboxId: number; at: number }[]> {
  const { rows } = await db.execute<{ id: number; at: string }>(sql`
    select id, min(at) as at from (
    select m.id, greatest(d.instant, coalesce(m.last_sent_at + m.pace_seconds::bigint * 1000, 0)) as at
    from mailboxes m
    cross join lateral (
      select d.instant from deliveries d join campaigns c on c.id = d.campaign_id and c.state = 'running'
      where d.mailbox_id = m.id and d.state in ('planned', 'deferred') and d.instant is not null
      order by d.instant limit 1
    ) d
    where not m.held and m.problem is null and not (select held_all from workspace where id = 1)
    union all
    select d.mailbox_id, a.started_at + ${settleMs}::bigint
    from deliveries d join attempts a on a.delivery_id = d.id and a.verdict is null
    where d.state = 'sending') due group by id`);
  return rows.map((r) => ({ mailboxId: r.id, at: Number(r.at) }));
}

export async function updateDelivery(tx: Queryable, id: number, change: Partial<DeliveryRow>): Promise<void> {
  await tx.update(deliveries).set(change).where(eq(deliveries.id, id));
}

export async function lockDelivery(tx: Queryable, id: number): Promise<DeliveryRow | null> {
  const [row] = await tx.select().from(deliveries).where(eq(deliveries.id, id)).for('update');
  return row ?? null;
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

export async function removePlanned(tx: Queryable, enrolmentId: number): Promise<void> {
  await tx.delete(deliveries).where(and(eq(deliveries.enrolmentId, enrolmentId), waits));
}

export async function updateAttempt(
  tx: Queryable,
  id: number,
  change: { verdict: string; answer: string },
): Promise<void> {
  await tx.update(attempts).set(change).where(eq(attempts.id, id));
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
        inArray(deliveries.state, ['sending', 'sent', 'unconfirmed']),
        gte(deliveries.day, fromDay),
      ),
    )
    .groupBy(deliveries.campaignId, deliveries.day);
}

/** The delivery that one of these Message-IDs belongs to; the first id that is known counts. */
export async function deliveryOfMessageIds(db: Queryable, messageIds: readonly string[]): Promise<DeliveryRow | null> {
  if (messageIds.length === 0) return null;
  const rows = await db
    .select({ messageId: attempts.messageId, delivery: deliveries })
    .from(attempts)
    .innerJoin(deliveries, eq(deliveries.id, attempts.deliveryId))
    .where(inArray(attempts.messageId, [...messageIds]));
  const found = messageIds.map((id) => rows.find((r) => r.messageId === id)).find((r) => r);
  return found?.delivery ?? null;
}

/** The last message sent to a contact from a mailbox. */
export async function lastDeliveryTo(db: Queryable, contactId: number, mailboxId: number): Promise<DeliveryRow | null> {
  const [row] = await db
    .select({ delivery: deliveries })
    .from(deliveries)
    .innerJoin(enrolments, eq(enrolments.id, deliveries.enrolmentId))
    .where(
      and(
        eq(enrolments.contactId, contactId),
        eq(deliveries.mailboxId, mailboxId),
        inArray(deliveries.state, ['sent', 'unconfirmed']),
      ),
    )
    .orderBy(sql`${deliveries.sentAt} desc nulls last`)
    .limit(1);
  return row?.delivery ?? null;
}

/** Deliveries of a mailbox that have been in `sending` since before an instant, with the Message-ID of their last try. */
export async function leftInSending(
  db: Queryable,
  mailboxId: number,
  startedBefore: number,
): Promise<{ delivery: DeliveryRow; attemptId: number; messageId: string; startedAt: number }[]> {
  return db
    .selectDistinct({
      delivery: deliveries,
      attemptId: attempts.id,
      messageId: attempts.messageId,
      startedAt: attempts.startedAt,
    })
    .from(deliveries)
    .innerJoin(attempts, and(eq(attempts.deliveryId, deliveries.id), isNull(attempts.verdict)))
    .where(
      and(eq(deliveries.state, 'sending'), eq(deliveries.mailboxId, mailboxId), lte(attempts.startedAt, startedBefore)),
    );
}

/** Messages of which nobody knows whether they left. */
export async function unconfirmedDeliveries(
  db: Queryable,
): Promise<{ campaignId: number; to: string; reason: string }[]> {
  return db
    .select({ campaignId: deliveries.campaignId, to: contacts.address, reason: deliveries.reason })
    .from(deliveries)
    .innerJoin(enrolments, eq(enrolments.id, deliveries.enrolmentId))
    .innerJoin(contacts, eq(contacts.id, enrolments.contactId))
    .where(eq(deliveries.state, 'unconfirmed'))
    .orderBy(asc(deliveries.id))
    .limit(100);
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
    .orderBy(asc(at))
    .limit(20_000);
  return rows.map((r) => ({ ...r, at: Number(r.at) }));
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

export async function addEvent(tx: Queryable, row: Omit<typeof events.$inferInsert, 'id'>): Promise<void> {
  await tx.insert(events).values(row);
}

export async function countEvents(db: Queryable, fromMs: number, toMs: number): Promise<Map<string, number>> {
  const rows = await db
    .select({ kind: events.kind, n: sql<number>`count(*)::int` })
    .from(events)
    .where(and(gte(events.at, fromMs), lt(events.at, toMs)))
    .groupBy(events.kind);
  return new Map(rows.map((r) => [r.kind, r.n]));
}

/** Who is open in running or held campaigns: what a plan is made of. */
export async function openEnrolments(db: Queryable, campaignIds: readonly number[]) {
  if (campaignIds.length === 0) return [];
  return db
    .select({
      id: enrolments.id,
      campaignId: enrolments.campaignId,
      mailboxId: enrolments.mailboxId,
      sent: enrolments.sent,
      state: enrolments.state,
      lastSentDay: enrolments.lastSentDay,
      notBefore: enrolments.notBefore,
      units: enrolments.units,
      domain: contacts.domain,
      zone: listRows.zone,
    })
    .from(enrolments)
    .innerJoin(contacts, eq(contacts.id, enrolments.contactId))
    .innerJoin(listRows, eq(listRows.id, enrolments.listRowId))
    .where(and(inArray(enrolments.campaignId, [...campaignIds]), inArray(enrolments.state, ['waiting', 'in_progress'])))
    .orderBy(asc(enrolments.campaignId), asc(listRows.position));
}

/** Deliveries of open enrolments that are not yet sent. */
export async function pendingDeliveries(db: Queryable, campaignIds: readonly number[]): Promise<DeliveryRow[]> {
  if (campaignIds.length === 0) return [];
  return db
    .select()
    .from(deliveries)
    .where(
      and(
        inArray(deliveries.campaignId, [...campaignIds]),
        inArray(deliveries.state, ['planned', 'deferred', 'sending', 'unconfirmed']),
      ),
    );
}

export interface PlannedRow {
  enrolmentId: number;
  campaignId: number;
  step: number;
  mailboxId: number;
  day: number;
  instant: number;
  units: number;
}

/** Writes planned deliveries: adds those that are new, moves those still waiting. */
export async function putPlanned(tx: Queryable, rows: readonly PlannedRow[]): Promise<void> {
  for (let i = 0; i < rows.length; i += 5000) {
    const values = rows.slice(i, i + 5000).map((r) => ({ ...r, state: 'planned' as const }));
    await tx
      .insert(deliveries)
      .values(values)
      .onConflictDoUpdate({
        target: [deliveries.enrolmentId, deliveries.step],
        set: {
          mailboxId: sql`excluded.mailbox_id`,
          day: sql`excluded.day`,
          instant: sql`excluded.instant`,
          reason: '',
        },
        setWhere: eq(deliveries.state, 'planned'),
      });
  }
}

export async function removeDeliveries(tx: Queryable, ids: readonly number[]): Promise<void> {
  for (let i = 0; i < ids.length; i += 5000)
    await tx
      .delete(deliveries)
      .where(and(inArray(deliveries.id, ids.slice(i, i + 5000)), eq(deliveries.state, 'planned')));
}
