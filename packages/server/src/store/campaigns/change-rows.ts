import type { RecipientState } from '@baton/core';
import { and, count, desc, eq, gt, inArray, isNull, max, not, sql, type SQL } from 'drizzle-orm';
import { batches, type Queryable } from '../database';
import {
  campaignChanges,
  campaignSteps,
  deliveries,
  attempts,
  enrolments,
  stepVersions,
  type CampaignBefore,
  type PersonStands,
} from '../schema/schema';
import { hasLeftBefore } from '../sending/delivery-rows';
import type { StepRow } from './campaign-rows';
import { isCountedDelivery, isWaiting } from './state-conditions';

export type CampaignChangeRow = typeof campaignChanges.$inferSelect;

/** Every step that a campaign has had, also those that were taken out. */
export async function everyStep(db: Queryable, campaignId: number): Promise<StepRow[]> {
  return db.select().from(campaignSteps).where(eq(campaignSteps.campaignId, campaignId));
}

/** To how many each step has left, or may have, by its number. */
export async function sentOfSteps(db: Queryable, campaignId: number): Promise<Map<number, number>> {
  const rows = await db
    .select({ step: deliveries.step, n: count() })
    .from(deliveries)
    .where(and(eq(deliveries.campaignId, campaignId), isCountedDelivery(deliveries.state)))
    .groupBy(deliveries.step);
  return new Map(rows.map((r) => [r.step, r.n]));
}

/** Writes steps over those with the same numbers; others stay. */
export async function putSteps(tx: Queryable, steps: readonly StepRow[]): Promise<void> {
  if (steps.length === 0) return;
  const { campaignId, position } = campaignSteps;
  const given = (column: string) => sql.raw(`excluded.${column}`);
  await tx
    .insert(campaignSteps)
    .values([...steps])
    .onConflictDoUpdate({
      target: [campaignId, position],
      set: {
        ...{ place: given('place'), isOut: given('is_out'), messageId: given('message_id'), delay: given('delay') },
        ...{
          tolerance: given('tolerance'),
          startsThread: given('starts_thread'),
          condition: given('condition'),
          quotes: given('quotes'),
          lastDay: given('last_day'),
          hours: given('hours'),
          answersLast: given('answers_last'),
          content: given('content'),
          others: given('others'),
          ifClicked: given('if_clicked'),
        },
      },
    });
}

export async function removeSteps(tx: Queryable, campaignId: number, numbers: readonly number[]): Promise<void> {
  if (numbers.length === 0) return;
  await tx
    .delete(campaignSteps)
    .where(and(eq(campaignSteps.campaignId, campaignId), inArray(campaignSteps.position, [...numbers])));
}

/** Keeps what a step has sent so far, before it is changed. */
export async function keepVersion(tx: Queryable, step: StepRow, nowMs: number): Promise<void> {
  const { campaignId, position, messageId, content, others, ifClicked } = step;
  const gone = and(
    eq(deliveries.campaignId, campaignId),
    eq(deliveries.step, position),
    isNull(deliveries.versionId),
    not(isWaiting(deliveries.state)),
  );
  const [one] = await tx.select({ id: deliveries.id }).from(deliveries).where(gone).limit(1);
  if (!one) return;
  const [kept] = await tx
    .insert(stepVersions)
    .values({ campaignId, position, messageId, content, others, ifClicked, until: nowMs })
    .returning({ id: stepVersions.id });
  await tx
    .update(deliveries)
    .set({ versionId: (kept as { id: number }).id })
    .where(gone);
}

/** The kept versions of campaigns. */
export async function readVersions(
  db: Queryable,
  campaignIds: readonly number[],
): Promise<(typeof stepVersions.$inferSelect)[]> {
  if (campaignIds.length === 0) return [];
  return db
    .select()
    .from(stepVersions)
    .where(inArray(stepVersions.campaignId, [...campaignIds]));
}

export async function updateVersion(
  tx: Queryable,
  id: number,
  change: Pick<typeof stepVersions.$inferSelect, 'content' | 'others' | 'ifClicked'>,
): Promise<void> {
  await tx.update(stepVersions).set(change).where(eq(stepVersions.id, id));
}

/**
 * Takes the time of everything that waits in a campaign, or of what waits for some of its people: whoever is about to claim
 * one of these messages finds out that it is to be planned anew, and what has been claimed is waited for.
 *
 * @returns when they were to leave, by delivery, so that the new plan can keep that
 */
