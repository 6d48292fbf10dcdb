import { and, asc, count, eq, exists, gt, inArray, max, ne, notExists, or, sql } from 'drizzle-orm';
import type { Queryable } from '../database';
import {
  campaignMailboxes,
  campaigns,
  campaignSteps,
  contacts,
  deliveries,
  enrolments,
  listRows,
} from '../schema/schema';
import { isOpenRecipient } from './state-conditions';

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
    await tx
      .insert(campaignSteps)
      .values(steps.map((s, place) => ({ ...s, campaignId, position: place, place, isOut: false })));
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

/** @param tell is told how many have been added, again and again */
export async function addEnrolments(
  tx: Queryable,
  rows: readonly NewEnrolment[],
  tell: (done: number) => void = () => undefined,
): Promise<void> {
  for (let i = 0; i < rows.length; i += 2000) {
    tell(i);
    await tx.insert(enrolments).values(rows.slice(i, i + 2000));
  }
}

/** The revisions of everything that a campaign `c` is for or leaves out, together: another number whenever one of it has changed. */
const revisionOfParts = sql`(select coalesce(sum(l.revision), 0)::int from lists l where l.id = c.list_id
  or l.id in (select (part->>'listId')::int from jsonb_array_elements(c.also_parts || c.except_parts) part))`;

/** Started campaigns that take new people of their lists in, or leave people of others out, where one of these has changed since. */
export const campaignsToEnrolSql = sql`select c.id from campaigns c
  where (c.enrol_new or c.except_parts <> '[]') and c.state in ('running', 'held') and c.enrolled_revision <> ${revisionOfParts}`;

export async function revisionOfLists(db: Queryable, id: number): Promise<number> {
  const { rows } = await db.execute<{ n: number }>(
    sql`select ${revisionOfParts} as n from campaigns c where c.id = ${id}`,
  );
  return rows[0]?.n ?? 0;
}

/** Notes that a campaign is in line with its lists as they are now. */
export async function markInLine(tx: Queryable, id: number): Promise<void> {
  await updateCampaign(tx, id, { enrolledRevision: await revisionOfLists(tx, id) });
}

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

/** When people of lists were last written to by any campaign since an instant, by contact. */
export async function lastWrittenTo(
  db: Queryable,
  listIds: readonly number[],
  sinceMs: number,
): Promise<Map<number, number>> {
  const rows = await db
    .select({ contactId: enrolments.contactId, at: max(deliveries.sentAt) })
    .from(deliveries)
    .innerJoin(enrolments, eq(enrolments.id, deliveries.enrolmentId))
    .innerJoin(listRows, and(eq(listRows.contactId, enrolments.contactId), inArray(listRows.listId, [...listIds])))
    .where(gt(deliveries.sentAt, sinceMs))
    .groupBy(enrolments.contactId);
  return new Map(rows.map((r) => [r.contactId, Number(r.at)]));
}

/** Who of some lists has ever been sent anything by a campaign, by contact. */
export async function contactsWrittenTo(db: Queryable, listIds: readonly number[]): Promise<Set<number>> {
  const { rows } = await db.execute<{ id: number }>(sql`
    select distinct e.contact_id as id from enrolments e
    join list_rows r on r.contact_id = e.contact_id and r.list_id = any(${sql.param([...listIds])}::int[])
    where exists (select from deliveries d where d.enrolment_id = e.id and d.sent_at is not null)`);
  return new Set(rows.map((r) => r.id));
}

/** From which mailbox people of lists were last written to, by contact. */
export async function lastSenders(db: Queryable, listIds: readonly number[]): Promise<Map<number, number>> {
  const { rows } = await db.execute<{ contactId: number; mailboxId: number }>(sql`
    select distinct on (e.contact_id) e.contact_id as "contactId", d.mailbox_id as "mailboxId"
    from deliveries d join enrolments e on e.id = d.enrolment_id
    where d.sent_at is not null
      and e.contact_id in (select contact_id from list_rows where list_id = any(${sql.param([...listIds])}::int[]))
    order by e.contact_id, d.sent_at desc`);
  return new Map(rows.map((r) => [r.contactId, r.mailboxId]));
}

/** Who of some lists is still to get something from another campaign that has been started, by contact: the campaigns' names. */
export async function peopleOfOthers(
  db: Queryable,
  listIds: readonly number[],
  exceptId: number,
): Promise<Map<number, string[]>> {
  const rows = await db
    .selectDistinct({ contactId: enrolments.contactId, name: campaigns.name })
    .from(enrolments)
    .innerJoin(campaigns, eq(campaigns.id, enrolments.campaignId))
    .innerJoin(listRows, and(eq(listRows.contactId, enrolments.contactId), inArray(listRows.listId, [...listIds])))
    .where(
      and(inArray(campaigns.state, ['running', 'held']), ne(campaigns.id, exceptId), isOpenRecipient(enrolments.state)),
    );
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

/** Running campaigns all of whose recipients have come to their end, and which take in nobody new. */
export async function campaignsAtEnd(db: Queryable): Promise<number[]> {
  const open = db
    .select({ id: enrolments.id })
    .from(enrolments)
    .where(and(eq(enrolments.campaignId, campaigns.id), isOpenRecipient(enrolments.state)));
  const anybody = db.select({ id: enrolments.id }).from(enrolments).where(eq(enrolments.campaignId, campaigns.id));
  const rows = await db
    .select({ id: campaigns.id })
    .from(campaigns)
    .where(and(eq(campaigns.state, 'running'), eq(campaigns.enrolNew, false), exists(anybody), notExists(open)));
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
