import { DomainError, faultOfChange, isoDate, type PlanChange } from '@baton/core';
import type { ServerParts } from '../http/context';
import {
  readCampaign,
  readCampaignMailboxes,
  readSteps,
  replaceCampaignMailboxes,
  replaceSteps,
  updateCampaign,
} from '../store/campaign-rows';
import { announce } from '../store/changes';
import type { Queryable } from '../store/database';
import { addMailboxEvent } from '../store/mailbox-event-rows';
import { readMailbox, updateMailbox, type MailboxRow } from '../store/mailbox-rows';
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
      if ('campaign' in change) await changeCampaign(tx, change);
      else if ('mailbox' in change) await changeMailbox(tx, change, nowMs);
    }
    await wantFreshPlan(tx, nowMs);
    await announce(tx, 'mailboxes', 'campaigns', 'today');
  });
  await replan(store, nowMs);
}

type CampaignChange = Extract<PlanChange, { campaign: number }>;
type MailboxChange = Exclude<Extract<PlanChange, { mailbox: number }>, CampaignChange>;

async function changeCampaign(tx: Queryable, change: CampaignChange): Promise<void> {
  const id = change.campaign;
  const campaign = await readCampaign(tx, id);
  if (campaign?.state !== 'running' && campaign?.state !== 'held')
    throw new DomainError('conflict', 'One of the campaigns has ended or is gone. Look at the plan again.');
  if (change.kind === 'start') await updateCampaign(tx, id, { startDate: change.to });
  else if (change.kind === 'limit') await updateCampaign(tx, id, { dailyLimit: change.to });
  else if (change.kind === 'share') await updateCampaign(tx, id, { share: change.to });
  else if (change.kind === 'spacing') {
    const steps = await readSteps(tx, [id]);
    await replaceSteps(
      tx,
      id,
      steps.map(({ messageId, delay, tolerance, content, others }, i) => ({
        ...{ messageId, tolerance, content, others },
        delay: i === change.step ? change.to : delay,
      })),
    );
  } else {
    const links = await readCampaignMailboxes(tx, [id]);
    const others = links.map((l) => l.mailboxId).filter((m) => m !== change.mailbox);
    const used = change.to ? [...others, change.mailbox] : others;
    if (used.length === 0) throw new DomainError('invalid', `${campaign.name} would have no mailbox to leave from.`);
    await replaceCampaignMailboxes(tx, id, used);
  }
}

function wordsOf(change: MailboxChange, { dailyQuota, paceSeconds }: MailboxRow): string {
  if (change.kind === 'quota') return `quota changed from ${dailyQuota} to ${change.to}`;
  return change.kind === 'pace' ? `pace changed from ${paceSeconds} to ${change.to} seconds` : 'hours changed';
}

async function changeMailbox(tx: Queryable, change: MailboxChange, nowMs: number): Promise<void> {
  const mailbox = await readMailbox(tx, change.mailbox);
  if (!mailbox) throw new DomainError('conflict', 'One of the mailboxes is gone. Look at the plan again.');
  await addMailboxEvent(tx, mailbox.id, nowMs, `${wordsOf(change, mailbox)} in the plan`);
  if (change.kind === 'quota') await updateMailbox(tx, mailbox.id, { dailyQuota: change.to });
  else if (change.kind === 'pace') await updateMailbox(tx, mailbox.id, { paceSeconds: change.to });
  else
    await updateMailbox(tx, mailbox.id, {
      windows: mailbox.windows.map((spans) => (spans.length === 0 ? [] : [change.to])),
    });
}
