import { isDeepStrictEqual } from 'node:util';
import { DomainError, isoDate, isOpen, reachWords, type ChangeReach } from '@baton/core';
import type { BriefChange, ChangeView } from '@baton/contract';
import type { ServerParts } from '../http/context';
import { othersOf, readWork, type Candidate } from '../planning/plan-workspace';
import { planAsStored, replan, type PlanAsStored } from '../planning/replan';
import { wantPlan } from '../planning/want-plan';
import {
  addEnrolments,
  markInLine,
  plannedDays,
  replaceCampaignMailboxes,
  updateCampaign,
} from '../store/campaigns/campaign-rows';
import { enrolledIds } from '../store/campaigns/recipient-rows';
import {
  addChange,
  holdWaiting,
  keepVersion,
  lastAttemptId,
  putPeople,
  putSteps,
  removePlannedOf,
  removeWaiting,
  takeTimes,
} from '../store/campaigns/change-rows';
import { announce } from '../store/changes';
import type { Queryable } from '../store/database';
import type { CampaignChoices, PersonStands } from '../store/schema/schema';
import { readWorkspace } from '../store/workspace-rows';
import { finishIfDone } from './apply-event';
import { judging } from './audience';
import { requireCampaign, requireLocked } from './require-campaign';
import { tally } from './tally';
import { ownChoices, workOutChange, type ChangeWork } from './change-work';
import { beforeOf } from './undo-change';
import { unlessDeadlocked } from './unless-deadlocked';
import { enrolled } from './enrolled';
import { startsOn } from './first-message-time';
import { forecastOf } from './forecast';

/** What a change of a running campaign would do to people in progress and to the plan; nothing is changed. */
export async function previewChange(parts: ServerParts, id: number, change: BriefChange): Promise<ChangeView> {
  const judged = await judging(parts);
  return parts.store.db.transaction(
    async (tx) => {
      const work = await workOutChange(tx, judged, await requireCampaign(tx, id), change);
      const { names, changes, faults } = work;
      if (changes.length === 0 || faults.length > 0) return { names, changes, faults, effects: [], loads: [] };
      const { dateForm } = await readWorkspace(tx);
      const reach = reachOfPeople(work);
      const isHeld = work.campaign.state === 'held';
      const planned = work.keepsPlan || isHeld ? null : await planChanged(tx, work, judged.nowMs);
      if (planned) await addPlan(tx, work, planned, reach);
      const effects = reachWords(reach, dateForm);
      if (isHeld) effects.push('It is held: nothing leaves until it is released.');
      else if (work.keepsPlan) effects.push('Every message keeps its day, its time and its mailbox.');
      return { names, changes, faults, effects, loads: planned ? forecastOf(work.campaign, 0, planned, []).loads : [] };
    },
    { isolationLevel: 'repeatable read', accessMode: 'read only' },
  );
}

function reachOfPeople(work: ChangeWork): ChangeReach {
  const { people, moved, joins, steps, before, renewed, mailboxIds, blanks } = work;
  const after = new Map(moved.map((m) => [m.id, m.to]));
  const open = people.map((p): PersonStands => after.get(p.id) ?? p).filter((p) => isOpen(p.state));
  const old = before.steps.map((s) => s.position);
  const goes = before.mailboxIds.filter((id) => !mailboxIds.includes(id));
  const counted = (is: (position: number) => boolean, countOf: (position: number, place: number) => number) =>
    steps.flatMap(({ position }, place) => (is(position) ? [{ place, people: countOf(position, place) }] : []));
  return {
    joins: joins.filter((j) => j.leftOut === null).length + moved.filter((m) => m.state === 'left_out').length,
    goes: moved.filter((m) => m.to.state === 'left_out').length,
    goesOn: moved.filter((m) => m.state === 'done').length,
    isDone: moved.filter((m) => m.to.state === 'done').length,
    past: counted(
      (position) => !old.includes(position),
      (_, place) => open.filter((p) => p.sent > place).length,
    ),
    had: counted(
      (position) => renewed.includes(position),
      (position) => people.filter((p) => p.sent > old.indexOf(position)).length,
    ),
    blanks,
    bound: open.filter((p) => p.mailboxId !== null && goes.includes(p.mailboxId)).length,
    ...{ moved: 0, elsewhere: 0, more: 0, fewer: 0, late: 0, ends: [], notPlaced: [] },
  };
}

