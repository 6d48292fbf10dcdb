import type { RecipientSort } from '@baton/contract';
import { RECIPIENT_STATES, type DeliveryState } from '@baton/core';
import { and, asc, count, eq, ilike, inArray, or, sql, type SQL } from 'drizzle-orm';
import { batches, like, type Queryable } from '../database';
import { contacts, deliveries, enrolments, incoming, listRows, mailboxes } from '../schema/schema';
import type { EnrolmentRow } from './campaign-rows';
import { outcomeGiven } from './outcome-rows';
import { isOpenRecipient, takesOutcome } from './state-conditions';

export async function allEnrolments(db: Queryable, campaignId: number): Promise<number[]> {
  const rows = await db.select({ id: enrolments.id }).from(enrolments).where(eq(enrolments.campaignId, campaignId));
  return rows.map((r) => r.id);
}

/** The rows from which people were enrolled, each with its list. */
export async function rowsOfEnrolments(
  db: Queryable,
  ids: readonly number[],
): Promise<{ id: number; listId: number }[]> {
  const out: { id: number; listId: number }[] = [];
  for (const some of batches(ids)) {
    const rows = await db
      .select({ id: listRows.id, listId: listRows.listId })
      .from(enrolments)
      .innerJoin(listRows, eq(listRows.id, enrolments.listRowId))
      .where(inArray(enrolments.id, [...some]));
    out.push(...rows);
  }
  return out;
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

function orderBy({ sort, descending }: { sort: RecipientSort; descending: boolean }): SQL[] {
  if (sort === '') return [];
  const by = sortKey(sort);
  return [descending ? sql`${by} desc nulls last` : sql`${by} asc nulls last`];
}

function sortKey(sort: Exclude<RecipientSort, ''>): SQL {
  switch (sort) {
    case 'who':
      return sql`${contacts.address}`;
    case 'state':
      return sql`array_position(${sql.param([...RECIPIENT_STATES])}::text[], ${enrolments.state})`;
    case 'from':
      return sql`coalesce(${mailboxes.address}, ${plannedMailbox})`;
    case 'outcome':
      return sql`${outcomeOf}`;
    default:
      // The message of that column, as the table counts: what each has had, then what is to come.
      return sql`(select coalesce(d.sent_at, d.instant) from ${deliveries} d where d.enrolment_id = ${enrolments.id}
        order by coalesce(d.sent_at, d.instant), d.step offset ${Number(sort.slice('step_'.length))} limit 1)`;
  }
}

const outcomeOf = outcomeGiven(enrolments.id);

const plannedMailbox = sql<
  string | null
>`(select m.address from ${deliveries} d join ${mailboxes} m on m.id = d.mailbox_id where d.enrolment_id = ${enrolments.id} order by d.step limit 1)`;

/** The campaign's first list comes first, each in its own order. */
const inOrderOfLists = (campaignId: number) => [
  sql`${listRows.listId} is distinct from (select list_id from campaigns where id = ${campaignId})`,
  asc(listRows.listId),
  asc(listRows.position),
];

/** Recipients of a campaign and their states, in the order of its lists where no other is asked for. */
export async function campaignRecipients(
  db: Queryable,
  campaignId: number,
  filter: RecipientFilter,
  page: { offset: number; limit: number },
  order: { sort: RecipientSort; descending: boolean } = { sort: '', descending: false },
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
      outcome: outcomeOf,
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
      plannedMailbox,
    })
    .from(enrolments)
    .innerJoin(contacts, eq(contacts.id, enrolments.contactId))
    .innerJoin(listRows, eq(listRows.id, enrolments.listRowId))
    .leftJoin(mailboxes, eq(mailboxes.id, enrolments.mailboxId))
    .where(matching(campaignId, filter))
    .orderBy(...orderBy(order), ...inOrderOfLists(campaignId), asc(enrolments.id))
    .offset(page.offset)
    .limit(page.limit);
}
