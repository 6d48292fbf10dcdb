import type { DeliveryState } from '@baton/core';
import { and, asc, count, eq, ilike, inArray, or, sql } from 'drizzle-orm';
import { batches, like, type Queryable } from '../database';
import { contacts, deliveries, enrolments, incoming, listRows, mailboxes } from '../schema/schema';
import type { EnrolmentRow } from './campaign-rows';
import { isOpenRecipient, takesOutcome } from './state-conditions';

export async function allEnrolments(db: Queryable, campaignId: number): Promise<number[]> {
  const rows = await db.select({ id: enrolments.id }).from(enrolments).where(eq(enrolments.campaignId, campaignId));
  return rows.map((r) => r.id);
}

/** The rows of a list from which people were enrolled. */
export async function rowsOfEnrolments(db: Queryable, ids: readonly number[], listId: number): Promise<number[]> {
  const rowIds: number[] = [];
  for (const some of batches(ids)) {
    const rows = await db
      .select({ id: listRows.id })
      .from(enrolments)
      .innerJoin(listRows, and(eq(listRows.id, enrolments.listRowId), eq(listRows.listId, listId)))
      .where(inArray(enrolments.id, [...some]));
    rowIds.push(...rows.map((r) => r.id));
  }
  return rowIds;
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
