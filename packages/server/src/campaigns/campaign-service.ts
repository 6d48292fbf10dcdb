import { isDeepStrictEqual } from 'node:util';
import { DomainError, termsAt, termsOf, readContent, isoDate, type RecipientState } from '@baton/core';
import type { BriefChange, BriefView, CampaignSummary, StartRequest } from '@baton/contract';
import type { ServerParts } from '../http/context';
import { replan } from '../planning/replan';
import { wantFreshPlan, wantPlan } from '../planning/want-plan';
import { announce } from '../store/changes';
import type { Queryable } from '../store/database';
import {
  addEnrolments,
  listCampaigns,
  lockCampaign,
  markInLine,
  plannedDays,
  readCampaignMailboxes,
  readSteps,
  replaceCampaignMailboxes,
  replaceSteps,
  stateCounts,
  updateCampaign,
  type StepRow,
} from '../store/campaigns/campaign-rows';
import { addChange, lastAttemptId, lastChange, sentOfSteps } from '../store/campaigns/change-rows';
import { readMessagesById, type MessageRow } from '../store/messages/message-rows';
import { countResults } from '../store/results/result-counting';
import { countsOfCampaigns } from '../store/results/result-rows';
import { listLists } from '../store/people/list/list-rows';
import { needsLaterEnd, whyNotUndo } from './undo-change';
import { requireCampaign, requireLocked } from './require-campaign';
import { changedMeanwhile, ownChoices } from './change-work';
import { readWorkspace } from '../store/workspace-rows';
import { enrolled } from './enrolled';
import { judging } from './audience';
import { checkedParts } from './audience-parts';
import { namesOf } from './brief-names';
import { viewStanding } from './campaign-standing';
import type { TellProgress } from './starts';
import { forecastOfStarted, planDraft } from './forecast';
import { messagesOf, textsChosen, textsOf, withTexts } from './step-texts';

async function statesOf(db: Queryable): Promise<Map<number, Partial<Record<RecipientState, number>>>> {
  const out = new Map<number, Partial<Record<RecipientState, number>>>();
  for (const { campaignId, state, n } of await stateCounts(db))
    out.set(campaignId, { ...out.get(campaignId), [state]: n });
  return out;
}

export async function viewCampaigns({ store }: ServerParts): Promise<CampaignSummary[]> {
  const { db } = store;
  await countResults(store);
  const [campaigns, states, days, lists, results] = await Promise.all([
    listCampaigns(db),
    statesOf(db),
    plannedDays(db),
    listLists(db),
    countsOfCampaigns(db),
  ]);
  return campaigns.map((c) => {
    const own = states.get(c.id) ?? {};
    const planned = days.find((d) => d.campaignId === c.id);
    const enrolled = Object.values(own).reduce((a, b) => a + b, 0);
    return {
      id: c.id,
      name: c.name,
      state: c.state,
      people: c.state === 'draft' ? (lists.find((l) => l.id === c.listId)?.people ?? 0) : enrolled,
      states: own,
      firstDay: planned ? isoDate(planned.firstDay) : null,
      lastDay: planned ? isoDate(planned.lastDay) : null,
      results: results.find((r) => r.campaignId === c.id)?.counts ?? null,
    };
  });
}

export async function viewBrief(parts: ServerParts, id: number): Promise<BriefView> {
  const { db } = parts.store;
  const campaign = await requireCampaign(db, id);
  const [steps, links, states] = await Promise.all([
    readSteps(db, [id]),
    readCampaignMailboxes(db, [id]),
    statesOf(db),
  ]);
  const mailboxIds = links.map((l) => l.mailboxId);
  const messages = await readMessagesById(db, messagesOf(steps));
  const sent = await sentOfSteps(db, id);
  const change = campaign.state === 'draft' ? null : await lastChange(db, id);
  const own = states.get(id) ?? {};
  const workspace = await readWorkspace(db);
  const names = await namesOf(db, campaign, steps, mailboxIds);
  const forecast =
    campaign.state === 'draft'
      ? (await planDraft(db, campaign, await judging(parts))).forecast
      : await forecastOfStarted(db, campaign, own);
  return {
    ...ownChoices(campaign),
    ...names,
    id,
    state: campaign.state,
    usesPicked: campaign.picked !== null,
    canWatch: workspace.publicAddress !== '',
    picked: campaign.picked && { people: campaign.picked.rowIds.length, words: campaign.picked.words },
    proposed: campaign.proposed,
    revision: campaign.revision,
    steps: steps.map((s, place) => ({
      ...stepView(s, messages, { isStarted: campaign.state !== 'draft', sent: sent.get(s.position) ?? 0 }),
      ...(names.steps[place] as (typeof names.steps)[number]),
    })),
    mailboxIds,
    startedAt: campaign.startedAt,
    standing: await viewStanding(db, campaign, { mailboxIds, workspace, nowMs: await parts.clock.now() }),
    // That it was started is said as long as it can be a draft again.
    lastChange:
      change && (change.before.state !== 'draft' || !change.hasLeftSince)
        ? {
            ...{ at: change.at, words: change.words, whyNotUndo: whyNotUndo(change, campaign.revision) },
            needsLaterEnd: needsLaterEnd(campaign, workspace.zone, await parts.clock.now()),
          }
        : null,
    states: own,
    forecast,
  };
}

/** Whether a step still sends a text that one of its messages no longer has. */
const isOlder = (step: StepRow, messages: ReadonlyMap<number, MessageRow>): boolean =>
  textsOf(step).some(({ messageId, content }) => {
    const now = messageId === null ? undefined : messages.get(messageId)?.content;
    return now !== undefined && content !== null && !isDeepStrictEqual(readContent(now), readContent(content));
  });