/** The plan of the workspace as it would be. */
async function planChanged(tx: Queryable, work: ChangeWork, nowMs: number): Promise<PlanAsStored> {
  const { campaign, own, steps, mailboxIds, moved, joins } = work;
  const after = { ...own, id: campaign.id };
  const workspace = await readWorkspace(tx);
  const others = (await othersOf(tx, [after], workspace, nowMs)).get(campaign.id) ?? 'at_once';
  const to = new Map(moved.map((m) => [m.id, m.to]));
  const people = joins
    .filter((j) => j.leftOut === null)
    .map((j, i): Candidate => ({
      ...{ id: -1 - i, campaignId: campaign.id, mailboxId: j.mailboxId, nextStep: 0, dueDay: null },
      ...startsOn(own, j.person, workspace.zone),
      ...{ domain: j.person.domain, zone: j.person.zone, units: j.units },
    }));
  const changed = await readWork(tx, nowMs, {
    campaign: { ...campaign, ...own, held: false, others, steps, mailboxIds },
    people,
    changes: { person: (e) => (to.has(e.id) ? { ...e, ...to.get(e.id) } : e) },
  });
  return planAsStored(tx, changed);
}

/** Adds what the plan would be against what it is. */
async function addPlan(
  tx: Queryable,
  { campaign, steps, people }: ChangeWork,
  { plan, candidates, campaigns, mailboxes, stored }: PlanAsStored,
  reach: ChangeReach,
): Promise<void> {
  const own = new Set(people.map((p) => p.id));
  const before = new Map<number, number>();
  stored.id.forEach((_, k) => {
    const enrolmentId = stored.enrolmentId[k] as number;
    if (own.has(enrolmentId)) before.set(keyOf(enrolmentId, stored.step[k] as number), k);
  });
  const { recipient, step, mailbox, day } = plan.columns;
  let all = 0;
  for (let k = 0; k < recipient.length; k++) {
    const candidate = candidates[recipient[k] as number] as Candidate;
    if (candidate.campaignId !== campaign.id) continue;
    all++;
    const was = before.get(keyOf(candidate.id, steps[step[k] as number]?.position ?? 0));
    if (was === undefined) continue;
    if (stored.day[was] !== day[k]) reach.moved++;
    if (stored.mailboxId[was] !== mailboxes[mailbox[k] as number]?.id) reach.elsewhere++;
  }
  reach.more = Math.max(0, all - before.size);
  reach.fewer = Math.max(0, before.size - all);
  reach.late = plan.campaigns[campaigns.findIndex((c) => c.id === campaign.id)]?.late ?? 0;
  const unplaced = plan.notPlaced.filter((n) => candidates[n.recipient]?.campaignId === campaign.id);
  reach.notPlaced = tally(unplaced.map((n) => n.reason));
  const ends = new Map((await plannedDays(tx)).map((d) => [d.campaignId, isoDate(d.lastDay)]));
  reach.ends = campaigns
    .map(({ id, name }, i) => {
      const last = plan.campaigns[i]?.lastDay ?? null;
      return { id, name, before: ends.get(id) ?? null, after: last === null ? null : isoDate(last) };
    })
    .filter(({ id, before: was, after }) => id === campaign.id || was !== after)
    .sort((a, b) => Number(b.id === campaign.id) - Number(a.id === campaign.id));
}

/** Names a message by one number; steps have numbers below it. */
const MOST_STEPS = 10_001;
const keyOf = (enrolmentId: number, step: number): number => enrolmentId * MOST_STEPS + step;

