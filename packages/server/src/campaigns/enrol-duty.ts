import type { Duty } from '../duties/duty';
import { wantPlan } from '../planning/plan-workspace';
import { announce } from '../store/changes';
import {
  addEnrolments,
  campaignsToEnrol,
  enrolledContacts,
  lockCampaign,
  readSteps,
  updateCampaign,
} from '../store/campaign-rows';
import type { Queryable, Store } from '../store/database';
import { readList } from '../store/list-rows';
import { firstDayFor, readAudience, type AudienceMember } from './forecast';

/** Takes people who come onto a list into the running campaigns that say so. */
export function enrolDuty(store: Store, publicUrl: string): Duty {
  return {
    name: 'enrol new people',
    eventful: true,
    nextDue: async (nowMs) => ((await campaignsToEnrol(store.db)).length > 0 ? nowMs : null),
    run: async (nowMs) => {
      let enrolled = 0;
      for (const id of await campaignsToEnrol(store.db))
        enrolled += await store.db.transaction((tx) => enrol(tx, id, publicUrl, nowMs));
      return enrolled;
    },
  };
}

async function enrol(tx: Queryable, id: number, publicUrl: string, nowMs: number): Promise<number> {
  const campaign = await lockCampaign(tx, id);
  if (!campaign || campaign.listId === null || !campaign.enrolNew) return 0;
  const list = await readList(tx, campaign.listId);
  await updateCampaign(tx, id, { enrolledRevision: list?.revision ?? 0 });
  const messages = (await readSteps(tx, [id])).map((s) => ({ subject: s.subject ?? '', body: s.body ?? '' }));
  const known = await enrolledContacts(tx, id);
  const audience = await readAudience(tx, campaign, messages, publicUrl, nowMs);
  const people = audience.filter(({ person }) => !known.has(person.contactId));
  if (people.length === 0) return 0;
  await addEnrolments(
    tx,
    people.map((member) => {
      const reason = whyLeftOut(member, campaign.leaveOutDoubtful === false);
      return {
        campaignId: id,
        contactId: member.person.contactId,
        listRowId: member.person.rowId,
        state: reason === '' ? ('waiting' as const) : ('left_out' as const),
        reason,
        notBefore: firstDayFor(member.person),
        changedAt: nowMs,
      };
    }),
  );
  await wantPlan(tx, nowMs);
  await announce(tx, 'campaigns', 'progress', 'today');
  return people.length;
}

/** Nobody is there to ask: what would have kept the campaign from starting leaves the person out. */
function whyLeftOut({ leftOut, blanks, doubt }: AudienceMember, isSaid: boolean): string {
  if (leftOut !== '') return leftOut;
  if (blanks.length > 0) return `no value for ${blanks.join(', ')}`;
  return doubt === '' || isSaid ? '' : `a checker says ${doubt}`;
}
