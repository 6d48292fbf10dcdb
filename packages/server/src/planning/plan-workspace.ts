import {
  DAY_MS,
  dayNumber,
  endInstant,
  firstInstant,
  hash32,
  nextMessage,
  onceSent,
  othersBegin,
  planSends,
  type CampaignHours,
  type FirstGroup,
  type OthersBegin,
  type Plan,
  type PlanCampaign,
  type PlanInput,
  type PlanMailbox,
  type StepTerms,
  type WorkingCalendar,
  type Zone,
} from '@baton/core';
import type { Queryable } from '../store/database';
import {
  listCampaigns,
  placesOfSteps,
  readCampaignMailboxes,
  readSteps,
  type CampaignRow,
} from '../store/campaigns/campaign-rows';
import { sentByDay, type DeliveryRow } from '../store/sending/delivery-rows';
import { deliveriesUnderWay, groupProgress, openEnrolments, type OpenEnrolment } from '../store/planning/planned-rows';
import { connectionKey, listMailboxes, usesSince, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { readWorkspace, type WorkspaceRow } from '../store/workspace-rows';
import { zones } from '../time/zones';
import { calendarOf, localDay, planMailbox, WORKING_WEEKDAYS } from '../mailboxes/capacity';

/** A little over a year: longer plans are a mistake in the numbers, and are said to be. */
const HORIZON_DAYS = 400;

/** Up to so many people a draft's plan is made with all care, as at the start. */
const FULL_UP_TO = 5000;

/** A recipient that is to be planned: enrolled already, or one of a draft. */
export interface Candidate {
  /** The enrolment, or a negative number for a draft's people. */
  id: number;
  campaignId: number;
  mailboxId: number | null;
  nextStep: number;
  dueDay: number | null;
  notBefore: number | null;
  /** The minute of that day at which the first message leaves; null for any. */
  sendMinute: number | null;
  domain: string;
  zone: string | null;
  /** Envelope recipients of one message. */
  units: number;
}

/** A campaign as the planner needs it. */
export interface PlanningCampaign extends Pick<
  CampaignRow,
  'id' | 'name' | 'startedAt' | keyof CampaignHours | 'window' | 'windowZone' | 'dailyLimit' | 'share'
> {
  held: boolean;
  releasedByHand: boolean;
  /** When those begin who are not in its first group. */
  others: OthersBegin;
  /** How many are in that; null where all may begin at once. */
  firstGroup: number | null;
  /** In order; `position` is the number by which deliveries name it. */
  steps: (Pick<StepTerms, 'delay' | 'tolerance' | 'hours' | 'lastDay'> & { position: number })[];
  mailboxIds: number[];
}

/** What would be different in a running campaign. */
export interface RunningChange {
  /** Somebody who is open, or has had every message, as they would be. */
  person: (e: OpenEnrolment) => OpenEnrolment;
}

/** All that is to be planned. */
export interface WorkToPlan {
  input: PlanInput;
  candidates: Candidate[];
  campaigns: PlanningCampaign[];
  mailboxes: MailboxRow[];
  /** Deliveries that are under way or waiting to be tried again, and keep their time. */
  fixed: DeliveryRow[];
  /** By campaign: where the step with a number stands in the sequence, or stood. */
  places: ReadonlyMap<number, ReadonlyMap<number, number>>;
  workspace: WorkspaceRow;
}

export interface WorkspacePlan extends WorkToPlan {
  plan: Plan;
}

/** Plans everything to come of all running campaigns from scratch; with a draft, as if it had been started too. */
export async function planWorkspace(...from: Parameters<typeof readWork>): Promise<WorkspacePlan> {
  const work = await readWork(...from);
  // Drafts are planned at every change, and as they would be when they start as long as that takes no time.
  const tier = work.candidates.length > FULL_UP_TO ? 'quick' : 'full';
  return { ...work, plan: planSends(work.input, tier) };
}

/** What a plan of all running campaigns is made from; held ones keep what they have and get nothing new. */
export async function readWork(
  db: Queryable,
  nowMs: number,
  draft?: { campaign: PlanningCampaign; people: Candidate[]; changes?: RunningChange },
): Promise<WorkToPlan> {
  const workspace = await readWorkspace(db);
  const mailboxes = await listMailboxes(db);
  const running = (await listCampaigns(db)).filter((c) => c.state === 'running');
  const ids = running.map((c) => c.id);
  const steps = await readSteps(db, ids);
  const links = await readCampaignMailboxes(db, ids);
  const calendar = calendarOf(workspace);
  const others = await othersOf(db, running, workspace, nowMs);
  const campaigns: PlanningCampaign[] = running.map((c) => ({
    ...c,
    held: false,
    others: others.get(c.id) ?? 'at_once',
    steps: steps.filter((s) => s.campaignId === c.id),
    mailboxIds: links.filter((l) => l.campaignId === c.id).map((l) => l.mailboxId),
  }));
  const changedAt = draft ? campaigns.findIndex((c) => c.id === draft.campaign.id) : -1;
  if (draft && changedAt >= 0) campaigns[changedAt] = draft.campaign;
  else if (draft) campaigns.push(draft.campaign);
  const fixed = await deliveriesUnderWay(db, ids);
  const places = await placesOfSteps(db, ids);
  const open = await openEnrolments(db, ids, draft?.changes ? draft.campaign.id : 0);
  const candidates = [
    ...candidatesOf(draft?.changes ? open.map(draft.changes.person) : open, {
      campaigns,
      mailboxes,
      fixed,
      places,
      calendar,
    }),
    ...(draft?.people ?? []),
  ];
  const input = await buildInput(db, { nowMs, mailboxes, campaigns, candidates, fixed, workspace });
  return { input, candidates, campaigns, mailboxes, fixed, places, workspace };
}

function candidatesOf(
  open: readonly OpenEnrolment[],
  {
    campaigns,
    mailboxes,
    fixed,
    places,
    calendar,
  }: Pick<WorkToPlan, 'campaigns' | 'mailboxes' | 'fixed' | 'places'> & { calendar: WorkingCalendar },
): Candidate[] {
  const underWay = new Map(fixed.map((d) => [d.enrolmentId, d]));
  const byId = new Map(mailboxes.map((m) => [m.id, m]));
  const stepsOf = new Map(campaigns.map((c) => [c.id, c.steps]));
  const byCampaign = new Map(campaigns.map((c) => [c.id, c]));
  return open.flatMap((e): Candidate[] => {
    const busy = underWay.get(e.id);
    const place = busy && (places.get(e.campaignId)?.get(busy.step) ?? busy.step);
    const progress = busy ? onceSent(e, { step: place as number, day: localDayOf(busy, byId) }) : e;
    const next = nextMessage(progress, stepsOf.get(e.campaignId) ?? [], calendar);
    if (!next) return [];
    const begins = isAfterGroup(e, byCampaign.get(e.campaignId)) ? byCampaign.get(e.campaignId)?.others : undefined;
    if (begins === 'by_hand') return [];
    return [
      {
        id: e.id,
        campaignId: e.campaignId,
        mailboxId: busy?.mailboxId ?? e.mailboxId,
        nextStep: next.step,
        dueDay: next.dueDay,
        notBefore: typeof begins === 'number' ? Math.max(begins, e.notBefore ?? begins) : e.notBefore,
        sendMinute: e.sendMinute,
        domain: e.domain,
        zone: e.zone,
        units: e.units,
      },
    ];
  });
}

/** Whether somebody waits until the first group of their campaign has begun. */
const isAfterGroup = ({ sent, position }: OpenEnrolment, campaign: PlanningCampaign | undefined): boolean =>
  sent === 0 && campaign != null && campaign.firstGroup !== null && position > campaign.firstGroup;

/** By campaign, when those begin who are not in its first group; those without one are absent. */
export async function othersOf(
  db: Queryable,
  campaigns: readonly (Pick<CampaignRow, 'id' | 'startDate'> & FirstGroup)[],
  workspace: WorkspaceRow,
  nowMs: number,
): Promise<Map<number, OthersBegin>> {
  const out = new Map<number, OthersBegin>();
  const today = zones.get(workspace.zone).toLocal(nowMs).day;
  for (const c of campaigns) {
    if (c.firstGroup === null) continue;
    const progress = await groupProgress(db, c.id, c.firstGroup);
    const days = { today, startDay: dayNumber(c.startDate) };
    out.set(c.id, othersBegin(c, progress, days, calendarOf(workspace)));
  }
  return out;
}

/** The mailbox's local day of a message under way: that of its last try. */
const localDayOf = ({ instant, day, mailboxId }: DeliveryRow, mailboxes: ReadonlyMap<number, MailboxRow>): number =>
  instant === null ? day : localDay(mailboxes.get(mailboxId) as MailboxRow, instant);

interface Parts {
  nowMs: number;
  mailboxes: MailboxRow[];
  campaigns: PlanningCampaign[];
  candidates: Candidate[];
  fixed: DeliveryRow[];
  workspace: WorkspaceRow;
}

/** What will leave today, as it was put off by a server, counts as if it had left now: its place in the day is taken. */
function takenToday(fixed: readonly DeliveryRow[], m: MailboxRow, nowMs: number): PlanMailbox['alreadyUsed'] {
  const today = localDay(m, nowMs);
  return fixed
    .filter((d) => d.mailboxId === m.id && d.state === 'deferred' && d.instant !== null)
    .filter((d) => localDay(m, d.instant as number) === today)
    .map(({ units }) => ({ instant: nowMs, units }));
}

const holidaysOf = (workspace: WorkspaceRow) => workspace.holidays.map((h) => h.day);

/** How many mailboxes go by the same connection. */
export const sharersOf = (mailbox: MailboxRow, all: readonly MailboxRow[]): number =>
  all.filter((other) => connectionKey(other) === connectionKey(mailbox)).length;

/** When people's first messages leave who have a minute of their own; -1 for the others. */
const instantsOf = (candidates: readonly Candidate[], { names, column }: { names: string[]; column: number[] }) =>
  candidates.map(({ nextStep, notBefore, sendMinute }, i) =>
    nextStep === 0 && notBefore !== null && sendMinute !== null
      ? zones.get(names[column[i] as number] as string).toInstant(notBefore, sendMinute)
      : -1,
  );

/** A campaign as the planner has it, but for what it has sent and its mailboxes. */
const planCampaign = (
  c: PlanningCampaign,
  zone: Zone,
  nowMs: number,
): Omit<PlanCampaign, 'alreadySent' | 'mailboxes'> => ({
  steps: c.steps.map(({ delay, tolerance, hours, lastDay }, i) => ({
    ...(i === 0 ? { delay: 0, tolerance: 0 } : { delay, tolerance }),
    ...{ hours, endInstant: endInstant({ endDate: lastDay, endMinute: null }, zone) },
  })),
  weight: c.share,
  dailyLimit: c.dailyLimit,
  startDate: c.startDate,
  startInstant: firstInstant(c, zone, nowMs),
  endInstant: endInstant(c, zone),
  held: c.held,
  recipientWindow: c.window,
});

async function buildInput(
  db: Queryable,
  { nowMs, mailboxes, campaigns, candidates, fixed, workspace }: Parts,
): Promise<PlanInput> {
  const { zone } = workspace;
  const own = zones.get(zone);
  const holidays = holidaysOf(workspace);
  const mailboxAt = new Map(mailboxes.map((m, i) => [m.id, i]));
  const campaignAt = new Map(campaigns.map((c, i) => [c.id, i]));
  const index = (names: string[]) => {
    const at = new Map<string, number>();
    const column = names.map((n) => at.get(n) ?? (at.set(n, at.size), at.size - 1));
    return { names: [...at.keys()], column };
  };
  const ownZone = new Set(campaigns.filter((c) => c.windowZone === 'recipient').map((c) => c.id));
  const zoneOf = index(candidates.map((c) => (ownZone.has(c.campaignId) ? (c.zone ?? zone) : zone)));
  const domains = index(candidates.map((c) => c.domain));
  const at = instantsOf(candidates, zoneOf);
  // One after the other: inside a transaction there is one connection.
  const planMailboxes: PlanMailbox[] = [];
  for (const m of mailboxes) {
    const alreadyUsed = [...(await usesSince(db, m.id, nowMs - 2 * DAY_MS)), ...takenToday(fixed, m, nowMs)];
    planMailboxes.push(planMailbox(m, { alreadyUsed, holidays, nowMs, sharers: sharersOf(m, mailboxes) }));
  }
  const limited = campaigns.filter((c) => c.dailyLimit !== null).map((c) => c.id);
  const sent = await sentByDay(db, limited, Math.floor(nowMs / DAY_MS) - 1);
  return {
    seed: hash32('workspace'),
    now: nowMs,
    horizonDays: HORIZON_DAYS,
    calendar: { weekdays: [...WORKING_WEEKDAYS], holidays },
    domainCap: workspace.domainCap,
    mailboxes: planMailboxes,
    campaigns: campaigns.map((c) => ({
      ...planCampaign(c, own, nowMs),
      alreadySent: sent.filter((s) => s.campaignId === c.id),
      mailboxes: c.mailboxIds.map((id) => mailboxAt.get(id) as number),
    })),
    zones: zoneOf.names,
    recipients: {
      count: candidates.length,
      campaign: candidates.map((c) => campaignAt.get(c.campaignId) as number),
      zone: zoneOf.column,
      domain: domains.column,
      // An instant says more than its day, which may be another where the mailbox is.
      notBefore: candidates.map((c, i) => (at[i] === -1 ? (c.notBefore ?? -1) : -1)),
      at,
      units: candidates.map((c) => c.units),
      boundMailbox: candidates.map((c) => (c.mailboxId === null ? -1 : (mailboxAt.get(c.mailboxId) as number))),
      nextStep: candidates.map((c) => c.nextStep),
      dueDay: candidates.map((c) => c.dueDay ?? -1),
    },
  };
}
