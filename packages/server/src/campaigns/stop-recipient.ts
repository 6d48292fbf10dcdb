import type { RecipientState } from '@baton/core';
import { announce } from '../store/changes';
import type { Queryable } from '../store/database';
import { lockOpenEnrolments, readCampaign, stateCounts, updateCampaign, updateEnrolment } from '../store/campaign-rows';
import { removePlanned } from '../store/delivery-rows';
import { wantPlan } from '../planning/plan-workspace';

/** Ends what would follow for a contact, in every campaign; quota that this frees is planned anew. */
export async function stopContact(
  tx: Queryable,
  stop: { contactId: number; state: RecipientState; reason: string; nowMs: number },
): Promise<number> {
  const open = await lockOpenEnrolments(tx, stop.contactId);
  let stopped = 0;
  for (const e of open) {
    await updateEnrolment(tx, e.id, { state: stop.state, reason: stop.reason, changedAt: stop.nowMs });
    await removePlanned(tx, e.id);
    await finishIfDone(tx, e.campaignId, stop.nowMs);
    stopped++;
  }
  if (stopped > 0) await wantPlan(tx, stop.nowMs);
  await announce(tx, 'campaigns', 'today');
  return stopped;
}

/** A running campaign without anybody open is finished. */
export async function finishIfDone(tx: Queryable, campaignId: number, nowMs: number): Promise<void> {
  const counts = (await stateCounts(tx)).filter((c) => c.campaignId === campaignId);
  if (counts.some((c) => c.state === 'waiting' || c.state === 'in_progress')) return;
  const campaign = await readCampaign(tx, campaignId);
  if (campaign?.state === 'running') await updateCampaign(tx, campaignId, { state: 'finished', finishedAt: nowMs });
}
