import { DAY_MS, DomainError, isWatched, repliesToCome, stillSilent, type Silence } from '@baton/core';
import type { CampaignResults, ResultGroups, ResultsBy, ResultsOverview, StepResults } from '@baton/contract';
import { listsOf } from '../campaigns/audience-parts';
import { requireCampaign } from '../campaigns/require-campaign';
import { messagesOf } from '../campaigns/step-texts';
import type { ServerParts } from '../http/context';
import { listCampaigns, type CampaignRow, type StepRow } from '../store/campaigns/campaign-rows';
import { everyStep } from '../store/campaigns/change-rows';
import type { Queryable } from '../store/database';
import { readMessagesById } from '../store/messages/message-rows';
import { readColumns } from '../store/people/list/list-rows';
import {
  answersOf,
  countsOfCampaigns,
  countsOfGroups,
  countsOfMessages,
  countsOfSteps,
  countsTogether,
  silencesOf,
  type GroupCounts,
  type SilentFor,
} from '../store/results/result-rows';

/** The time before now from which one's own past is taken. */
const PAST_MS = 365 * DAY_MS;

/** Every campaign of which something has left, the newest first. */
export async function viewResults({ store: { db } }: ServerParts): Promise<ResultsOverview> {
  const campaigns = new Map((await listCampaigns(db)).map((c) => [c.id, c]));
  const counted = await countsOfCampaigns(db);
  return {
    campaigns: counted.flatMap(({ campaignId, ...counted }) => {
      const campaign = campaigns.get(campaignId);
      return campaign ? [{ id: campaignId, name: campaign.name, state: campaign.state, ...counted }] : [];
    }),
    together: await countsTogether(db),
  };
}

/** What became of one campaign so far. @throws DomainError `not_found` where nothing of it has left */
export async function viewCampaignResults(parts: ServerParts, id: number): Promise<CampaignResults> {
  const { db } = parts.store;
  const campaign = await requireCampaign(db, id);
  const all = await viewResults(parts);
  const own = all.campaigns.find((c) => c.id === id);
  if (!own) throw new DomainError('not_found', 'Nothing of this campaign has left yet.');
  const nowMs = await parts.clock.now();
  const past = all.campaigns.filter((c) => c.id !== id && c.firstSentAt >= nowMs - PAST_MS).map((c) => c.id);
  const steps = await everyStep(db, id);
  const silences = await silencesOf(db, id, nowMs);
  const asSilence = ({ hours, replied, people }: SilentFor): Silence => ({ lasted: hours, ended: replied, people });
  return {
    ...own,
    countsOpens: steps.some((s) => formatsOf(s).some((format) => isWatched(campaign.watchesOpens, format))),
    countsClicks: steps.some((s) => formatsOf(s).some((format) => isWatched(campaign.watchesClicks, format))),
    steps: await stepsOf(db, id, steps),
    silence: stillSilent(silences.map(asSilence)),
    expected: repliesToCome(silences.map(asSilence), silences.filter((s) => s.mayReply && !s.replied).map(asSilence)),
    past: await countsTogether(db, past),
    fields: await fieldsOf(db, campaign),
  };
}

const formatsOf = ({ content, others }: StepRow) =>
  [content, ...others.map((o) => o.content)].flatMap((c) => (c === null ? [] : [c.format]));

async function stepsOf(db: Queryable, id: number, steps: readonly StepRow[]): Promise<StepResults[]> {
  const names = await namesOfSteps(db, steps);
  const answers = await answersOf(db, id);
  return (await countsOfSteps(db, id))
    .map(({ step, ...counted }): StepResults => ({
      ...counted,
      place: steps.find((s) => s.position === step)?.place ?? step,
      name: names.get(step) ?? '',
      repliedAt: answers.filter((a) => a.step === step).map((a) => a.at),
    }))
    .sort((a, b) => a.place - b.place || a.firstSentAt - b.firstSentAt);
}

/** What each step of a campaign sends, by its number; the first variant's where there are several. */
async function namesOfSteps(db: Queryable, steps: readonly StepRow[]): Promise<Map<number, string>> {
  const messages = await readMessagesById(db, messagesOf(steps));
  return new Map(steps.map((s) => [s.position, messages.get(s.messageId ?? 0)?.name ?? s.content?.subject ?? '']));
}

/** Columns of a campaign's lists, those of the first before others of the same key. */
async function fieldsOf(db: Queryable, campaign: CampaignRow): Promise<CampaignResults['fields']> {
  const fields = new Map<string, string>();
  for (const listId of listsOf(campaign))
    for (const { key, name, role } of await readColumns(db, listId))
      if (role !== 'address' && !fields.has(key)) fields.set(key, name);
  return [...fields].map(([key, name]) => ({ key, name }));
}

/** What became of a campaign's people, told apart. */
export async function viewResultGroups({ store }: ServerParts, id: number, by: ResultsBy): Promise<ResultGroups> {
  const { db } = store;
  const campaign = await requireCampaign(db, id);
  const found = await groupsBy(db, campaign, by);
  const rest = found.find((g) => g.key === null);
  const nameOf = await namingOf(db, campaign, by);
  const groups = found
    .filter((g): g is GroupCounts & { key: string } => g.key !== null)
    .map(({ key, counts }) => ({ key, name: key === '' ? '' : nameOf(key), counts }));
  // What has an order of its own keeps it; the others come by size.
  const inOrder = by === 'message' || by === 'variant' || by === 'weekday' || by === 'hour';
  groups.sort((a, b) => (inOrder ? Number(a.key) - Number(b.key) : b.counts.written - a.counts.written));
  return { groups, others: rest ? { groups: rest.groups, counts: rest.counts } : null };
}

function groupsBy(db: Queryable, { id }: CampaignRow, by: ResultsBy): Promise<GroupCounts[]> {
  if (by === 'message') return countsOfMessages(db, id);
  return countsOfGroups(db, id, isField(by) ? { field: by.slice(FIELD.length) } : by);
}

const FIELD = 'field:';
const isField = (by: ResultsBy): by is `field:${string}` => by.startsWith(FIELD);
const FIRST_LETTER = 65;

/** How groups are called that are not called by their key. */
async function namingOf(db: Queryable, campaign: CampaignRow, by: ResultsBy): Promise<(key: string) => string> {
  switch (by) {
    case 'message': {
      const names = await namesOfSteps(db, await everyStep(db, campaign.id));
      return (key) => names.get(Number(key)) ?? '';
    }
    case 'variant': {
      const steps = await everyStep(db, campaign.id);
      const messages = await readMessagesById(db, messagesOf(steps));
      const [first] = steps.filter((s) => s.place === 0);
      const idOf = (variant: number) =>
        (variant === 0 ? null : first?.others[variant - 1]?.messageId) ?? first?.messageId ?? 0;
      return (key) =>
        `${String.fromCharCode(FIRST_LETTER + Number(key))} ${messages.get(idOf(Number(key)))?.name ?? ''}`.trim();
    }
    default:
      return (key) => key;
  }
}
