import {
  campaignAfter,
  changeWords,
  DomainError,
  faultOfChange,
  isoDate,
  mailboxAfter,
  type PlanChange,
} from '@baton/core';
import type { ServerParts } from '../http/context';
import {
  lockCampaign,
  readCampaignMailboxes,
  readSteps,
  replaceCampaignMailboxes,
  updateCampaign,
} from '../store/campaigns/campaign-rows';
import { putSteps } from '../store/campaigns/change-rows';
import { announce } from '../store/changes';
import type { Queryable } from '../store/database';
import { addMailboxEvent } from '../store/mailboxes/mailbox-event-rows';
import { readMailbox, updateMailbox } from '../store/mailboxes/mailbox-rows';
import { readWorkspace } from '../store/workspace-rows';
import { zones } from '../time/zones';
import { replan } from './replan';
import { wantFreshPlan } from './want-plan';

/** Makes a what-if true: writes what it changes of mailboxes and campaigns, and plans from scratch. */
export async function applyPlanChanges({ store, clock }: ServerParts, changes: readonly PlanChange[]): Promise<void> {
  const nowMs = await clock.now();
  await store.db.transaction(async (tx) => {
    const today = isoDate(zones.get((await readWorkspace(tx)).zone).toLocal(nowMs).day);
    for (const change of changes) {
      const fault = faultOfChange(change, today);
      if (fault !== null) throw new DomainError('invalid', fault);
      if ('campaign' in change) await changeCampaign(tx, change.campaign, change);
      else if ('mailbox' in change) await changeMailbox(tx, change.mailbox, change, nowMs);
    }
    await wantFreshPlan(tx, nowMs);
    await announce(tx, 'mailboxes', 'campaigns', 'today');
  });
  await replan(store, nowMs);
}

async function changeCampaign(tx: Queryable, id: number, change: PlanChange): Promise<void> {
  const campaign = await lockCampaign(tx, id);
  if (campaign?.state !== 'running' && campaign?.state !== 'held')
    throw new DomainError('conflict', 'One of the campaigns has ended or is gone. Look at the plan again.');
  const steps = await readSteps(tx, [id]);
  const mailboxes = (await readCampaignMailboxes(tx, [id])).map((l) => l.mailboxId);
  const before = { ...campaign, delays: steps.map((s) => s.delay), mailboxIds: mailboxes };
  const { delays, mailboxIds, ...own } = campaignAfter(change, before);
  await updateCampaign(tx, id, { ...own, revision: campaign.revision + 1 });
  if (delays)
    await putSteps(
      tx,
      steps.map((step, i) => ({ ...step, delay: delays[i] ?? step.delay })),
    );
  if (mailboxIds?.length === 0)
    throw new DomainError('invalid', `${campaign.name} would have no mailbox to send from.`);
  if (mailboxIds) await replaceCampaignMailboxes(tx, id, mailboxIds);
}

async function changeMailbox(tx: Queryable, id: number, change: PlanChange, nowMs: number): Promise<void> {
  const mailbox = await readMailbox(tx, id);
  if (!mailbox) throw new DomainError('conflict', 'One of the mailboxes is gone. Look at the plan again.');
  const { dateForm } = await readWorkspace(tx);
  const { what, from, to } = changeWords(change, { mailbox: '', campaign: '' }, { mailbox }, dateForm);
  await addMailboxEvent(tx, id, nowMs, `${what} changed from ${from} to ${to} in the plan`);
  await updateMailbox(tx, id, mailboxAfter(change, mailbox));
}
