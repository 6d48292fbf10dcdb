import { DAY_MS, hash32, planSends, type Plan, type PlanInput, type PlanMailbox } from '@baton/core';
import { announce } from '../store/changes';
import { LOCKS, withLock, type Queryable, type Store } from '../store/database';
import { listCampaigns, readCampaignMailboxes, readSteps, type CampaignRow } from '../store/campaign-rows';
import {
  openEnrolments,
  pendingDeliveries,
  putPlanned,
  removeDeliveries,
  sentByDay,
  type DeliveryRow,
  type PlannedRow,
} from '../store/delivery-rows';
import { listMailboxes, usesSince, type MailboxRow } from '../store/mailbox-rows';
import { readWorkspace, updateWorkspace } from '../store/workspace-rows';
import { localDay, planMailbox, WORKING_WEEK, workingDays } from '../mailboxes/capacity';
import type { Duty } from '../duties/duty';

/** A little over a year: longer plans are a mistake in the numbers, and are said to be. */
const HORIZON_DAYS = 400;

/** A recipient that is to be planned: enrolled already, or one of a draft. */
export interface Candidate {
  /** The enrolment, or a negative stand-in for a draft's people. */
  id: number;
  campaignId: number;
  mailboxId: number | null;
  nextStep: number;
  dueDay: number | null;
  notBefore: number | null;
  domain: string;
  zone: string | null;
  /** Envelope recipients of one message. */
  units: number;
}

/** A campaign as the planner needs it. */
export interface PlanningCampaign extends Pick<
  CampaignRow,
  'id' | 'startDate' | 'window' | 'windowZone' | 'dailyLimit'
> {
  held: boolean;
  steps: { delay: number; tolerance: number }[];
  mailboxIds: number[];
}

export interface WorkspacePlan {
  plan: Plan;
  input: PlanInput;
  candidates: Candidate[];
  campaigns: PlanningCampaign[];
  mailboxes: MailboxRow[];
  /** Deliveries that are under way or waiting to be tried again, and keep their time. */
  fixed: DeliveryRow[];
  pending: DeliveryRow[];
}

/**
 * Plans everything to come of all running and held campaigns; with a draft, as if it had been started too.
 * Held campaigns keep what they have and get nothing new.
 */
export async function planWorkspace(
  db: Queryable,
  nowMs: number,
  draft?: { campaign: PlanningCampaign; people: Candidate[] },
): Promise<WorkspacePlan> {
  const workspace = await readWorkspace(db);
  const mailboxes = await listMailboxes(db);
  const running = (await listCampaigns(db)).filter((c) => c.state === 'running');
  const ids = running.map((c) => c.id);
  const steps = await readSteps(db, ids);
  const links = await readCampaignMailboxes(db, ids);
  const campaigns: PlanningCampaign[] = running.map((c) => ({
    ...c,
    held: false,
    steps: steps.filter((s) => s.campaignId === c.id),
    mailboxIds: links.filter((l) => l.campaignId === c.id).map((l) => l.mailboxId),
  }));
  if (draft) campaigns.push(draft.campaign);
  const pending = await pendingDeliveries(db, ids);
  const fixed = pending.filter((d) => d.state !== 'planned');
  const candidates = [
    ...candidatesOf(await openEnrolments(db, ids), campaigns, mailboxes, fixed),
    ...(draft?.people ?? []),
  ];
  const input = await buildInput(db, { nowMs, mailboxes, campaigns, candidates, zone: workspace.zone });
  // Plans are made again at every reply and hold, and drafts at every change: the quick tier is near enough.
  return { plan: planSends(input, 'quick'), input, candidates, campaigns, mailboxes, fixed, pending };
}

function candidatesOf(
  open: Awaited<ReturnType<typeof openEnrolments>>,
  campaigns: PlanningCampaign[],
  mailboxes: MailboxRow[],
  fixed: DeliveryRow[],
): Candidate[] {
  const underWay = new Map(fixed.map((d) => [d.enrolmentId, d]));
  const byId = new Map(mailboxes.map((m) => [m.id, m]));
  const stepsOf = new Map(campaigns.map((c) => [c.id, c.steps]));
  return open.flatMap((e): Candidate[] => {
    const steps = stepsOf.get(e.campaignId) ?? [];
    const busy = underWay.get(e.id);
    const sent = busy ? busy.step + 1 : e.sent;
    const lastDay = busy
      ? busy.instant === null
        ? busy.day
        : localDay(byId.get(busy.mailboxId) as MailboxRow, busy.instant)
      : e.lastSentDay;
    const step = steps[sent];
    if (!step) return [];
    const dueDay = sent === 0 || lastDay === null ? null : workingDays.add(lastDay, step.delay);
    return [
      {
        id: e.id,
        campaignId: e.campaignId,
        mailboxId: busy?.mailboxId ?? e.mailboxId,
        nextStep: sent,
        dueDay,
        notBefore: e.notBefore,
        domain: e.domain,
        zone: e.zone,
        units: e.units,
      },
    ];
  });
}

interface Parts {
  nowMs: number;
  mailboxes: MailboxRow[];
  campaigns: PlanningCampaign[];
  candidates: Candidate[];
  zone: string;
}

