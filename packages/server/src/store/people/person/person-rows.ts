import { asc, and, desc, eq, inArray, isNull, ne, sql } from 'drizzle-orm';
import type { Queryable } from '../../database';
import { removeRows } from '../list/row-removal';
import { detailOf } from '../../campaigns/event-rows';
import { isOpenRecipient } from '../../campaigns/state-conditions';
import { messagesBefore } from '../../sending/delivery-rows';
import {
  attempts,
  campaigns,
  contacts,
  deliveries,
  enrolments,
  events,
  incoming,
  listColumns,
  listRows,
  lists,
  mailboxes,
  suppressions,
} from '../../schema/schema';

export type ContactRow = typeof contacts.$inferSelect;

export async function readContact(db: Queryable, id: number): Promise<ContactRow | null> {
  const [row] = await db.select().from(contacts).where(eq(contacts.id, id));
  return row ?? null;
}

export async function suppressionOf(db: Queryable, { key, domain }: ContactRow) {
  const [row] = await db
    .select({ reason: suppressions.reason, source: suppressions.source, createdAt: suppressions.createdAt })
    .from(suppressions)
    .where(inArray(suppressions.key, [key, domain]))
    .limit(1);
  return row ?? null;
}

/** The person's rows on every list, with the list's columns. */
export async function listRowsOf(db: Queryable, contactId: number) {
  const rows = await db
    .select({ id: lists.id, name: lists.name, fields: listRows.fields })
    .from(listRows)
    .innerJoin(lists, eq(lists.id, listRows.listId))
    .where(and(eq(listRows.contactId, contactId), isNull(listRows.removedAt), isNull(lists.removedAt)))
    .orderBy(desc(lists.createdAt));
  const columns =
    rows.length === 0
      ? []
      : await db
          .select()
          .from(listColumns)
          .where(
            inArray(
              listColumns.listId,
              rows.map((r) => r.id),
            ),
          )
          .orderBy(listColumns.position);
  return rows.map((r) => ({
    id: r.id,
    name: r.name,
    fields: columns
      .filter((c) => c.listId === r.id && c.role !== 'address')
      .map((c) => ({ name: c.name, key: c.key, value: r.fields[c.key] ?? '' })),
  }));
}

/** The person in every campaign, newest first, with each message. */
export async function campaignsOf(db: Queryable, contactId: number) {
  const rows = await db
    .select({
      enrolmentId: enrolments.id,
      id: campaigns.id,
      name: campaigns.name,
      campaignState: campaigns.state,
      state: enrolments.state,
      reason: enrolments.reason,
      mailbox: mailboxes.address,
    })
    .from(enrolments)
    .innerJoin(campaigns, eq(campaigns.id, enrolments.campaignId))
    .leftJoin(mailboxes, eq(mailboxes.id, enrolments.mailboxId))
    .where(eq(enrolments.contactId, contactId))
    .orderBy(sql`${campaigns.startedAt} desc nulls last`, desc(campaigns.id));
  const ids = rows.map((r) => r.enrolmentId);
  const messages =
    ids.length === 0
      ? []
      : await db
          .select({
            enrolmentId: deliveries.enrolmentId,
            step: deliveries.step,
            state: deliveries.state,
            sentAt: deliveries.sentAt,
            instant: deliveries.instant,
            mailbox: mailboxes.address,
            subject: sql<string>`coalesce((select ${attempts.subject} from ${attempts} where ${attempts.deliveryId} = ${deliveries.id} order by ${attempts.id} desc limit 1), '')`,
          })
          .from(deliveries)
          .innerJoin(mailboxes, eq(mailboxes.id, deliveries.mailboxId))
          .where(inArray(deliveries.enrolmentId, ids))
          .orderBy(sql`coalesce(${deliveries.sentAt}, ${deliveries.instant})`, deliveries.step);
  return rows.map((r) => ({ ...r, messages: messages.filter((m) => m.enrolmentId === r.enrolmentId) }));
}

