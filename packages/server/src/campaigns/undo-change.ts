import { DomainError, endInstant, type CampaignHours } from '@baton/core';
import type { ServerParts } from '../http/context';
import { replan } from '../planning/replan';
import { wantPlan } from '../planning/want-plan';
import {
  readCampaign,
  readSteps,
  replaceCampaignMailboxes,
  updateCampaign,
  type CampaignRow,
} from '../store/campaigns/campaign-rows';
import { allEnrolments } from '../store/campaigns/recipient-rows';
import {
  everyStep,
  followRevision,
  holdWaiting,
  lastChange,
  markChangeUndone,
  putPeople,
  putSteps,
  removeEnrolments,
  removePlannedOf,
  removeSteps,
  removeWaiting,
  takeTimes,
  type LastChange,
} from '../store/campaigns/change-rows';
import { markUndone } from '../store/campaigns/event-rows';
import { announce } from '../store/changes';
import type { Queryable } from '../store/database';
import type { CampaignBefore } from '../store/schema/schema';
import { readWorkspace } from '../store/workspace-rows';
import { zones } from '../time/zones';
import type { MovedPerson } from './change-work';
import { requireLocked } from './require-campaign';
import { withoutTexts } from './step-texts';
import { unlessDeadlocked } from './unless-deadlocked';

/** Somebody as they were, as it is kept with a change. */
export const beforeOf = ({ id, state, reason, sent, notBefore, mailboxId, to }: MovedPerson) => ({
  ...{ id, state, reason, sent, notBefore, mailboxId, since: to.state },
});

/** Why the last change of a campaign cannot be taken back, in a sentence; null where it can. */
export function whyNotUndo({ before, hasLeftSince }: LastChange, revision: number): string | null {
  if (hasLeftSince) return 'A message has left since the change: it can no longer be undone, only changed again.';
  // What was done about single people has nothing to do with the choices.
  const ofPeople = before.choices === null && before.state !== 'draft';
  return ofPeople || before.revisions.since === revision
    ? null
    : 'The campaign has been changed in the plan since: what was before can only be chosen again.';
}

/** A later last day for a campaign; null for none. */
export type LaterEnd = Pick<CampaignHours, 'endDate' | 'endMinute'>;

/** Whether a campaign has ended and its last day has passed, so that it goes on only with a later one. */
export function needsLaterEnd(campaign: CampaignRow, workspaceZone: string, nowMs: number): boolean {
  const end = endInstant(campaign, zones.get(workspaceZone));
  return campaign.state === 'finished' && end !== null && end <= nowMs;
}

/**
 * Takes the last change of a campaign back, its start and its end too.
 *
 * @param until for a campaign that has ended with its last day, how long it goes on
 * @throws DomainError `conflict` where there is none, or a message has left by it; `invalid` where it would end at once
 */
export async function undoChange(
  { store, clock }: ServerParts,
  id: number,
  until: LaterEnd | null = null,
): Promise<void> {
  const nowMs = await clock.now();
  let times = new Map<number, number>();
  await unlessDeadlocked(store, async (tx) => {
    const campaign = await requireLocked(tx, id);
    const { zone } = await readWorkspace(tx);
    if (until !== null && !needsLaterEnd(campaign, zone, nowMs))
      throw new DomainError('conflict', 'The campaign has not ended with its last day.');
    times = await takeTimes(tx, id);
    const last = await lastChange(tx, id);
    if (!last) throw new DomainError('conflict', 'There is no change to undo.');
    const why = whyNotUndo(last, campaign.revision);
    if (why !== null) throw new DomainError('conflict', why);
    const { before } = last;
    if (before.state === 'draft') await unstart(tx, id);
    if (before.choices) await putChoicesBack(tx, id, before, before.choices, nowMs);
    await putPeople(tx, before.people, nowMs);
    for (const eventId of before.eventIds) await markUndone(tx, eventId, nowMs);
    const { state } = before;
    const ends = endInstant(until ?? before.choices?.campaign ?? campaign, zones.get(zone));
    if (state !== 'draft' && ends !== null && ends <= nowMs)
      throw new DomainError('invalid', 'Its last day has passed. Choose a later one.');
    await updateCampaign(tx, id, {
      ...until,
      revision: campaign.revision + 1,
      // Held or let go since it stays as it is now.
      ...(state === 'draft' || campaign.state === 'finished' ? { state, finishedAt: null } : {}),
    });
    await markChangeUndone(tx, last.id, nowMs);
    await followRevision(tx, id, before.revisions.before, campaign.revision + 1);
    await wantPlan(tx, nowMs);
    await announce(tx, 'campaigns', 'progress', 'today');
  });
  await replan(store, nowMs, { times });
}

async function putChoicesBack(
  tx: Queryable,
  id: number,
  { joined }: CampaignBefore,
  { campaign, steps, mailboxIds }: NonNullable<CampaignBefore['choices']>,
  nowMs: number,
): Promise<void> {
  const added = (await everyStep(tx, id)).map((s) => s.position).filter((n) => !steps.some((b) => b.position === n));
  await removeWaiting(tx, id, added);
  await removePlannedOf(tx, joined);
  await removeEnrolments(tx, joined);
  await removeSteps(tx, id, added);
  await putSteps(tx, steps);
  await replaceCampaignMailboxes(tx, id, mailboxIds);
  if (campaign.releasedByHand !== (await readCampaign(tx, id))?.releasedByHand)
    await holdWaiting(tx, id, campaign.releasedByHand ? nowMs : null);
  await updateCampaign(tx, id, campaign);
}

/** A campaign that has been started is a draft again. */
async function unstart(tx: Queryable, id: number): Promise<void> {
  await removeEnrolments(tx, await allEnrolments(tx, id));
  await putSteps(tx, (await readSteps(tx, [id])).map(withoutTexts));
  await updateCampaign(tx, id, { startedAt: null, recipients: 0 });
}