async function buildInput(db: Queryable, { nowMs, mailboxes, campaigns, candidates, zone }: Parts): Promise<PlanInput> {
  const mailboxAt = new Map(mailboxes.map((m, i) => [m.id, i]));
  const campaignAt = new Map(campaigns.map((c, i) => [c.id, i]));
  const index = (names: string[]) => {
    const at = new Map<string, number>();
    const column = names.map((n) => at.get(n) ?? (at.set(n, at.size), at.size - 1));
    return { names: [...at.keys()], column };
  };
  const ownZone = new Set(campaigns.filter((c) => c.windowZone === 'recipient').map((c) => c.id));
  const zones = index(candidates.map((c) => (ownZone.has(c.campaignId) ? (c.zone ?? zone) : zone)));
  const domains = index(candidates.map((c) => c.domain));
  // One after the other: inside a transaction there is one connection.
  const planMailboxes: PlanMailbox[] = [];
  for (const m of mailboxes) planMailboxes.push(planMailbox(m, await usesSince(db, m.id, nowMs - 2 * DAY_MS)));
  const limited = campaigns.filter((c) => c.dailyLimit !== null).map((c) => c.id);
  const sent = await sentByDay(db, limited, Math.floor(nowMs / DAY_MS) - 1);
  return {
    seed: hash32('workspace'),
    now: nowMs,
    horizonDays: HORIZON_DAYS,
    calendar: WORKING_WEEK,
    domainCap: null,
    mailboxes: planMailboxes,
    campaigns: campaigns.map((c) => ({
      steps: c.steps.map((s, i) => (i === 0 ? { delay: 0, tolerance: 0 } : { delay: s.delay, tolerance: s.tolerance })),
      weight: 1,
      dailyLimit: c.dailyLimit,
      alreadySent: sent.filter((s) => s.campaignId === c.id),
      startDate: c.startDate,
      held: c.held,
      recipientWindow: c.window,
      mailboxes: c.mailboxIds.map((id) => mailboxAt.get(id) as number),
    })),
    zones: zones.names,
    recipients: {
      count: candidates.length,
      campaign: candidates.map((c) => campaignAt.get(c.campaignId) as number),
      zone: zones.column,
      domain: domains.column,
      notBefore: candidates.map((c) => c.notBefore ?? -1),
      units: candidates.map((c) => c.units),
      boundMailbox: candidates.map((c) => (c.mailboxId === null ? -1 : (mailboxAt.get(c.mailboxId) as number))),
      nextStep: candidates.map((c) => c.nextStep),
      dueDay: candidates.map((c) => c.dueDay ?? -1),
    },
  };
}

/** Makes a new plan and stores what differs from the old one. @returns how many deliveries changed, or null while another process plans */
export async function replan(store: Store, nowMs: number): Promise<number | null> {
  return withLock(store, LOCKS.planning, 0, () =>
    store.db.transaction(async (tx) => {
      // Cleared first: a change that comes while this plan is made asks for another.
      await updateWorkspace(tx, { planWantedAt: null });
      const planned = await planWorkspace(tx, nowMs);
      const rows = plannedRows(planned);
      const wanted = new Map(rows.map((r) => [`${r.enrolmentId}/${r.step}`, r]));
      const old = planned.pending.filter((d) => d.state === 'planned');
      const gone = old.filter((d) => !wanted.has(`${d.enrolmentId}/${d.step}`));
      for (const d of old) {
        const w = wanted.get(`${d.enrolmentId}/${d.step}`);
        if (w && w.instant === d.instant && w.mailboxId === d.mailboxId && w.day === d.day && w.units === d.units)
          wanted.delete(`${d.enrolmentId}/${d.step}`);
      }
      await removeDeliveries(
        tx,
        gone.map((d) => d.id),
      );
      await putPlanned(tx, [...wanted.values()]);
      if (gone.length + wanted.size > 0) await announce(tx, 'today', 'progress');
      return gone.length + wanted.size;
    }),
  );
}

function plannedRows(planned: WorkspacePlan): PlannedRow[] {
  return planned.plan.deliveries.map((d) => {
    const candidate = planned.candidates[d.recipient] as Candidate;
    const mailbox = planned.mailboxes[d.mailbox] as MailboxRow;
    return {
      enrolmentId: candidate.id,
      campaignId: candidate.campaignId,
      step: d.step,
      mailboxId: mailbox.id,
      day: d.day,
      instant: d.instant,
      units: planned.input.recipients.units[d.recipient] as number,
    };
  });
}

/** Asks for a new plan; the next duty makes it. */
export async function wantPlan(db: Queryable, nowMs: number): Promise<void> {
  await updateWorkspace(db, { planWantedAt: nowMs });
}

/** Plans again whenever somebody asked for it. */
export function replanDuty(store: Store): Duty {
  return {
    name: 're-plan',
    eventful: false,
    nextDue: async () => (await readWorkspace(store.db)).planWantedAt,
    run: async (nowMs) => ((await replan(store, nowMs)) === null ? 0 : 1),
  };
}
