import { endInstant } from '@baton/core';
import type { Duty } from '../duties/duty';
import { announce } from '../store/changes';
import { listCampaigns, lockCampaign, updateCampaign } from '../store/campaigns/campaign-rows';
import { openEnrolmentsOf } from '../store/campaigns/recipient-rows';
import { addChange, lastAttemptId, takeTimes } from '../store/campaigns/change-rows';
import type { Queryable, Store } from '../store/database';
import { readWorkspace } from '../store/workspace-rows';
import { wantPlan } from '../planning/want-plan';
import { zones } from '../time/zones';
import { endFor } from './person-acts';

/** Ends campaigns once their last day has passed, for everybody to whom more was to come. */
export function endDuty(store: Store): Duty {
  return {
    name: 'end campaigns',
    eventful: true,
    nextDue: (_, { nextEndAt }) => nextEndAt,
    run: async (nowMs) => {
      const zone = zones.get((await readWorkspace(store.db)).zone);
      const over = (await listCampaigns(store.db)).filter(
        (c) => (c.state === 'running' || c.state === 'held') && (endInstant(c, zone) ?? Infinity) <= nowMs,
      );
      for (const { id } of over) await store.db.transaction((tx) => end(tx, id, nowMs));
      return over.length;
    },
  };
}

async function end(tx: Queryable, id: number, nowMs: number): Promise<void> {
  const campaign = await lockCampaign(tx, id);
  if (campaign?.state !== 'running' && campaign?.state !== 'held') return;
  const open = await openEnrolmentsOf(tx, id);
  // What is just leaving is waited for: it counts as sent.
  await takeTimes(tx, id, open);
  const attempted = await lastAttemptId(tx);
  const { people, eventIds } = await endFor(tx, id, open, nowMs);
  await addChange(tx, {
    ...{ campaignId: id, at: nowMs, words: ['It ended with its last day.'] },
    before: {
      ...{ state: campaign.state, choices: null, people, eventIds, joined: [], lastAttemptId: attempted },
      revisions: { before: campaign.revision, since: campaign.revision },
    },
  });
  await updateCampaign(tx, id, { state: 'finished', finishedAt: nowMs });
  await wantPlan(tx, nowMs);
  await announce(tx, 'campaigns', 'progress', 'today');
}