const byNumber = (a: number, b: number): number => a - b;

function stepView(
  step: StepRow,
  messages: ReadonlyMap<number, MessageRow>,
  { isStarted, sent }: { isStarted: boolean; sent: number },
): Omit<BriefView['steps'][number], 'messageName' | 'otherNames' | 'ifClickedName'> {
  return {
    number: step.position,
    messageId: step.messageId,
    others: step.others.map((o) => o.messageId),
    ifClicked: step.ifClicked?.messageId ?? null,
    ...termsOf(step),
    renews: false,
    isOlder: isStarted && isOlder(step, messages),
    sent,
  };
}

/**
 * @throws DomainError `conflict` once the campaign has been started, or where somebody else has changed it since that revision
 */
export async function changeBrief({ store }: ServerParts, id: number, change: BriefChange): Promise<void> {
  await store.db.transaction(async (tx) => {
    const campaign = await requireLocked(tx, id);
    if (campaign.state !== 'draft')
      throw new DomainError(
        'conflict',
        'The campaign has been started meanwhile. Look at it again, then change it there.',
      );
    const { steps, mailboxIds, revision, usesPicked, ...chosen } = change;
    if (revision !== campaign.revision) throw changedMeanwhile();
    const own = await checkedParts(tx, chosen);
    const before = (await readCampaignMailboxes(tx, [id])).map((l) => l.mailboxId);
    await updateCampaign(tx, id, {
      ...own,
      picked: usesPicked && own.listId === campaign.listId ? campaign.picked : null,
      proposed: campaign.proposed.filter((what) =>
        what === 'start'
          ? own.startDate === campaign.startDate
          : before.join() === [...mailboxIds].sort(byNumber).join(),
      ),
      revision: revision + 1,
    });
    await replaceSteps(
      tx,
      id,
      steps.map((step, place) => ({ messageId: step.messageId, ...termsAt(place, step), ...textsChosen(place, step) })),
    );
    await replaceCampaignMailboxes(tx, id, mailboxIds);
    await announce(tx, 'campaigns');
  });
}

/**
 * Starts a campaign as it was shown, in one transaction: enrols everyone, keeps the messages as they are now, plans.
 *
 * @throws DomainError `conflict` when it is not a draft or would do something else than was shown; `invalid` while something is in the way
 */
export async function startCampaign(
  parts: ServerParts,
  id: number,
  shown: StartRequest,
  tell: TellProgress,
): Promise<void> {
  const { store } = parts;
  const judged = await judging(parts);
  const { nowMs } = judged;
  await store.db.transaction(async (tx) => {
    const campaign = await lockCampaign(tx, id);
    if (campaign?.state !== 'draft') throw new DomainError('conflict', 'The campaign has already been started.');
    const { forecast, audience, steps, messages } = await planDraft(tx, campaign, judged);
    const inTheWay = forecast.obstacles.find((o) => o.kind === 'fix');
    if (inTheWay) throw new DomainError('invalid', `The campaign cannot start yet: ${inTheWay.text}.`);
    if (forecast.people !== shown.people || forecast.lastDay !== shown.lastDay) {
      throw new DomainError(
        'conflict',
        `The numbers have changed since you looked: the campaign would now go to ${forecast.people} people and end on ${forecast.lastDay}. Check them before you start.`,
      );
    }
    const attempted = await lastAttemptId(tx);
    const { zone } = await readWorkspace(tx);
    await addEnrolments(tx, enrolled(campaign, audience, { before: 0, workspaceZone: zone, nowMs }), (done) =>
      tell({ phase: 'enrolling', done, of: audience.length }),
    );
    const contentOf = (messageId: number | null) =>
      messageId === null ? null : (messages.get(messageId) as MessageRow).content;
    await replaceSteps(
      tx,
      id,
      steps.map((step) => withTexts(step, (text) => contentOf(text.messageId))),
    );
    await updateCampaign(tx, id, {
      state: 'running',
      startedAt: nowMs,
      revision: campaign.revision + 1,
      // Whoever has started it has looked at all of it.
      proposed: [],
      recipients: forecast.people,
    });
    await markInLine(tx, id);
    await addChange(tx, {
      ...{ campaignId: id, at: nowMs, words: ['It was started.'] },
      before: {
        ...{ state: 'draft', choices: null, people: [], joined: [], eventIds: [], lastAttemptId: attempted },
        revisions: { before: campaign.revision, since: campaign.revision + 1 },
      },
    });
    await wantFreshPlan(tx, nowMs);
    await announce(tx, 'campaigns', 'today');
    // The last moment at which it can be cancelled.
    tell({ phase: 'planning', done: 0, of: 0 });
  });
  await replan(store, nowMs);
}

/** Holds a running campaign, or lets a held one go on, planned anew from now. */
export async function setHeld({ store, clock }: ServerParts, id: number, held: boolean): Promise<void> {
  const nowMs = await clock.now();
  await store.db.transaction(async (tx) => {
    const campaign = await lockCampaign(tx, id);
    if (campaign?.state !== (held ? 'running' : 'held'))
      throw new DomainError('conflict', held ? 'Only a running campaign can be held.' : 'The campaign is not held.');
    await updateCampaign(tx, id, { state: held ? 'held' : 'running' });
    await wantPlan(tx, nowMs);
    await announce(tx, 'campaigns', 'today');
  });
}
