import {
  DAY_MS,
  dayNumber,
  DomainError,
  isWatched,
  keepsPlaces,
  NO_RESULTS,
  periodBefore,
  repliesToCome,
  stillSilent,
  sumOfResults,
  type Period,
  type Silence,
} from '@baton/core';
import type {
  CampaignResults,
  MessageResults,
  ResultGroups,
  ResultsBy,
  ResultsOverview,
  StepResults,
} from '@baton/contract';
import { listsOf } from '../campaigns/audience-parts';
import { requireCampaign } from '../campaigns/require-campaign';
import { contentsOf, messageSent, messagesOf } from '../campaigns/step-texts';
import type { ServerParts } from '../http/context';
import { countResults } from '../store/results/result-counting';
import { listCampaigns, type CampaignRow, type StepRow } from '../store/campaigns/campaign-rows';
import { everyStep, readVersions } from '../store/campaigns/change-rows';
import type { Queryable } from '../store/database';
import { readWorkspace } from '../store/workspace-rows';
import { zones } from '../time/zones';
import { readMessagesById } from '../store/messages/message-rows';
import { findRowIds, readColumns } from '../store/people/list/list-rows';
import { readSegments } from '../store/people/list/segment-rows';
import {
  answersOf,
  countsInPeriod,
  countsOfCampaigns,
  countsOfGroups,
  countsOfRows,
  countsOfSteps,
  countRefused,
  countsAddedUp,
  countsOfTexts,
  countsTogether,
  countsTogetherIn,
  silencesOf,
  type CampaignCounts,
  type GroupCounts,
  type LeftBetween,
  type SilentFor,
  type TextCounts,
} from '../store/results/result-rows';

/** The time before now from which one's own past is taken. */
const PAST_MS = 365 * DAY_MS;

/** Every campaign of which something has left, the newest first. @param period in which the first message left; any without */
export async function viewResults({ store }: ServerParts, period?: Period): Promise<ResultsOverview> {
  const { db } = store;
  await countResults(store);
  const names = new Map((await listCampaigns(db)).map((c) => [c.id, c]));
  const named = (counted: readonly CampaignCounts[]): ResultsOverview['campaigns'] =>
    counted.flatMap(({ campaignId: id, ...own }) => {
      const campaign = names.get(id);
      return campaign ? [{ id, name: campaign.name, state: campaign.state, ...own }] : [];
    });
  if (!period)
    return { campaigns: named(await countsOfCampaigns(db)), together: await countsTogether(db), before: null };
  const zone = zones.get((await readWorkspace(db)).zone);
  const instants = ({ from, to }: Period): LeftBetween => ({
    fromMs: zone.toInstant(dayNumber(from), 0),
    toMs: zone.toInstant(dayNumber(to) + 1, 0),
  });
  return {
    campaigns: named(await countsInPeriod(db, instants(period))),
    together: await countsTogetherIn(db, instants(period)),
    before: await countsTogetherIn(db, instants(periodBefore(period))),
  };
}

/** What became of one campaign so far. @throws DomainError `not_found` where nothing of it has left */
export async function viewCampaignResults(parts: ServerParts, id: number): Promise<CampaignResults> {
  const { db } = parts.store;
  const campaign = await requireCampaign(db, id);
  await countResults(parts.store);
  const [own] = await countsOfCampaigns(db, id);
  if (!own) throw new DomainError('not_found', 'Nothing of this campaign has left yet.');
  const { firstSentAt, silent, toCome, counts } = own;
  const nowMs = await parts.clock.now();
  const [campaigns, steps, silences, refused, fields, segments] = await Promise.all([
    listCampaigns(db),
    everyStep(db, id),
    silencesOf(db, id, nowMs),
    countRefused(db, id),
    fieldsOf(db, campaign),
    Promise.all(listsOf(campaign).map((listId) => readSegments(db, listId))),
  ]);
  const others = campaigns.filter((c) => c.id !== id && (c.startedAt ?? 0) >= nowMs - PAST_MS).map((c) => c.id);
  const [past, stepResults] = await Promise.all([countsAddedUp(db, others), stepsOf(db, id, steps)]);
  const asSilence = ({ hours, replied, people }: SilentFor): Silence => ({ lasted: hours, ended: replied, people });
  return {
    ...{ id, name: campaign.name, state: campaign.state, firstSentAt, silent, toCome, counts },
    ...{ refused, past, fields, hasSegments: segments.flat().length > 0, steps: stepResults },
    countsOpens: steps.some((s) => formatsOf(s).some((format) => isWatched(campaign.watchesOpens, format))),
    countsClicks: steps.some((s) => formatsOf(s).some((format) => isWatched(campaign.watchesClicks, format))),
    countsPlaces: keepsPlaces(campaign),
    silence: stillSilent(silences.map(asSilence)),
    expected: repliesToCome(silences.map(asSilence), silences.filter((s) => s.mayReply && !s.replied).map(asSilence)),
  };
}