/**
 * Changes a running or held campaign. What has left stays as it was; what has not follows the new choices. It is written down,
 * so that it can be undone while nothing has left by it.
 *
 * @throws DomainError `conflict` where somebody else has changed it meanwhile; `invalid` where it cannot be made
 */
export async function applyChange(parts: ServerParts, id: number, change: BriefChange): Promise<void> {
  const judged = await judging(parts);
  const { nowMs } = judged;
  let times = new Map<number, number>();
  await unlessDeadlocked(parts.store, async (tx) => {
    const campaign = await requireLocked(tx, id);
    let work = await workOutChange(tx, judged, campaign, change);
    if (work.touchesMessages) {
      // Messages that are just leaving are waited for, and count as sent then.
      times = await takeTimes(tx, id);
      work = await workOutChange(tx, judged, campaign, change);
    }
    if (work.faults[0] !== undefined) throw new DomainError('invalid', work.faults[0]);
    if (work.changes.length === 0) return;
    await write(tx, work, nowMs);
    await finishIfDone(tx, id, nowMs);
    await wantPlan(tx, nowMs);
    await announce(tx, 'campaigns', 'progress', 'today');
  });
  await replan(parts.store, nowMs, { times });
}

async function write(tx: Queryable, work: ChangeWork, nowMs: number): Promise<void> {
  const { campaign, own, before, steps, renewed, sequence, mailboxIds, moved, joins, changes } = work;
  const { id } = campaign;
  const attempted = await lastAttemptId(tx);
  for (const step of before.every) if (renewed.includes(step.position)) await keepVersion(tx, step, nowMs);
  await removeWaiting(
    tx,
    id,
    sequence.out.map((o) => o.number),
  );
  await putSteps(tx, [...steps, ...outSteps(work)]);
  await replaceCampaignMailboxes(tx, id, mailboxIds);
  if (own.releasedByHand !== campaign.releasedByHand) await holdWaiting(tx, id, own.releasedByHand ? nowMs : null);
  await putPeople(
    tx,
    moved.map((m) => ({ id: m.id, since: m.state, ...m.to })),
    nowMs,
  );
  await removePlannedOf(
    tx,
    moved.filter((m) => !isOpen(m.to.state)).map((m) => m.id),
  );
  const people = campaign.recipients + joins.filter((j) => j.leftOut === null).length;
  const { zone } = await readWorkspace(tx);
  await addEnrolments(tx, enrolled({ ...own, id }, joins, { before: campaign.recipients, workspaceZone: zone, nowMs }));
  const joined = await enrolledIds(
    tx,
    id,
    joins.map((j) => j.person.contactId),
  );
  await updateCampaign(tx, id, {
    ...own,
    recipients: people,
    revision: campaign.revision + 1,
  });
  const audience = (of: CampaignChoices) => [of.listId, of.alsoParts, of.exceptParts, of.enrolNew];
  if (!isDeepStrictEqual(audience(own), audience(campaign))) await markInLine(tx, id);
  await addChange(tx, {
    ...{ campaignId: id, at: nowMs, words: changes },
    before: {
      state: campaign.state,
      choices: {
        campaign: { ...ownChoices(campaign), recipients: campaign.recipients },
        steps: before.every,
        mailboxIds: before.mailboxIds,
      },
      people: moved.map(beforeOf),
      ...{ joined, eventIds: [], lastAttemptId: attempted },
      revisions: { before: campaign.revision, since: campaign.revision + 1 },
    },
  });
}

/** Steps that are not in the sequence: those that are taken out now, and those that were before, where people who had them are. */
function outSteps({ before, sequence, steps }: ChangeWork) {
  const { next } = sequence;
  const out = new Map(sequence.out.map((o) => [o.number, o.place]));
  const active = new Set(steps.map((s) => s.position));
  return before.every
    .filter((s) => !active.has(s.position))
    .map((s) => ({ ...s, isOut: true, place: out.get(s.position) ?? Math.max(0, (next[s.place + 1] ?? 1) - 1) }));
}
