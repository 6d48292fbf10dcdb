import type { GroupProgress, RecipientState } from '@baton/core';
import { and, eq, inArray, not, sql, type SQL } from 'drizzle-orm';
import { hasHadAll, isFixed, isOpenRecipient } from '../campaigns/state-conditions';
import { batches, type Queryable } from '../database';
import { deliveries } from '../schema/schema';
import { hasLeftBefore, type DeliveryRow } from '../sending/delivery-rows';

/** Somebody who is open in a campaign, as far as planning asks. */
export interface OpenEnrolment {
  id: number;
  campaignId: number;
  mailboxId: number | null;
  state: RecipientState;
  sent: number;
  /** Whether they have opened a message, and followed a link in one. */
  opened: boolean;
  clicked: boolean;
  lastSentDay: number | null;
  notBefore: number | null;
  /** Minutes since midnight, of the first message; null for any. */
  sendMinute: number | null;
  units: number;
  /** 1-based place among those the campaign is for. */
  position: number;
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

/**
 * Who is open in campaigns, in their lists' order: what a plan is made of.
 *
 * @param alsoDoneIn a campaign of which also those are given who have had every message
 */
export async function openEnrolments(
  db: Queryable,
  campaignIds: readonly number[],
  alsoDoneIn = 0,
): Promise<OpenEnrolment[]> {
  if (campaignIds.length === 0) return [];
  const whole = (what: string) => packed(sql.raw(what));
  const { rows } = await db.execute<Record<string, Buffer> & Record<'domain' | 'zone' | 'state', string | null>>(sql`
    select ${whole('id')} as id, ${whole('campaign_id')} as campaign, ${whole('mailbox_id')} as mailbox, ${whole('sent')} as sent,
      ${whole('last_sent_day')} as last, ${whole('not_before')} as "notBefore", ${whole('send_minute')} as minute, ${whole('units')} as units, ${whole('position')} as position, ${whole('seen')} as seen,
      string_agg(domain, chr(10)) as domain, string_agg(coalesce(zone, ''), chr(10)) as zone, string_agg(state, chr(10)) as state
    from (
      select e.id, e.campaign_id, e.mailbox_id, e.state, e.sent, e.last_sent_day, e.not_before, e.send_minute, e.units, e.position, c.domain, r.zone,
        (e.opened_at is not null)::int + 2 * (e.clicked_at is not null)::int as seen
      from enrolments e join contacts c on c.id = e.contact_id join list_rows r on r.id = e.list_row_id
      where e.campaign_id in ${[...campaignIds]}
        and (${isOpenRecipient(sql`e.state`)} or (e.campaign_id = ${alsoDoneIn} and ${hasHadAll(sql`e.state`)}))
      order by e.campaign_id, r.position
    ) open`);
  const row = rows[0];
  const id = unpack(row?.['id']);
  const [campaign, mailbox, sent] = [unpack(row?.['campaign']), unpack(row?.['mailbox']), unpack(row?.['sent'])];
  const [last, notBefore, units] = [unpack(row?.['last']), unpack(row?.['notBefore']), unpack(row?.['units'])];
  const [position, minute, seen] = [unpack(row?.['position']), unpack(row?.['minute']), unpack(row?.['seen'])];
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
    opened: ((seen[i] as number) & 1) !== 0,
    clicked: ((seen[i] as number) & 2) !== 0,
    lastSentDay: orNull(last[i]),
    notBefore: orNull(notBefore[i]),
    sendMinute: orNull(minute[i]),
    units: units[i] as number,
    position: position[i] as number,
    domain: domain[i] as string,
    zone: zone[i] || null,
  }));
}

/** How far the first people of a campaign are. */
export async function groupProgress(db: Queryable, campaignId: number, first: number): Promise<GroupProgress> {
  const { rows } = await db.execute<{ waiting: number; lastDay: number | null }>(sql`
    select count(*) filter (where sent = 0 and ${isOpenRecipient(sql`state`)})::int as waiting, max(last_sent_day) as "lastDay"
    from enrolments where campaign_id = ${campaignId} and position between 1 and ${first}`);
  return rows[0] ?? { waiting: 0, lastDay: null };
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

/**
 * Removes planned deliveries, in the order of their numbers, as all do who lock several. One that had left before, and is to
 * be sent once more, only loses its time.
 */
export async function removeDeliveries(tx: Queryable, numbers: readonly number[]): Promise<void> {
  const ids = [...numbers].sort((a, b) => a - b);
  for (let i = 0; i < ids.length; i += 5000) {
    const these = and(inArray(deliveries.id, ids.slice(i, i + 5000)), eq(deliveries.state, 'planned'));
    await tx.update(deliveries).set({ instant: null }).where(and(these, hasLeftBefore));
    await tx.delete(deliveries).where(and(these, not(hasLeftBefore)));
  }
}