const formatsOf = (step: StepRow) => contentsOf([step]).map((c) => c.format);

async function stepsOf(db: Queryable, id: number, steps: readonly StepRow[]): Promise<StepResults[]> {
  const [names, answers, counted] = await Promise.all([
    namesOfSteps(db, steps),
    answersOf(db, id),
    countsOfSteps(db, id),
  ]);
  return counted
    .map(({ step, ...own }): StepResults => ({
      ...own,
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
export async function viewResultGroups(
  { store, clock }: ServerParts,
  id: number,
  by: ResultsBy,
): Promise<ResultGroups> {
  const { db } = store;
  const campaign = await requireCampaign(db, id);
  await countResults(store);
  const found = await groupsBy(db, campaign, by, await clock.now());
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

async function groupsBy(db: Queryable, campaign: CampaignRow, by: ResultsBy, nowMs: number): Promise<GroupCounts[]> {
  if (by === 'message') {
    const texts = await countsOfTexts(db, campaign.id);
    return [...new Set(texts.map((t) => t.step))].map((step) => ({
      ...{ key: String(step), groups: 1 },
      // Nobody has had it in two variants.
      counts: texts.filter((t) => t.step === step).reduce((sum, t) => sumOfResults(sum, t.counts), NO_RESULTS),
    }));
  }
  if (by === 'segment') return countsOfSegments(db, campaign, nowMs);
  return countsOfGroups(db, campaign.id, isField(by) ? { field: by.slice(FIELD.length) } : by);
}

/** By the segments of its lists as they are now; whoever is in several counts in each. */
async function countsOfSegments(db: Queryable, campaign: CampaignRow, nowMs: number): Promise<GroupCounts[]> {
  const found: GroupCounts[] = [];
  for (const listId of listsOf(campaign)) {
    const columns = await readColumns(db, listId);
    for (const { id, query } of await readSegments(db, listId)) {
      const rows = await findRowIds(db, { listId, columns }, { ...query, sort: [] }, nowMs);
      const counts = await countsOfRows(db, campaign.id, rows);
      if (counts.written > 0) found.push({ key: String(id), groups: 1, counts });
    }
  }
  return found;
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
      const idOf = (variant: number) => (first ? messageSent(first, variant, false) : null) ?? 0;
      return (key) =>
        `${String.fromCharCode(FIRST_LETTER + Number(key))} ${messages.get(idOf(Number(key)))?.name ?? ''}`.trim();
    }
    case 'segment': {
      const names = new Map<string, string>();
      for (const listId of listsOf(campaign))
        for (const { id, name } of await readSegments(db, listId)) names.set(String(id), name);
      return (key) => names.get(key) ?? '';
    }
    default:
      return (key) => key;
  }
}

/** How a message has done, campaign by campaign, with each text that it had there. @throws DomainError `not_found` */
export async function viewMessageResults({ store }: ServerParts, id: number): Promise<MessageResults> {
  const { db } = store;
  if (!(await readMessagesById(db, [id])).has(id)) throw new DomainError('not_found', 'There is no such message.');
  await countResults(store);
  const campaigns = (await listCampaigns(db)).filter((c) => c.state !== 'draft');
  const versions = await readVersions(
    db,
    campaigns.map((c) => c.id),
  );
  const uses: MessageResults['uses'] = [];
  for (const campaign of campaigns) {
    const steps = await everyStep(db, campaign.id);
    const sent: SentText[] = [
      ...versions.filter((v) => v.campaignId === campaign.id).map((v) => ({ ...v, versionId: v.id })),
      ...steps.map((s) => ({ ...s, versionId: null, until: null })),
    ].filter((text) => messagesOf([text]).includes(id));
    if (sent.length === 0) continue;
    const texts = await countsOfTexts(db, campaign.id);
    for (const text of sent) {
      const isOf = (t: TextCounts) =>
        t.step === text.position && t.versionId === text.versionId && messageSent(text, t.variant, t.forClicked) === id;
      const counts = texts.filter(isOf).reduce((sum, t) => sumOfResults(sum, t.counts), NO_RESULTS);
      const place = steps.find((s) => s.position === text.position)?.place ?? text.position;
      if (counts.written > 0)
        uses.push({ campaignId: campaign.id, name: campaign.name, place, until: text.until, counts });
    }
  }
  return { uses };
}

/** What a step sends, or sent until then. */
type SentText = Pick<StepRow, 'position' | 'messageId' | 'content' | 'others' | 'ifClicked'> & {
  versionId: number | null;
  until: number | null;
};