/** The person's enrolment in a campaign; null where there is none. */
export async function enrolmentOf(db: Queryable, contactId: number, campaignId: number): Promise<number | null> {
  const [row] = await db
    .select({ id: enrolments.id })
    .from(enrolments)
    .where(and(eq(enrolments.contactId, contactId), eq(enrolments.campaignId, campaignId)));
  return row?.id ?? null;
}

/** Everything a person is or was enrolled in. */
export async function enrolmentIdsOf(db: Queryable, contactId: number): Promise<number[]> {
  const rows = await db
    .select({ id: enrolments.id })
    .from(enrolments)
    .where(eq(enrolments.contactId, contactId))
    .orderBy(asc(enrolments.id));
  return rows.map((r) => r.id);
}

/** What happened to the person, newest first. */
export async function eventsOf(db: Queryable, contactId: number, limit: number) {
  return db
    .select({
      at: events.at,
      kind: events.kind,
      detail: detailOf(events),
      deliveryId: events.deliveryId,
      campaign: sql<string>`coalesce(${campaigns.name}, '')`,
      nth: messagesBefore(deliveries),
    })
    .from(events)
    .leftJoin(enrolments, eq(enrolments.id, events.enrolmentId))
    .leftJoin(campaigns, eq(campaigns.id, enrolments.campaignId))
    .leftJoin(deliveries, eq(deliveries.id, events.deliveryId))
    .where(eq(events.contactId, contactId))
    .orderBy(desc(events.at), desc(events.id))
    .limit(limit);
}

export async function countEventsOf(db: Queryable, contactId: number): Promise<number> {
  const [row] = await db
    .select({ n: sql<number>`count(*)::int` })
    .from(events)
    .where(eq(events.contactId, contactId));
  return row?.n ?? 0;
}

/** What the person sent, newest first. */
export async function incomingOf(db: Queryable, contactId: number) {
  return db
    .select({
      id: incoming.id,
      receivedAt: incoming.receivedAt,
      kind: incoming.kind,
      subject: incoming.subject,
      body: incoming.body,
      outcome: incoming.outcome,
      canUndo: sql<boolean>`${incoming.before} is not null`,
    })
    .from(incoming)
    .innerJoin(enrolments, eq(enrolments.id, incoming.enrolmentId))
    .where(eq(enrolments.contactId, contactId))
    .orderBy(desc(incoming.receivedAt));
}

/** Enrolments of others that are to be written to from a row which is now this person's. */
export async function othersOnRowsOf(tx: Queryable, contactId: number) {
  return tx
    .select({ enrolmentId: enrolments.id, contactId: enrolments.contactId })
    .from(enrolments)
    .innerJoin(listRows, eq(listRows.id, enrolments.listRowId))
    .where(
      and(eq(listRows.contactId, contactId), ne(enrolments.contactId, contactId), isOpenRecipient(enrolments.state)),
    );
}

/** Removes everything held about a person; only an entry of the suppression list stays. */
export async function eraseContact(tx: Queryable, contactId: number): Promise<void> {
  const own = tx.select({ id: enrolments.id }).from(enrolments).where(eq(enrolments.contactId, contactId));
  await tx.delete(incoming).where(inArray(incoming.enrolmentId, own));
  // Those of which nobody had said yet that they are theirs, with them.
  await tx.execute(sql`delete from letters l using contacts c where c.id = ${contactId} and l.to_key = c.key`);
  await tx.delete(events).where(eq(events.contactId, contactId));
  await tx.delete(enrolments).where(eq(enrolments.contactId, contactId));
  // No foreign key keeps an import from storing a row of theirs at this moment.
  await tx.execute(sql`lock table ${listRows} in share row exclusive mode`);
  // Apart, for only the rows that are on a list are found by person quickly.
  await removeRows(tx, sql`r.contact_id = ${contactId} and r.removed_at is null`);
  await removeRows(tx, sql`r.contact_id = ${contactId} and r.removed_at is not null`);
  // Rows set aside because they were theirs a second time.
  await tx.execute(sql`
    delete from list_aside a using contacts c where c.id = ${contactId}
      and exists (select from jsonb_array_elements_text(a.cells) cell where position(c.key in lower(cell)) > 0)`);
  await tx.delete(contacts).where(eq(contacts.id, contactId));
}
