import { COUNTED_DELIVERIES, type RecipientState } from '@baton/core';
import { and, asc, desc, eq, gte, inArray, isNull, lt, or, sql, type SQL } from 'drizzle-orm';
import { batches, type Queryable } from '../database';
import { attempts, contacts, deliveries, enrolments, events } from '../schema/schema';
import { isFixed, isOneOf, isOpenRecipient, isWaiting } from '../campaigns/state-conditions';

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

/** Messages to come of one enrolment, from a step on. */
export async function countPlanned(db: Queryable, enrolmentId: number, fromStep: number): Promise<number> {
  const [row] = await db
    .select({ n: sql<number>`count(*)::int` })
    .from(deliveries)
    .where(
      and(eq(deliveries.enrolmentId, enrolmentId), eq(deliveries.state, 'planned'), gte(deliveries.step, fromStep)),
    );
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
        isOneOf(deliveries.state, COUNTED_DELIVERIES),
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

/** The last message sent to a contact from one of some mailboxes. */
export async function lastDeliveryTo(
  db: Queryable,
  contactId: number,
  mailboxIds: readonly number[],
): Promise<DeliveryRow | null> {
  const [row] = await db
    .select({ delivery: deliveries })
    .from(deliveries)
    .innerJoin(enrolments, eq(enrolments.id, deliveries.enrolmentId))
    .where(
      and(
        eq(enrolments.contactId, contactId),
        inArray(deliveries.mailboxId, [...mailboxIds]),
        inArray(deliveries.state, ['sent', 'unconfirmed']),
      ),
    )
    .orderBy(sql`${deliveries.sentAt} desc nulls last`)
    .limit(1);
  return row?.delivery ?? null;
}

/** The last message of an enrolment that left, or may have. */
export async function lastDeliveryOf(db: Queryable, enrolmentId: number): Promise<DeliveryRow | null> {
  const [row] = await db
    .select()
    .from(deliveries)
    .where(and(eq(deliveries.enrolmentId, enrolmentId), inArray(deliveries.state, ['sent', 'unconfirmed', 'sending'])))
    .orderBy(desc(deliveries.step))
    .limit(1);
  return row ?? null;
}

/** Takes the times of what was planned before an instant and has not left: it is to be planned anew. */
export async function dropLate(tx: Queryable, mailboxId: number, beforeMs: number): Promise<void> {
  await tx
    .update(deliveries)
    .set({ instant: null })
    .where(
      and(
        eq(deliveries.mailboxId, mailboxId),
        eq(deliveries.state, 'planned'),
        lt(deliveries.instant, beforeMs),
        isNull(deliveries.heldAt),
      ),
    );
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
): Promise<{ campaignId: number; to: string; reason: string }[]> {
  return db
    .select({ campaignId: deliveries.campaignId, to: contacts.address, reason: deliveries.reason })
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

/** Somebody who is open in a campaign, as far as planning asks. */
export interface OpenEnrolment {
  id: number;
  campaignId: number;
  mailboxId: number | null;
  state: RecipientState;
  sent: number;
  lastSentDay: number | null;
  notBefore: number | null;
  units: number;
  domain: string;
  zone: string | null;
}

/** What the database packs in place of null. */
const NONE = -(2 ** 31);

const packed = (what: SQL) => sql`coalesce(string_agg(int4send(coalesce(${what}, ${NONE}::int)), ''), '')`;

function unpack(column: Buffer | undefined): Int32Array {
  // A copy of its own: aligned, and with its bytes in this machine's order.
  const bytes = new Uint8Array(column ?? []);
  Buffer.from(bytes.buffer).swap32();
  return new Int32Array(bytes.buffer);
}

/** Who is open in campaigns, in their lists' order: what a plan is made of. */
export async function openEnrolments(db: Queryable, campaignIds: readonly number[]): Promise<OpenEnrolment[]> {
  if (campaignIds.length === 0) return [];
  const whole = (what: string) => packed(sql.raw(what));
  const { rows } = await db.execute<Record<string, Buffer> & Record<'domain' | 'zone' | 'state', string | null>>(sql`
    select ${whole('id')} as id, ${whole('campaign_id')} as campaign, ${whole('mailbox_id')} as mailbox, ${whole('sent')} as sent,
      ${whole('last_sent_day')} as last, ${whole('not_before')} as "notBefore", ${whole('units')} as units,
      string_agg(domain, chr(10)) as domain, string_agg(coalesce(zone, ''), chr(10)) as zone, string_agg(state, chr(10)) as state
    from (
      select e.id, e.campaign_id, e.mailbox_id, e.state, e.sent, e.last_sent_day, e.not_before, e.units, c.domain, r.zone
      from enrolments e join contacts c on c.id = e.contact_id join list_rows r on r.id = e.list_row_id
      where e.campaign_id in ${[...campaignIds]} and ${isOpenRecipient(sql`e.state`)}
      order by e.campaign_id, r.position
    ) open`);
  const row = rows[0];
  const id = unpack(row?.['id']);
  const [campaign, mailbox, sent] = [unpack(row?.['campaign']), unpack(row?.['mailbox']), unpack(row?.['sent'])];
  const [last, notBefore, units] = [unpack(row?.['last']), unpack(row?.['notBefore']), unpack(row?.['units'])];
  const domain = (row?.domain ?? '').split('\n');
  const zone = (row?.zone ?? '').split('\n');
  const state = (row?.state ?? '').split('\n') as RecipientState[];
  const orNull = (value: number | undefined) => (value === undefined || value === NONE ? null : value);
  return Array.from(id, (own, i): OpenEnrolment => ({
    id: own,
    campaignId: campaign[i] as number,
    mailboxId: orNull(mailbox[i]),
    state: state[i] as RecipientState,
    sent: sent[i] as number,
    lastSentDay: orNull(last[i]),
    notBefore: orNull(notBefore[i]),
    units: units[i] as number,
    domain: domain[i] as string,
    zone: zone[i] || null,
  }));
}

/** Planned deliveries in columns of equal length: there may be half a million. */
export interface PlannedColumns {
  id: Int32Array;
  enrolmentId: Int32Array;
  step: Int32Array;
  mailboxId: Int32Array;
  day: Int32Array;
  /** NaN while it waits for a new plan. */
  instant: Float64Array;
  units: Int32Array;
  /** 1 where a person holds it. */
  held: Int32Array;
}

/** Planned deliveries of campaigns, packed by the database: as rows they took five times as long. */
export async function plannedColumns(db: Queryable, campaignIds: readonly number[]): Promise<PlannedColumns> {
  const whole = (what: string) => packed(sql.raw(what));
  const { rows } =
    campaignIds.length === 0
      ? { rows: [] }
      : await db.execute<Record<keyof PlannedColumns, Buffer>>(sql`
          select ${whole('id')} as id, ${whole('enrolment_id')} as "enrolmentId", ${whole('step')} as step,
            ${whole('mailbox_id')} as "mailboxId", ${whole('day')} as day, ${whole('units')} as units,
            ${whole('(held_at is not null)::int')} as held,
            coalesce(string_agg(float8send(coalesce(instant::float8, 'NaN')), ''), '') as instant
          from deliveries where state = 'planned' and campaign_id in ${[...campaignIds]}`);
  const row = rows[0];
  const instants = new Uint8Array(row?.instant ?? []);
  Buffer.from(instants.buffer).swap64();
  return {
    id: unpack(row?.id),
    enrolmentId: unpack(row?.enrolmentId),
    step: unpack(row?.step),
    mailboxId: unpack(row?.mailboxId),
    day: unpack(row?.day),
    instant: new Float64Array(instants.buffer),
    units: unpack(row?.units),
    held: unpack(row?.held),
  };
}

/** Deliveries of campaigns that are under way, or waiting to be tried again or for a person's word. */
export async function deliveriesUnderWay(db: Queryable, campaignIds: readonly number[]): Promise<DeliveryRow[]> {
  if (campaignIds.length === 0) return [];
  return db
    .select()
    .from(deliveries)
    .where(and(inArray(deliveries.campaignId, [...campaignIds]), isFixed(deliveries.state)));
}

export interface PlannedRow {
  enrolmentId: number;
  campaignId: number;
  step: number;
  mailboxId: number;
  day: number;
  instant: number;
  units: number;
  heldAt?: number | null;
}

/** Writes planned deliveries: adds those that are new, moves those still waiting. */
export async function putPlanned(tx: Queryable, rows: readonly PlannedRow[]): Promise<void> {
  for (const part of batches(rows)) {
    const column = (of: (row: PlannedRow) => number | null, type: string) =>
      sql`${sql.param(part.map(of))}::${sql.raw(type)}[]`;
    await tx.execute(sql`
      insert into deliveries (enrolment_id, campaign_id, step, mailbox_id, day, instant, units, held_at, state)
      select u.*, 'planned' from unnest(${column((r) => r.enrolmentId, 'int')}, ${column((r) => r.campaignId, 'int')},
        ${column((r) => r.step, 'int')}, ${column((r) => r.mailboxId, 'int')}, ${column((r) => r.day, 'int')},
        ${column((r) => r.instant, 'bigint')}, ${column((r) => r.units, 'int')}, ${column((r) => r.heldAt ?? null, 'bigint')})
        as u(enrolment_id, campaign_id, step, mailbox_id, day, instant, units, held_at)
      join enrolments e on e.id = u.enrolment_id and ${isOpenRecipient(sql`e.state`)}
      on conflict (enrolment_id, step) do update set mailbox_id = excluded.mailbox_id, day = excluded.day,
        instant = excluded.instant, units = excluded.units, held_at = coalesce(deliveries.held_at, excluded.held_at), reason = ''
      where deliveries.state = 'planned'`);
  }
}

/** In the order of their numbers, as all do who lock several. */
export async function removeDeliveries(tx: Queryable, numbers: readonly number[]): Promise<void> {
  const ids = [...numbers].sort((a, b) => a - b);
  for (let i = 0; i < ids.length; i += 5000)
    await tx
      .delete(deliveries)
      .where(and(inArray(deliveries.id, ids.slice(i, i + 5000)), eq(deliveries.state, 'planned')));
}
