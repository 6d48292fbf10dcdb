import { whyLeftOut } from '@baton/core';
import type { Duty } from '../duties/duty';
import { wantPlan } from '../planning/want-plan';
import { announce } from '../store/changes';
import {
  addEnrolments,
  campaignsToEnrol,
  enrolledContacts,
  lockCampaign,
  readSteps,
  updateCampaign,
} from '../store/campaigns/campaign-rows';
import type { Queryable, Store } from '../store/database';
import { readList } from '../store/people/list/list-rows';
import { readWorkspace } from '../store/workspace-rows';
import { enrolled } from './enrolled';
import { readAudience, type AudienceParts } from './audience';

type EnrolParts = Pick<AudienceParts, 'compiled'>;

/** Takes people who come onto a list into the running campaigns that say so. */
export function enrolDuty(store: Store, parts: EnrolParts): Duty {
  return {
    name: 'enrol new people',
    eventful: true,
    nextDue: (nowMs, { hasNewPeople }) => (hasNewPeople ? nowMs : null),
    run: async (nowMs) => {
      let added = 0;
      for (const id of await campaignsToEnrol(store.db))
        added += await store.db.transaction((tx) => enrol(tx, id, parts, nowMs));
      return added;
    },
  };
}

async function enrol(tx: Queryable, id: number, parts: EnrolParts, nowMs: number): Promise<number> {
  const campaign = await lockCampaign(tx, id);
  if (!campaign || campaign.listId === null || !campaign.enrolNew) return 0;
  const list = await readList(tx, campaign.listId);
  await updateCampaign(tx, id, { enrolledRevision: list?.revision ?? 0 });
  const contents = (await readSteps(tx, [id])).flatMap((s) => [s.content, ...s.others.map((o) => o.content)]);
  const known = await enrolledContacts(tx, id);
  const audience = await readAudience(tx, campaign, { ...parts, contents: contents.filter((c) => c !== null), nowMs });
  const people = audience
    .filter(({ person }) => !known.has(person.contactId))
    // Nobody is there to ask: what would have kept the campaign from starting leaves the person out.
    .map((member) => ({ ...member, leftOut: whyLeftOut(member) }));
  if (people.length === 0) return 0;
  const { zone } = await readWorkspace(tx);
  await addEnrolments(tx, enrolled(campaign, people, { before: campaign.recipients, workspaceZone: zone, nowMs }));
  const added = people.filter((p) => p.leftOut === null).length;
  await updateCampaign(tx, id, { recipients: campaign.recipients + added });
  await wantPlan(tx, nowMs);
  await announce(tx, 'campaigns', 'progress', 'today');
  return people.length;
}
