import { isoDate, isoWeekday, type DateForm } from '@baton/core';
import type { PlanBoard, PlanCampaignRow, PlanMailboxRow } from '@baton/contract';
import type { ServerParts } from '../http/context';
import { limitShare, localDay, quotaOn, restsOn } from '../mailboxes/capacity';
import { mailboxNote } from '../mailboxes/mailbox-note';
import { listCampaigns, readCampaignMailboxes, readSteps } from '../store/campaigns/campaign-rows';
import { listMailboxes, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { campaignProgress, loadsFrom, unplannedPeople } from '../store/planning/plan-rows';
import { readWorkspace } from '../store/workspace-rows';
import { zones } from '../time/zones';
import { calendarPath } from './plan-calendar';
import { planWorkspace, sharersOf } from './plan-workspace';

/** Days before today's week that the board shows, and least and most days after today. */
const DAYS_BEFORE = 14;
const LEAST_DAYS_AHEAD = 190;
const MOST_DAYS_AHEAD = 380;
/** How many campaign colours there are. */
const COLOURS = 8;

/** Every mailbox by every day: as it was, as it is planned, and what it may. */
export async function viewBoard({ store, clock }: ServerParts): Promise<PlanBoard> {
  const { db } = store;
  const nowMs = await clock.now();
  const workspace = await readWorkspace(db);
  const today = zones.get(workspace.zone).toLocal(nowMs).day;
  const from = today - (isoWeekday(today) - 1) - DAYS_BEFORE;
  const [mailboxes, loads] = [await listMailboxes(db), await loadsFrom(db, from)];
  const last = loads.reduce((most, l) => Math.max(most, l.day), 0);
  const days = Math.min(Math.max(last + 8, today + LEAST_DAYS_AHEAD), today + MOST_DAYS_AHEAD) - from;
  const holidays = workspace.holidays.map((h) => h.day);
  return {
    today: isoDate(today),
    from: isoDate(from),
    days,
    mailboxes: mailboxes.map((m) =>
      mailboxRow(m, { nowMs, from, days, holidays, form: workspace.dateForm, sharers: sharersOf(m, mailboxes) }),
    ),
    campaigns: await campaignRows(db),
    loads: loads.map((l) => ({ ...l, day: isoDate(l.day) })),
    holidays: workspace.holidays,
    notPlaced: await whyUnplaced(db, nowMs),
    calendarPath: calendarPath(workspace.calendarKey),
  };
}

interface Range {
  nowMs: number;
  from: number;
  days: number;
  holidays: readonly string[];
  form: DateForm;
  sharers: number;
}

function mailboxRow(m: MailboxRow, { nowMs, from, days, holidays, form, sharers }: Range): PlanMailboxRow {
  const today = localDay(m, nowMs);
  const ceiling = (day: number): number | null => {
    const iso = isoDate(day);
    const closed =
      (m.windows[isoWeekday(day) - 1]?.length ?? 0) === 0 || m.daysOff.includes(iso) || holidays.includes(iso);
    const stopped = day >= today && (m.held || m.problem !== null || restsOn(m, day));
    return closed || stopped ? null : Math.min(quotaOn(m, day, today), limitShare(m, sharers) ?? Infinity);
  };
  return {
    id: m.id,
    address: m.address,
    senderName: m.senderName,
    dailyQuota: m.dailyQuota,
    paceSeconds: m.paceSeconds,
    windows: m.windows,
    ramps: quotaOn(m, today, today) < m.dailyQuota,
    note: mailboxNote(m, today, form),
    restUntil: restsOn(m, today) ? m.restUntil : null,
    ceilings: Array.from({ length: days }, (_, i) => ceiling(from + i)),
  };
}

async function campaignRows(db: ServerParts['store']['db']): Promise<PlanCampaignRow[]> {
  const campaigns = (await listCampaigns(db)).filter((c) => c.state !== 'draft');
  const ids = campaigns.map((c) => c.id);
  const steps = await readSteps(db, ids);
  const links = await readCampaignMailboxes(db, ids);
  const progress = new Map((await campaignProgress(db)).map((p) => [p.campaignId, p]));
  const day = (n: number | null | undefined) => (n == null ? null : isoDate(n));
  return campaigns.map((c) => {
    const p = progress.get(c.id);
    return {
      id: c.id,
      name: c.name,
      state: c.state as PlanCampaignRow['state'],
      colour: (c.id - 1) % COLOURS,
      startDate: c.startDate,
      hasBegun: (p?.sent ?? 0) > 0,
      delays: steps.filter((s) => s.campaignId === c.id).map((s) => s.delay),
      dailyLimit: c.dailyLimit,
      share: c.share,
      mailboxIds: links.filter((l) => l.campaignId === c.id).map((l) => l.mailboxId),
      lastStartDay: day(p?.lastStartDay),
      lastDay: day(p?.lastDay),
      sent: p?.sent ?? 0,
      replies: p?.replies ?? 0,
    };
  });
}

/** Only where somebody has no plan is it found out why. */
async function whyUnplaced(db: ServerParts['store']['db'], nowMs: number): Promise<PlanBoard['notPlaced']> {
  if ((await unplannedPeople(db)).length === 0) return [];
  const { plan, candidates } = await planWorkspace(db, nowMs);
  const counts = new Map<string, PlanBoard['notPlaced'][number]>();
  for (const { recipient, reason } of plan.notPlaced) {
    const campaignId = candidates[recipient]?.campaignId ?? 0;
    const key = `${campaignId} ${reason}`;
    const known = counts.get(key) ?? { campaignId, reason, people: 0 };
    counts.set(key, { ...known, people: known.people + 1 });
  }
  return [...counts.values()].sort((a, b) => b.people - a.people);
}
