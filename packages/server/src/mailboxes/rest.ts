import { DAY_MS, dayWords, HEALTH_DAYS, healthOf, isoDate, STEP_BACK_DAYS, whyRest } from '@baton/core';
import { wantPlan } from '../planning/want-plan';
import { announce } from '../store/changes';
import type { Queryable } from '../store/database';
import { sentOutcomes } from '../store/mailboxes/health-rows';
import { addMailboxEvent } from '../store/mailboxes/mailbox-event-rows';
import { readMailbox, updateMailbox } from '../store/mailboxes/mailbox-rows';
import type { Before } from '../store/schema/schema';
import { readWorkspace } from '../store/workspace-rows';
import { climbedDays, localDay, restsOn, workingDays } from './capacity';

/**
 * Lets a mailbox rest where what came of its messages is beyond the workspace's bounds.
 *
 * @returns what it was before; null where it does not rest because of this
 */
export async function restIfTroubled(tx: Queryable, mailboxId: number, nowMs: number): Promise<Before['rest']> {
  const mailbox = await readMailbox(tx, mailboxId);
  if (!mailbox || restsOn(mailbox, localDay(mailbox, nowMs))) return null;
  const { restBounds } = await readWorkspace(tx);
  const since = Math.max(mailbox.restedAt ?? 0, nowMs - HEALTH_DAYS * DAY_MS);
  const outcomes = await sentOutcomes(tx, mailboxId, since, Math.max(500, restBounds.among));
  const why = whyRest(outcomes, healthOf(outcomes).complaints, restBounds);
  if (why === null) return null;
  await beginRest(tx, mailboxId, { why, days: restBounds.days, nowMs });
  const { restUntil, restReason, restMoved, restedAt, ramp } = mailbox;
  return { mailboxId, since: nowMs, was: { restUntil, restReason, restMoved, restedAt, ramp } };
}

/** Ends a rest whose cause was none, unless another has begun since: the ramp is where it was. */
export async function undoRest(
  tx: Queryable,
  { mailboxId, since, was }: NonNullable<Before['rest']>,
  nowMs: number,
): Promise<void> {
  const mailbox = await readMailbox(tx, mailboxId);
  if (mailbox?.restedAt !== since || !restsOn(mailbox, localDay(mailbox, nowMs))) return;
  await updateMailbox(tx, mailboxId, was);
  await addMailboxEvent(tx, mailboxId, nowMs, 'its rest ended: what had led to it was taken back');
}

/** Nothing leaves for some working days; a ramp goes back a week of its climb, and the plan is made again. */
export async function beginRest(
  tx: Queryable,
  mailboxId: number,
  { why, days, nowMs }: { why: string; days: number; nowMs: number },
): Promise<void> {
  const mailbox = await readMailbox(tx, mailboxId);
  if (!mailbox) return;
  const today = localDay(mailbox, nowMs);
  const { ramp } = mailbox;
  const restUntil = isoDate(workingDays.add(today, Math.max(1, days)));
  await updateMailbox(tx, mailboxId, {
    restUntil,
    restReason: why,
    restedAt: nowMs,
    restMoved: null,
    ramp: ramp && { ...ramp, back: (ramp.back ?? 0) + Math.min(STEP_BACK_DAYS, climbedDays(mailbox, today)) },
  });
  const { dateForm } = await readWorkspace(tx);
  const until = dayWords(restUntil, 'short', dateForm);
  await addMailboxEvent(tx, mailboxId, nowMs, `began to rest until ${until}: ${why}`);
  await wantPlan(tx, nowMs);
  await announce(tx, 'mailboxes', 'today');
}
