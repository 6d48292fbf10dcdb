import type { RecipientState } from '@baton/core';
import { announce } from '../store/changes';
import type { Queryable } from '../store/database';
import {
  hasOpenEnrolments,
  lockEnrolmentsOf,
  readCampaign,
  updateCampaign,
  updateEnrolment,
  type EnrolmentRow,
} from '../store/campaign-rows';
import { removePlanned } from '../store/delivery-rows';
import { wantPlan } from '../planning/want-plan';

export interface Stop {
  contactId: number;
  /** The enrolment whose message led to it; null when a person did it by hand. */
  cause: number | null;
  /** `cause_only`: other campaigns go on with this contact. */
  where: 'everywhere' | 'cause_only';
  state: RecipientState;
  reason: string;
  nowMs: number;
}

/**
 * Ends what would follow for a contact; quota that this frees is planned anew.
 *
 * @returns in how many campaigns a message was still to come
 */
export async function stopContact(tx: Queryable, stop: Stop): Promise<number> {
  let stopped = 0;
  for (const e of await lockEnrolmentsOf(tx, stop.contactId)) {
    if (!concerns(stop, e)) continue;
    await updateEnrolment(tx, e.id, { state: stop.state, reason: stop.reason, changedAt: stop.nowMs });
    if (e.state === 'done' || e.state === 'replied') continue;
    await removePlanned(tx, e.id);
    await finishIfDone(tx, e.campaignId, stop.nowMs);
    stopped++;
  }
  if (stopped > 0) await wantPlan(tx, stop.nowMs);
  await announce(tx, 'progress', 'today');
  return stopped;
}

/** Whoever was done, or had replied, changes state only in the campaign that it is about. */
function concerns(stop: Stop, e: EnrolmentRow): boolean {
  const isCause = e.id === stop.cause;
  if (e.state === 'waiting' || e.state === 'in_progress') return isCause || stop.where === 'everywhere';
  return isCause && (e.state === 'done' || (e.state === 'replied' && stop.state === 'unsubscribed'));
}

/** A running campaign without anybody open is finished. */
export async function finishIfDone(tx: Queryable, campaignId: number, nowMs: number): Promise<void> {
  if (await hasOpenEnrolments(tx, campaignId)) return;
  const campaign = await readCampaign(tx, campaignId);
  if (campaign?.state !== 'running') return;
  await updateCampaign(tx, campaignId, { state: 'finished', finishedAt: nowMs });
  await announce(tx, 'campaigns');
}
