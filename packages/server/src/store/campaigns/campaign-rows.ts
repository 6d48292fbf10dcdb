import type { DeliveryState } from '@baton/core';
import { and, asc, count, eq, exists, ilike, inArray, ne, notExists, or, sql } from 'drizzle-orm';
import { batches, like, type Queryable } from '../database';
import {
  campaignMailboxes,
  campaigns,
  campaignSteps,
  contacts,
  deliveries,
  enrolments,
  incoming,
  listRows,
  mailboxes,
} from '../schema/schema';
import { isOpenRecipient, takesOutcome } from './state-conditions';

export type CampaignRow = typeof campaigns.$inferSelect;
export type StepRow = typeof campaignSteps.$inferSelect;
export type EnrolmentRow = typeof enrolments.$inferSelect;
export type NewEnrolment = Omit<typeof enrolments.$inferInsert, 'id'>;

export async function listCampaigns(db: Queryable): Promise<CampaignRow[]> {
  return db.select().from(campaigns).orderBy(asc(campaigns.createdAt), asc(campaigns.id));
}

export async function readCampaign(db: Queryable, id: number): Promise<CampaignRow | null> {
  const [row] = await db.select().from(campaigns).where(eq(campaigns.id, id));
  return row ?? null;
}

export async function lockCampaign(tx: Queryable, id: number): Promise<CampaignRow | null> {
  const [row] = await tx.select().from(campaigns).where(eq(campaigns.id, id)).for('update');
  return row ?? null;
}

export async function addCampaign(db: Queryable, row: Omit<typeof campaigns.$inferInsert, 'id'>): Promise<number> {
  const [added] = await db.insert(campaigns).values(row).returning({ id: campaigns.id });
  return (added as { id: number }).id;
}

export async function updateCampaign(db: Queryable, id: number, change: Partial<CampaignRow>): Promise<void> {
  await db.update(campaigns).set(change).where(eq(campaigns.id, id));
}

/** The sequences of campaigns, in order; what was taken out of them while they ran is not in it. */
export async function readSteps(db: Queryable, campaignIds: readonly number[]): Promise<StepRow[]> {
  if (campaignIds.length === 0) return [];
  return db
    .select()
    .from(campaignSteps)
    .where(and(inArray(campaignSteps.campaignId, [...campaignIds]), eq(campaignSteps.isOut, false)))
    .orderBy(asc(campaignSteps.campaignId), asc(campaignSteps.place));
}

/** Where every step of a campaign stands or stood, by its number. */
export async function placesOfSteps(
  db: Queryable,
  campaignIds: readonly number[],
): Promise<Map<number, Map<number, number>>> {
  const places = new Map<number, Map<number, number>>(campaignIds.map((id) => [id, new Map<number, number>()]));
  if (campaignIds.length === 0) return places;
  const { campaignId, position, place } = campaignSteps;
  const rows = await db
    .select({ campaignId, position, place })
    .from(campaignSteps)
    .where(inArray(campaignId, [...campaignIds]));
  for (const row of rows) places.get(row.campaignId)?.set(row.position, row.place);
  return places;
}

/** The steps of a draft, of which nothing has left. */
export async function replaceSteps(
  tx: Queryable,
  campaignId: number,
  steps: readonly Omit<StepRow, 'campaignId' | 'position' | 'place' | 'isOut'>[],
): Promise<void> {
  await tx.delete(campaignSteps).where(eq(campaignSteps.campaignId, campaignId));
  if (steps.length > 0)
    await tx.insert(campaignSteps).values(steps.map((s, place) => ({ ...s, campaignId, position: place, place })));
}

export async function readCampaignMailboxes(
  db: Queryable,
  campaignIds: readonly number[],
): Promise<{ campaignId: number; mailboxId: number }[]> {
  if (campaignIds.length === 0) return [];
  return db
    .select()
    .from(campaignMailboxes)
    .where(inArray(campaignMailboxes.campaignId, [...campaignIds]))
    .orderBy(asc(campaignMailboxes.mailboxId));
}

