import { isLeftOutFor, isOpen, leftOutReason, listed, whyLeftOut } from '@baton/core';
import type { Duty } from '../duties/duty';
import { wantPlan } from '../planning/want-plan';
import { contentsOf } from './step-texts';
import { announce } from '../store/changes';
import {
  addEnrolments,
  campaignsToEnrol,
  lockCampaign,
  readCampaign,
  readCampaignMailboxes,
  readSteps,
  revisionOfLists,
  updateCampaign,
  type CampaignRow,
} from '../store/campaigns/campaign-rows';
import { peopleOnTheWay, putPeople } from '../store/campaigns/change-rows';
import type { Queryable, Store } from '../store/database';
import { readWorkspace } from '../store/workspace-rows';
import { applyEvent } from './apply-event';
import { enrolled } from './enrolled';
import { readAudience, type AudienceMember, type Judging } from './audience';
import { readExcluded } from './audience-parts';

type EnrolParts = Pick<Judging, 'compiled'>;

/**
 * Brings started campaigns in line with their lists: takes people who come onto them in where a campaign says so, and leaves
 * out whoever comes onto one whose people it is not for.
 */
export function enrolDuty(store: Store, parts: EnrolParts): Duty {
  return {
    name: 'enrol new people',
    eventful: true,
    nextDue: (nowMs, { hasNewPeople }) => (hasNewPeople ? nowMs : null),
    run: async (nowMs) => {
      let done = 0;
      for (const id of await campaignsToEnrol(store.db)) {
        // Lists that change meanwhile make it due again.
        const revision = await revisionOfLists(store.db, id);
        done += await leaveOut(store, id, nowMs);
        done += await store.db.transaction((tx) => enrol(tx, id, parts, revision, nowMs));
      }
      return done;
    },
  };
}

/** Ends it for those who are on a list that the campaign leaves out, one after the other: it may be many. */
async function leaveOut({ db }: Store, id: number, nowMs: number): Promise<number> {
  const campaign = await readCampaign(db, id);
  if (!campaign || campaign.exceptParts.length === 0) return 0;
  const excluded = await readExcluded(db, campaign, nowMs);
  let left = 0;
  for (const { id: cause, contactId, state } of await peopleOnTheWay(db, id)) {
    const names = excluded.get(contactId);
    if (names === undefined || !isOpen(state)) continue;
    const reason = leftOutReason('excluded', listed(names)).words;
    await db.transaction((tx) => applyEvent(tx, { kind: 'unfit', contactId, cause, reason, nowMs }));
    left++;
  }
  return left;
}

async function enrol(tx: Queryable, id: number, parts: EnrolParts, revision: number, nowMs: number): Promise<number> {
  const campaign = await lockCampaign(tx, id);
  if (!campaign) return 0;
  await updateCampaign(tx, id, { enrolledRevision: revision });
  if (campaign.state !== 'running' && campaign.state !== 'held') return 0;
  const known = new Map((await peopleOnTheWay(tx, id)).map((p) => [p.contactId, p]));
  const mayReturn = [...known.values()].some((p) => isLeftOutFor('excluded', p));
  if (!campaign.enrolNew && !mayReturn) return 0;
  const contents = contentsOf(await readSteps(tx, [id]));
  const mailboxIds = (await readCampaignMailboxes(tx, [id])).map((l) => l.mailboxId);
  const judged = { ...parts, contents, mailboxIds, nowMs };
  const audience = await readAudience(tx, campaign, judged);
  const back = audience.flatMap((member) => {
    const person = known.get(member.person.contactId);
    const isBack = person && isLeftOutFor('excluded', person) && whyLeftOut(member) === null;
    return isBack ? [{ ...person, since: person.state, state: 'waiting' as const, reason: '' }] : [];
  });
  await putPeople(tx, back, nowMs);
  const joined = campaign.enrolNew
    ? await join(
        tx,
        campaign,
        audience.filter((a) => !known.has(a.person.contactId)),
        nowMs,
      )
    : 0;
  if (back.length + joined === 0) return 0;
  await wantPlan(tx, nowMs);
  await announce(tx, 'campaigns', 'progress', 'today');
  return back.length + joined;
}

async function join(
  tx: Queryable,
  campaign: CampaignRow,
  newcomers: readonly AudienceMember[],
  nowMs: number,
): Promise<number> {
  // Nobody is there to ask: what would have kept the campaign from starting leaves the person out.
  const people = newcomers.map((member) => ({ ...member, leftOut: whyLeftOut(member) }));
  if (people.length === 0) return 0;
  const { zone } = await readWorkspace(tx);
  await addEnrolments(tx, enrolled(campaign, people, { before: campaign.recipients, workspaceZone: zone, nowMs }));
  const added = people.filter((p) => p.leftOut === null).length;
  await updateCampaign(tx, campaign.id, { recipients: campaign.recipients + added });
  return people.length;
}