export async function takeTimes(
  tx: Queryable,
  campaignId: number,
  enrolmentIds?: readonly number[],
): Promise<Map<number, number>> {
  const whose = enrolmentIds && sql`${deliveries.enrolmentId} = any(${sql.param([...enrolmentIds])}::int[])`;
  const waiting = and(eq(deliveries.campaignId, campaignId), isWaiting(deliveries.state), whose);
  const { id, instant } = deliveries;
  const rows = await tx.select({ id, instant }).from(deliveries).where(waiting).orderBy(id).for('update');
  for (const some of batches(rows))
    await tx
      .update(deliveries)
      .set({ instant: null, state: 'planned' })
      .where(sql`${id} = any(${sql.param(some.map((r) => r.id))}::int[])`);
  return new Map(rows.flatMap((r) => (r.instant === null ? [] : [[r.id, r.instant] as const])));
}

/** Holds all that waits in a campaign until a person lets it go, or lets it go. */
export async function holdWaiting(tx: Queryable, campaignId: number, heldAt: number | null): Promise<void> {
  await tx
    .update(deliveries)
    .set({ heldAt })
    .where(and(eq(deliveries.campaignId, campaignId), isWaiting(deliveries.state)));
}

/** Removes what waits of steps that are taken out; what had left before, and was to be sent once more, is not. */
export async function removeWaiting(tx: Queryable, campaignId: number, numbers: readonly number[]): Promise<void> {
  if (numbers.length === 0) return;
  const these = and(
    eq(deliveries.campaignId, campaignId),
    inArray(deliveries.step, [...numbers]),
    isWaiting(deliveries.state),
  );
  await tx.update(deliveries).set({ state: 'failed', instant: null }).where(and(these, hasLeftBefore));
  await tx.delete(deliveries).where(these);
}

/** Somebody in a campaign, as far as a change of it asks. */
export interface PersonOnTheWay extends PersonStands {
  id: number;
  contactId: number;
  /** Day from which the wait for the next message counts. */
  lastSentDay: number | null;
  /** What is known of them that conditions of follow-ups ask for. */
  opened: boolean;
  clicked: boolean;
}

/** @param which only these enrolments */
export async function peopleOnTheWay(
  db: Queryable,
  campaignId: number,
  which?: readonly number[],
): Promise<PersonOnTheWay[]> {
  const select = async (of: SQL) =>
    (
      await db.execute<PersonOnTheWay & Record<string, unknown>>(sql`
        select e.id, e.contact_id as "contactId", e.state, e.reason, e.sent, e.not_before as "notBefore",
          e.mailbox_id as "mailboxId", e.last_sent_day as "lastSentDay", e.opened_at is not null as opened,
          e.clicked_at is not null as clicked from enrolments e where e.campaign_id = ${campaignId} ${of} order by e.id`)
    ).rows;
  if (!which) return select(sql``);
  const found: PersonOnTheWay[] = [];
  for (const some of batches(which)) found.push(...(await select(sql`and e.id = any(${sql.param([...some])}::int[])`)));
  return found;
}

/** Sets where people stand whose state is the one that was read; what has happened to the others since counts more. */
export async function putPeople(
  tx: Queryable,
  people: readonly (PersonStands & { id: number; since: RecipientState })[],
  nowMs: number,
): Promise<void> {
  for (let i = 0; i < people.length; i += 5000) {
    const part = people.slice(i, i + 5000);
    const column = (of: (p: (typeof part)[number]) => number | string | null, type: string) =>
      sql`${sql.param(part.map(of))}::${sql.raw(type)}[]`;
    await tx.execute(sql`
      update enrolments e set sent = u.sent, not_before = u.not_before, mailbox_id = u.mailbox_id, changed_at = ${nowMs},
        state = case when e.state = u.since then u.state else e.state end,
        reason = case when e.state = u.since then u.reason else e.reason end
      from unnest(${column((p) => p.id, 'int')}, ${column((p) => p.since, 'text')}, ${column((p) => p.state, 'text')},
        ${column((p) => p.reason, 'text')}, ${column((p) => p.sent, 'int')}, ${column((p) => p.notBefore, 'int')},
        ${column((p) => p.mailboxId, 'int')}) as u(id, since, state, reason, sent, not_before, mailbox_id)
      where e.id = u.id`);
  }
}

/** People for whom a follow-up is passed over; whose state is another by now, only that follow-up is behind. */
export async function putPassedOver(
  tx: Queryable,
  people: readonly {
    id: number;
    since: RecipientState;
    state: RecipientState;
    sent: number;
    lastSentDay: number | null;
  }[],
  nowMs: number,
): Promise<void> {
  const column = (of: (p: (typeof people)[number]) => number | string | null, type: string) =>
    sql`${sql.param(people.map(of))}::${sql.raw(type)}[]`;
  await tx.execute(sql`
    update enrolments e set sent = u.sent, last_sent_day = u.day, changed_at = ${nowMs},
      state = case when e.state = u.since then u.state else e.state end
    from unnest(${column((p) => p.id, 'int')}, ${column((p) => p.since, 'text')}, ${column((p) => p.state, 'text')},
      ${column((p) => p.sent, 'int')}, ${column((p) => p.lastSentDay, 'int')}) as u(id, since, state, sent, day)
    where e.id = u.id`);
}