export async function replaceCampaignMailboxes(
  tx: Queryable,
  campaignId: number,
  mailboxIds: readonly number[],
): Promise<void> {
  await tx.delete(campaignMailboxes).where(eq(campaignMailboxes.campaignId, campaignId));
  if (mailboxIds.length > 0)
    await tx.insert(campaignMailboxes).values(mailboxIds.map((mailboxId) => ({ campaignId, mailboxId })));
}

export async function addEnrolments(tx: Queryable, rows: readonly NewEnrolment[]): Promise<void> {
  for (let i = 0; i < rows.length; i += 5000) await tx.insert(enrolments).values(rows.slice(i, i + 5000));
}

/** Started campaigns that add new people of their list, and whose list has changed since they last did. */
export const campaignsToEnrolSql = sql`select c.id from campaigns c join lists l on l.id = c.list_id
  where c.enrol_new and c.state in ('running', 'held') and l.revision > c.enrolled_revision`;

export async function campaignsToEnrol(db: Queryable): Promise<number[]> {
  const { rows } = await db.execute<{ id: number }>(campaignsToEnrolSql);
  return rows.map((r) => r.id);
}

/** Everybody a campaign has taken in, by contact. */
export async function enrolledContacts(db: Queryable, campaignId: number): Promise<Set<number>> {
  const rows = await db
    .select({ contactId: enrolments.contactId })
    .from(enrolments)
    .where(eq(enrolments.campaignId, campaignId));
  return new Set(rows.map((r) => r.contactId));
}

export async function allEnrolments(db: Queryable, campaignId: number): Promise<number[]> {
  const rows = await db.select({ id: enrolments.id }).from(enrolments).where(eq(enrolments.campaignId, campaignId));
  return rows.map((r) => r.id);
}

/** Those to whom more is to come. */
export async function openEnrolmentsOf(db: Queryable, campaignId: number): Promise<number[]> {
  const rows = await db
    .select({ id: enrolments.id })
    .from(enrolments)
    .where(and(eq(enrolments.campaignId, campaignId), isOpenRecipient(enrolments.state)));
  return rows.map((r) => r.id);
}

/** Those that a search finds. */
export async function foundEnrolments(db: Queryable, campaignId: number, filter: RecipientFilter): Promise<number[]> {
  const rows = await db
    .select({ id: enrolments.id })
    .from(enrolments)
    .innerJoin(contacts, eq(contacts.id, enrolments.contactId))
    .innerJoin(listRows, eq(listRows.id, enrolments.listRowId))
    .where(matching(campaignId, filter));
  return rows.map((r) => r.id);
}

/** The enrolments of people in a campaign. */
export async function enrolledIds(db: Queryable, campaignId: number, contactIds: readonly number[]): Promise<number[]> {
  const ids: number[] = [];
  for (const some of batches(contactIds)) {
    const rows = await db
      .select({ id: enrolments.id })
      .from(enrolments)
      .where(and(eq(enrolments.campaignId, campaignId), inArray(enrolments.contactId, [...some])));
    ids.push(...rows.map((r) => r.id));
  }
  return ids;
}

/** Who of a list is still to get something from a campaign that has been started, by contact: the campaigns' names. */
export async function peopleOfOthers(db: Queryable, listId: number): Promise<Map<number, string[]>> {
  const rows = await db
    .selectDistinct({ contactId: enrolments.contactId, name: campaigns.name })
    .from(enrolments)
    .innerJoin(campaigns, eq(campaigns.id, enrolments.campaignId))
    .innerJoin(listRows, and(eq(listRows.contactId, enrolments.contactId), eq(listRows.listId, listId)))
    .where(and(inArray(campaigns.state, ['running', 'held']), isOpenRecipient(enrolments.state)));
  const names = new Map<number, string[]>();
  for (const { contactId, name } of rows) names.set(contactId, [...(names.get(contactId) ?? []), name]);
  return names;
}

/** One recipient of a campaign with address and row. */
export interface EnrolledPerson extends EnrolmentRow {
  address: string;
  key: string;
  domain: string;
  fields: Record<string, string>;
  zone: string | null;
}

