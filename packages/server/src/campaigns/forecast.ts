import {
  dayNumber,
  contentFault,
  isoDate,
  LEFT_OUT,
  othersBegin,
  type LeftOutCode,
  type OthersBegin,
  type RecipientState,
} from '@baton/core';
import { calendarOf } from '../mailboxes/capacity';
import type { Forecast } from '@baton/contract';
import type { Queryable } from '../store/database';
import { readCampaignMailboxes, readSteps, type CampaignRow, type StepRow } from '../store/campaigns/campaign-rows';
import { lastDays, planByDay } from '../store/sending/delivery-rows';
import { readDomainRecords } from '../store/mailboxes/domain-record-rows';
import { listMailboxes, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { readMessagesById, type MessageRow } from '../store/messages/message-rows';
import { readClock, readWorkspace, type WorkspaceRow } from '../store/workspace-rows';
import { planWorkspace, type Candidate, type PlanningCampaign, type WorkspacePlan } from '../planning/plan-workspace';
import { zones } from '../time/zones';
import { readAudience, type AudienceMember, type Judging } from './audience';
import { senderColumn } from './brief-names';
import { tally } from './tally';
import { listsToCheck } from './lists-to-check';
import { obstaclesOf } from './obstacles';
import { NO_OWN_TIMES, ownTimesOf, ownTimesOfStarted } from './own-times';
import { messagesOf } from './step-texts';
import { startsOn } from './first-message-time';

/** What one person of a draft would get, and when. */
export interface DraftedMessages {
  mailbox: string;
  messages: { step: number; instant: number }[];
}

export interface DraftPlan {
  forecast: Forecast;
  audience: AudienceMember[];
  /** By list row, for everybody who could be planned: put together when asked for. */
  drafted: () => Map<number, DraftedMessages>;
  steps: StepRow[];
  messages: Map<number, MessageRow>;
}

const WHO_SHOWN = 50;

/** What a draft would do if it were started now, and the obstacles to starting it. */
export async function planDraft(db: Queryable, campaign: CampaignRow, parts: Judging): Promise<DraftPlan> {
  const { nowMs } = parts;
  const steps = await readSteps(db, [campaign.id]);
  const mailboxIds = (await readCampaignMailboxes(db, [campaign.id])).map((m) => m.mailboxId);
  const messages = await readMessagesById(db, messagesOf(steps));
  const contents = [...messages.values()].map((m) => m.content).filter((c) => contentFault(c) === null);
  const audience = await readAudience(db, campaign, { ...parts, contents, mailboxIds });
  const people = audience.filter((a) => a.leftOut === null);
  const workspace = await readWorkspace(db);
  const others = othersOfDraft(campaign, people.length, workspace, nowMs);
  const begins = (i: number) => (campaign.firstGroup !== null && i >= campaign.firstGroup ? others : 'at_once');
  const candidates = people.map((a, i): Candidate => {
    const { notBefore, sendMinute } = startsOn(campaign, a.person, workspace.zone);
    return {
      id: -1 - i,
      campaignId: campaign.id,
      mailboxId: a.mailboxId,
      nextStep: 0,
      dueDay: null,
      notBefore: laterOf(notBefore, begins(i)),
      sendMinute,
      domain: a.person.domain,
      zone: a.person.zone,
      units: a.units,
    };
  });
  const planning: PlanningCampaign = { ...campaign, held: false, others, steps, mailboxIds };
  // Who waits for a person's word has no time yet.
  const begun = others === 'by_hand' ? candidates.slice(0, campaign.firstGroup ?? 0) : candidates;
  const planned =
    steps.length > 0 && mailboxIds.length > 0
      ? await planWorkspace(db, nowMs, { campaign: planning, people: begun })
      : null;
  const mailboxes = (await listMailboxes(db)).filter((m) => mailboxIds.includes(m.id));
  const { zone, postalAddress, publicAddress, dateForm } = workspace;
  const forecast = forecastOf(campaign, people.length, planned, audience);
  const ends = await lastDays(db);
  const lists = await listsToCheck(db, campaign, audience);
  forecast.obstacles = obstaclesOf({
    ...lists,
    senderIsGone: campaign.senderKey !== null && (await senderColumn(db, campaign)) === null,
    planned,
    ends,
    campaign,
    steps,
    messages,
    audience,
    mailboxes,
    records: await readDomainRecords(db),
    forecast,
    nowMs,
    zone: zones.get(zone),
    hasPostalAddress: postalAddress !== '',
    dateForm,
    publicAddress,
    isSimulated: (await readClock(db)).simulated,
  });
  return { forecast, audience, drafted: () => draftedOf(people, planned), steps, messages };
}

/** When those of a draft begin who are not in its first group. */
function othersOfDraft(campaign: CampaignRow, people: number, workspace: WorkspaceRow, nowMs: number): OthersBegin {
  const days = { today: zones.get(workspace.zone).toLocal(nowMs).day, startDay: dayNumber(campaign.startDate) };
  return othersBegin(campaign, { waiting: people, lastDay: null }, days, calendarOf(workspace));
}

const laterOf = (day: number | null, begins: OthersBegin): number | null =>
  typeof begins === 'number' ? Math.max(begins, day ?? begins) : day;

function draftedOf(people: AudienceMember[], planned: WorkspacePlan | null): Map<number, DraftedMessages> {
  const out = new Map<number, DraftedMessages>();
  for (const d of planned?.plan.deliveries ?? []) {
    // Drafts have negative numbers for enrolments; the plan is in order of time, so each person's messages are too.
    const person = people[-1 - (planned?.candidates[d.recipient]?.id ?? 0)]?.person;
    if (!person) continue;
    const mailbox = planned?.mailboxes[d.mailbox]?.address ?? '';
    const drafted = out.get(person.rowId) ?? { mailbox, messages: [] };
    drafted.messages.push({ step: d.step, instant: d.instant });
    out.set(person.rowId, drafted);
  }
  return out;
}

/** What a plan has of a campaign. */
export function forecastOf(
  campaign: CampaignRow,
  people: number,
  planned: WorkspacePlan | null,
  audience: AudienceMember[],
): Forecast {
  const index = planned?.campaigns.findIndex((c) => c.id === campaign.id) ?? -1;
  const own = planned?.plan.campaigns[index];
  const day = (n: number | null | undefined) => (n == null ? null : isoDate(n));
  const { loads, messages } = planned ? loadsOf(planned, index) : { loads: [], messages: 0 };
  const unplaced =
    planned?.plan.notPlaced.filter((n) => planned.input.recipients.campaign[n.recipient] === index) ?? [];
  return {
    people,
    leftOut: groupLeftOut(audience),
    messages,
    firstDay: day(own?.firstDay),
    lastStartDay: day(own?.lastStartDay),
    lastDay: day(own?.lastDay),
    late: own?.late ?? 0,
    notPlaced: tally(unplaced.map((n) => n.reason)),
    cut: planned ? cutOf(planned, index, messages) : 0,
    ownTimes: planned ? ownTimesOf(planned, index, audience) : NO_OWN_TIMES,
    obstacles: [],
    loads,
  };
}

/** Follow-ups that would leave after the campaign's end or their own last day, of those who are planned. */
function cutOf({ plan, input, campaigns }: WorkspacePlan, index: number, messages: number): number {
  const { campaign, nextStep } = input.recipients;
  const steps = campaigns[index]?.steps.length ?? 0;
  const unplaced = new Set(plan.notPlaced.map((n) => n.recipient));
  return campaign.reduce(
    (sum, c, p) => (c === index && !unplaced.has(p) ? sum + steps - (nextStep[p] as number) : sum),
    -messages,
  );
}

/** What a plan has of a campaign by mailbox and day, in order of days; by columns, as there may be half a million messages. */
function loadsOf(
  { plan, input, mailboxes }: WorkspacePlan,
  index: number,
): { loads: Forecast['loads']; messages: number } {
  const { recipient, step, mailbox, day } = plan.columns;
  const byCell = new Map<number, Forecast['loads'][number]>();
  let messages = 0;
  for (let k = 0; k < recipient.length; k++) {
    if (input.recipients.campaign[recipient[k] as number] !== index) continue;
    messages++;
    const cell = (day[k] as number) * mailboxes.length + (mailbox[k] as number);
    let load = byCell.get(cell);
    if (!load) {
      const mailboxId = (mailboxes[mailbox[k] as number] as MailboxRow).id;
      load = { mailboxId, day: isoDate(day[k] as number), first: 0, followUps: 0 };
      byCell.set(cell, load);
    }
    load[step[k] === 0 ? 'first' : 'followUps']++;
  }
  const loads = [...byCell.values()].sort((a, b) =>
    a.day < b.day ? -1 : a.day > b.day ? 1 : a.mailboxId - b.mailboxId,
  );
  return { loads, messages };
}

function groupLeftOut(audience: AudienceMember[]): Forecast['leftOut'] {
  const groups = new Map<string, { code: LeftOutCode; who: string[] }>();
  for (const { leftOut, person } of audience) {
    if (leftOut === null) continue;
    const group = groups.get(leftOut.group) ?? { code: leftOut.code, who: [] };
    group.who.push(person.address);
    groups.set(leftOut.group, group);
  }
  return [...groups]
    .map(([reason, { code, who }]) => ({
      ...{ code, reason, settledBy: LEFT_OUT[code].settledBy },
      people: who.length,
      who: who.slice(0, WHO_SHOWN),
    }))
    .sort((a, b) => b.people - a.people);
}

/** What a started campaign has done and will do, from what is stored. */
export async function forecastOfStarted(
  db: Queryable,
  campaign: CampaignRow,
  states: Partial<Record<RecipientState, number>>,
): Promise<Forecast> {
  const rows = await planByDay(db, campaign.id);
  const days = rows.map((r) => r.day);
  const starts = rows.filter((r) => r.first > 0).map((r) => r.day);
  const all = Object.values(states).reduce((a, b) => a + b, 0);
  return {
    people: all - (states.left_out ?? 0),
    leftOut: [],
    messages: rows.reduce((sum, r) => sum + r.first + r.followUps, 0),
    firstDay: days.length === 0 ? null : isoDate(Math.min(...days)),
    lastStartDay: starts.length === 0 ? null : isoDate(Math.max(...starts)),
    lastDay: days.length === 0 ? null : isoDate(Math.max(...days)),
    late: 0,
    notPlaced: [],
    cut: 0,
    ownTimes: await ownTimesOfStarted(db, campaign),
    obstacles: [],
    loads: rows.map((r) => ({ mailboxId: r.mailboxId, day: isoDate(r.day), first: r.first, followUps: r.followUps })),
  };
}
