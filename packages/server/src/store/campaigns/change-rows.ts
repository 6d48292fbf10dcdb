import type { RecipientState } from '@baton/core';
import { and, count, desc, eq, gt, inArray, isNull, max, not, sql } from 'drizzle-orm';
import type { Queryable } from '../database';
import { campaignChanges, campaignSteps, deliveries, attempts, enrolments, stepVersions } from '../schema/schema';
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
        ...{ tolerance: given('tolerance'), content: given('content'), others: given('others') },
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
  const { campaignId, position, content, others } = step;
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
    .values({ campaignId, position, content, others, until: nowMs })
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
  change: Pick<typeof stepVersions.$inferSelect, 'content' | 'others'>,
): Promise<void> {
  await tx.update(stepVersions).set(change).where(eq(stepVersions.id, id));
}

/**
 * Takes the time of everything that waits in a campaign: whoever is about to claim one of these messages finds out that it
 * is to be planned anew, and what has been claimed is waited for.
 */
export async function takeTimes(tx: Queryable, campaignId: number): Promise<void> {
  const waiting = and(eq(deliveries.campaignId, campaignId), isWaiting(deliveries.state));
  const rows = tx.select({ id: deliveries.id }).from(deliveries).where(waiting).orderBy(deliveries.id).for('update');
  await tx
    .update(deliveries)
    .set({ instant: null, state: 'planned' })
    .where(and(inArray(deliveries.id, rows), isWaiting(deliveries.state)));
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
export interface PersonOnTheWay {
  id: number;
  contactId: number;
  state: RecipientState;
  reason: string;
  sent: number;
  mailboxId: number | null;
}

export async function peopleOnTheWay(db: Queryable, campaignId: number): Promise<PersonOnTheWay[]> {
  const { id, contactId, state, reason, sent, mailboxId } = enrolments;
  return db
    .select({ id, contactId, state, reason, sent, mailboxId })
    .from(enrolments)
    .where(eq(enrolments.campaignId, campaignId))
    .orderBy(id);
}

/** Sets state and place of people who are in the state that was read; what has happened to the others since counts more. */
export async function putPeople(
  tx: Queryable,
  people: readonly { id: number; since: RecipientState; state: RecipientState; reason: string; sent: number }[],
  nowMs: number,
): Promise<void> {
  for (let i = 0; i < people.length; i += 5000) {
    const part = people.slice(i, i + 5000);
    const column = (of: (p: (typeof part)[number]) => number | string, type: string) =>
      sql`${sql.param(part.map(of))}::${sql.raw(type)}[]`;
    await tx.execute(sql`
      update enrolments e set sent = u.sent, changed_at = ${nowMs},
        state = case when e.state = u.since then u.state else e.state end,
        reason = case when e.state = u.since then u.reason else e.reason end
      from unnest(${column((p) => p.id, 'int')}, ${column((p) => p.since, 'text')}, ${column((p) => p.state, 'text')},
        ${column((p) => p.reason, 'text')}, ${column((p) => p.sent, 'int')}) as u(id, since, state, reason, sent)
      where e.id = u.id`);
  }
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

export async function lastAttemptId(db: Queryable): Promise<number> {
  const [row] = await db.select({ id: max(attempts.id) }).from(attempts);
  return row?.id ?? 0;
}

export async function addChange(tx: Queryable, row: Omit<typeof campaignChanges.$inferInsert, 'id'>): Promise<void> {
  await tx.insert(campaignChanges).values(row);
}

/** The last change that has not been undone, and whether any message of the campaign has been tried since. */
export async function lastChange(
  db: Queryable,
  campaignId: number,
): Promise<(CampaignChangeRow & { hasLeftSince: boolean }) | null> {
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
    .where(gt(attempts.id, row.before.lastAttemptId))
    .limit(1);
  return { ...row, hasLeftSince: tried !== undefined };
}

export async function markChangeUndone(tx: Queryable, id: number, nowMs: number): Promise<void> {
  await tx.update(campaignChanges).set({ undoneAt: nowMs }).where(eq(campaignChanges.id, id));
}