export async function readEnrolment(db: Queryable, id: number): Promise<EnrolledPerson | null> {
  const [row] = await db
    .select({
      enrolment: enrolments,
      address: contacts.address,
      key: contacts.key,
      domain: contacts.domain,
      fields: listRows.fields,
      zone: listRows.zone,
    })
    .from(enrolments)
    .innerJoin(contacts, eq(contacts.id, enrolments.contactId))
    .innerJoin(listRows, eq(listRows.id, enrolments.listRowId))
    .where(eq(enrolments.id, id));
  return row
    ? { ...row.enrolment, address: row.address, key: row.key, domain: row.domain, fields: row.fields, zone: row.zone }
    : null;
}

export async function updateEnrolment(tx: Queryable, id: number, change: Partial<EnrolmentRow>): Promise<void> {
  await tx.update(enrolments).set(change).where(eq(enrolments.id, id));
}

/** All enrolments of a contact, locked. */
export async function lockEnrolmentsOf(tx: Queryable, contactId: number): Promise<EnrolmentRow[]> {
  return tx
    .select()
    .from(enrolments)
    .where(eq(enrolments.contactId, contactId))
    .orderBy(asc(enrolments.id))
    .for('update');
}

/**
 * Who is open in the campaign of an enrolment and has an address of the same domain, where the campaign holds colleagues. What
 * another transaction is changing is left out: waiting for it could end in a deadlock.
 */
export async function lockColleaguesOf(
  tx: Queryable,
  enrolmentId: number,
): Promise<(EnrolmentRow & { domain: string })[]> {
  const [own] = await tx
    .select({ campaignId: campaigns.id, domain: contacts.domain })
    .from(enrolments)
    .innerJoin(campaigns, eq(campaigns.id, enrolments.campaignId))
    .innerJoin(contacts, eq(contacts.id, enrolments.contactId))
    .where(and(eq(enrolments.id, enrolmentId), eq(campaigns.holdsColleagues, true)));
  if (!own) return [];
  const { domain } = own;
  const rows = await tx
    .select({ enrolment: enrolments })
    .from(enrolments)
    .innerJoin(contacts, eq(contacts.id, enrolments.contactId))
    .where(
      and(
        eq(enrolments.campaignId, own.campaignId),
        eq(contacts.domain, domain),
        ne(enrolments.id, enrolmentId),
        isOpenRecipient(enrolments.state),
      ),
    )
    .orderBy(asc(enrolments.id))
    .for('update', { of: enrolments, skipLocked: true });
  return rows.map(({ enrolment }) => ({ ...enrolment, domain }));
}

/** People who may still get messages and whose address or domain is among these keys. */
export async function openContactsCovered(db: Queryable, keys: readonly string[]): Promise<number[]> {
  if (keys.length === 0) return [];
  const list = sql`(select jsonb_array_elements_text(${JSON.stringify(keys)}::jsonb))`;
  const rows = await db
    .selectDistinct({ id: contacts.id })
    .from(contacts)
    .innerJoin(enrolments, eq(enrolments.contactId, contacts.id))
    .where(
      and(isOpenRecipient(enrolments.state), or(sql`${contacts.key} in ${list}`, sql`${contacts.domain} in ${list}`)),
    );
  return rows.map((r) => r.id);
}

/** Whether anybody of the campaign may still get a message. */
export async function hasOpenEnrolments(db: Queryable, campaignId: number): Promise<boolean> {
  const [row] = await db
    .select({ id: enrolments.id })
    .from(enrolments)
    .where(and(eq(enrolments.campaignId, campaignId), isOpenRecipient(enrolments.state)))
    .limit(1);
  return row !== undefined;
}

/** Running campaigns all of whose recipients have come to their end. */
export async function campaignsAtEnd(db: Queryable): Promise<number[]> {
  const open = db
    .select({ id: enrolments.id })
    .from(enrolments)
    .where(and(eq(enrolments.campaignId, campaigns.id), isOpenRecipient(enrolments.state)));
  const anybody = db.select({ id: enrolments.id }).from(enrolments).where(eq(enrolments.campaignId, campaigns.id));
  const rows = await db
    .select({ id: campaigns.id })
    .from(campaigns)
    .where(and(eq(campaigns.state, 'running'), exists(anybody), notExists(open)));
  return rows.map((r) => r.id);
}