export async function removeEnrolments(tx: Queryable, ids: readonly number[]): Promise<void> {
  for (let i = 0; i < ids.length; i += 5000)
    await tx.delete(enrolments).where(inArray(enrolments.id, ids.slice(i, i + 5000)));
}

/** Removes what was planned for people who get nothing any more. */
export async function removePlannedOf(tx: Queryable, enrolmentIds: readonly number[]): Promise<void> {
  for (let i = 0; i < enrolmentIds.length; i += 5000)
    await tx
      .delete(deliveries)
      .where(
        and(
          inArray(deliveries.enrolmentId, enrolmentIds.slice(i, i + 5000)),
          isWaiting(deliveries.state),
          not(hasLeftBefore),
        ),
      );
}

/** What was to be sent once more to people is not. */
export async function failReturnedOf(tx: Queryable, enrolmentIds: readonly number[]): Promise<void> {
  for (const some of batches(enrolmentIds))
    await tx
      .update(deliveries)
      .set({ state: 'failed', instant: null })
      .where(and(inArray(deliveries.enrolmentId, [...some]), isWaiting(deliveries.state), hasLeftBefore));
}

/** By enrolment, its next message, where that is planned. */
export async function nextPlannedOf(db: Queryable, enrolmentIds: readonly number[]): Promise<Map<number, number>> {
  const next = new Map<number, number>();
  for (const some of batches(enrolmentIds)) {
    const rows = await db
      .select({ id: deliveries.id, enrolmentId: deliveries.enrolmentId })
      .from(deliveries)
      .where(and(inArray(deliveries.enrolmentId, [...some]), eq(deliveries.state, 'planned')))
      .orderBy(desc(deliveries.instant));
    // The earliest comes last.
    for (const row of rows) next.set(row.enrolmentId, row.id);
  }
  return next;
}

/** Has messages leave as soon as their mailboxes may send; a new plan leaves them alone. */
export async function hurry(tx: Queryable, deliveryIds: readonly number[], nowMs: number): Promise<void> {
  for (const some of batches(deliveryIds))
    await tx
      .update(deliveries)
      .set({ state: 'deferred', instant: nowMs, isUrgent: true, heldAt: null, reason: 'to be sent now, by hand' })
      .where(and(inArray(deliveries.id, [...some]), eq(deliveries.state, 'planned')));
}

export async function lastAttemptId(db: Queryable): Promise<number> {
  const [row] = await db.select({ id: max(attempts.id) }).from(attempts);
  return row?.id ?? 0;
}

export async function addChange(tx: Queryable, row: Omit<typeof campaignChanges.$inferInsert, 'id'>): Promise<void> {
  await tx.insert(campaignChanges).values(row);
}

/** A change of some people's is undone whatever has left to others. */
const concerns = ({ choices, state, people }: CampaignBefore): SQL | undefined =>
  choices === null && state !== 'draft'
    ? sql`${deliveries.enrolmentId} = any(${sql.param(people.map((p) => p.id))}::int[])`
    : undefined;

export interface LastChange extends CampaignChangeRow {
  /** Whether any message that it concerns has been tried since. */
  hasLeftSince: boolean;
}

/** The last change that has not been undone, and whether any message of the campaign has been tried since. */
export async function lastChange(db: Queryable, campaignId: number): Promise<LastChange | null> {
  const [row] = await db
    .select()
    .from(campaignChanges)
    .where(and(eq(campaignChanges.campaignId, campaignId), isNull(campaignChanges.undoneAt)))
    .orderBy(desc(campaignChanges.id))
    .limit(1);
  if (!row) return null;
  const [tried] = await db
    .select({ id: attempts.id })
    .from(attempts)
    .innerJoin(deliveries, and(eq(deliveries.id, attempts.deliveryId), eq(deliveries.campaignId, campaignId)))
    .where(and(gt(attempts.id, row.before.lastAttemptId), concerns(row.before)))
    .limit(1);
  return { ...row, hasLeftSince: tried !== undefined };
}

/** After an undo, the campaign is as the change before that one left it, under another revision. */
export async function followRevision(tx: Queryable, campaignId: number, from: number, to: number): Promise<void> {
  await tx.execute(sql`
    update campaign_changes set before = jsonb_set(before, '{revisions,since}', to_jsonb(${to}::int))
    where campaign_id = ${campaignId} and undone_at is null and (before->'revisions'->>'since')::int = ${from}`);
}

export async function markChangeUndone(tx: Queryable, id: number, nowMs: number): Promise<void> {
  await tx.update(campaignChanges).set({ undoneAt: nowMs }).where(eq(campaignChanges.id, id));
}
