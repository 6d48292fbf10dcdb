import { campaignStands, clockWords, dayWords, isMailboxStop, isoDate, type CampaignStanding } from '@baton/core';
import { localDay, quotaOn } from '../mailboxes/capacity';
import { whyMailboxStops } from '../sending/why-not-now';
import type { CampaignRow } from '../store/campaigns/campaign-rows';
import { standingOf } from '../store/campaigns/standing-rows';
import type { Queryable } from '../store/database';
import { listMailboxes, usedOnDay, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import type { WorkspaceRow } from '../store/workspace-rows';
import { zones } from '../time/zones';

/** Why messages of a campaign leave or do not, in sentences; [] for one that is not under way. */
export async function viewStanding(
  db: Queryable,
  campaign: CampaignRow,
  { mailboxIds, workspace, nowMs }: { mailboxIds: readonly number[]; workspace: WorkspaceRow; nowMs: number },
): Promise<string[]> {
  if (campaign.state !== 'running' && campaign.state !== 'held') return [];
  const mailboxes = (await listMailboxes(db)).filter((m) => mailboxIds.includes(m.id));
  const today = zones.get(workspace.zone).toLocal(nowMs).day;
  const { nextAt, nextMailbox, people, heldMessages, sentToday } = await standingOf(db, campaign.id, today);
  const stops: CampaignStanding['stops'][number][] = [];
  for (const m of mailboxes) {
    const stop = await stopOf(db, m, workspace, nowMs);
    if (stop) stops.push(stop);
  }
  const { dailyLimit, firstGroup, groupByHand } = campaign;
  const standing = campaignStands({
    ...{ heldAll: workspace.heldAll, isHeld: campaign.state === 'held', people, heldMessages, stops },
    mailboxes: mailboxes.length,
    next: nextAt === null ? null : { when: momentWords(nextAt, workspace), mailbox: nextMailbox ?? '' },
    limit: dailyLimit !== null && sentToday >= dailyLimit ? dailyLimit : null,
    othersWait: firstGroup !== null && groupByHand && campaign.recipients > firstGroup,
  });
  return [...standing, ...campaign.variantsStopped];
}

async function stopOf(
  db: Queryable,
  m: MailboxRow,
  { holidays, dateForm }: WorkspaceRow,
  nowMs: number,
): Promise<CampaignStanding['stops'][number] | null> {
  const stop = { mailbox: m.address, until: '' };
  if (m.problem !== null) return { ...stop, why: 'signed_out' };
  if (m.held) return { ...stop, why: 'held' };
  const day = localDay(m, nowMs);
  const why = whyMailboxStops(m, { nowMs, day, holidays: holidays.map((h) => h.day) });
  if (why && isMailboxStop(why.code)) {
    const until = why.code === 'mailbox_rests' && m.restUntil !== null ? dayWords(m.restUntil, 'short', dateForm) : '';
    return { ...stop, until, why: why.code };
  }
  return (await usedOnDay(db, m.id, day)).units >= quotaOn(m, day, day) ? { ...stop, why: 'quota' } : null;
}

function momentWords(instant: number, { zone, dateForm }: WorkspaceRow): string {
  const { day, minute } = zones.get(zone).toLocal(instant);
  return `on ${dayWords(isoDate(day), 'short', dateForm)} at ${clockWords(Math.floor(minute))}`;
}