export async function stateCounts(
  db: Queryable,
): Promise<{ campaignId: number; state: EnrolmentRow['state']; n: number }[]> {
  return db
    .select({ campaignId: enrolments.campaignId, state: enrolments.state, n: count() })
    .from(enrolments)
    .groupBy(enrolments.campaignId, enrolments.state);
}

/** First and last planned days, and the last start, of each campaign. */
export async function plannedDays(
  db: Queryable,
): Promise<{ campaignId: number; firstDay: number; lastDay: number; lastStartDay: number | null }[]> {
  return db
    .select({
      campaignId: deliveries.campaignId,
      firstDay: sql<number>`min(${deliveries.day})`,
      lastDay: sql<number>`max(${deliveries.day})`,
      lastStartDay: sql<number | null>`max(${deliveries.day}) filter (where ${deliveries.step} = 0)`,
    })
    .from(deliveries)
    .groupBy(deliveries.campaignId);
}

/** Which of a campaign's recipients are meant. */
export interface RecipientFilter {
  state: EnrolmentRow['state'] | '';
  search: string;
}

const matching = (campaignId: number, { state, search }: RecipientFilter) =>
  and(
    eq(enrolments.campaignId, campaignId),
    state === '' ? undefined : eq(enrolments.state, state),
    search === ''
      ? undefined
      : or(ilike(contacts.address, like(search)), sql`${listRows.fields}::text ilike ${like(search)}`),
  );

export async function countRecipients(db: Queryable, campaignId: number, filter: RecipientFilter): Promise<number> {
  const [row] = await db
    .select({ n: count() })
    .from(enrolments)
    .innerJoin(contacts, eq(contacts.id, enrolments.contactId))
    .innerJoin(listRows, eq(listRows.id, enrolments.listRowId))
    .where(matching(campaignId, filter));
  return row?.n ?? 0;
}

/** Recipients of a campaign and their states, in the order of the list. */
export async function campaignRecipients(
  db: Queryable,
  campaignId: number,
  filter: RecipientFilter,
  page: { offset: number; limit: number },
) {
  return db
    .select({
      enrolmentId: enrolments.id,
      contactId: enrolments.contactId,
      address: contacts.address,
      fields: listRows.fields,
      zone: listRows.zone,
      state: enrolments.state,
      reason: enrolments.reason,
      sent: enrolments.sent,
      mailbox: mailboxes.address,
      mailboxZone: mailboxes.zone,
      outcome: sql<
        string | null
      >`(select i.outcome from ${incoming} i where i.enrolment_id = ${enrolments.id} and i.outcome is not null order by i.received_at desc limit 1)`,
      repliedAt: sql<
        string | null
      >`(select min(i.received_at) from ${incoming} i where i.enrolment_id = ${enrolments.id} and ${takesOutcome(sql`i.kind`)})`,
      deliveries: sql<
        | {
            id: number;
            step: number;
            state: DeliveryState;
            instant: number | null;
            sentAt: number | null;
            reason: string;
          }[]
        | null
      >`(select json_agg(json_build_object('id', d.id, 'step', d.step, 'state', d.state, 'instant', d.instant, 'sentAt', d.sent_at, 'reason', d.reason) order by coalesce(d.sent_at, d.instant), d.step) from ${deliveries} d where d.enrolment_id = ${enrolments.id})`,
      plannedMailbox: sql<
        string | null
      >`(select m.address from ${deliveries} d join ${mailboxes} m on m.id = d.mailbox_id where d.enrolment_id = ${enrolments.id} order by d.step limit 1)`,
    })
    .from(enrolments)
    .innerJoin(contacts, eq(contacts.id, enrolments.contactId))
    .innerJoin(listRows, eq(listRows.id, enrolments.listRowId))
    .leftJoin(mailboxes, eq(mailboxes.id, enrolments.mailboxId))
    .where(matching(campaignId, filter))
    .orderBy(asc(listRows.position))
    .offset(page.offset)
    .limit(page.limit);
}
