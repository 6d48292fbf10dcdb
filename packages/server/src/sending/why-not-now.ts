import { createZones, DAY_MS, isInside, isoWeekday, spansOfDay } from '@baton/core';
import type { Queryable } from '../store/database';
import { readEnrolment, readSteps, type CampaignRow, type EnrolmentRow } from '../store/campaign-rows';
import { sentByDay, type DeliveryRow } from '../store/delivery-rows';
import { usedOnDay, usesSince, type MailboxRow } from '../store/mailbox-rows';
import { readWorkspace } from '../store/workspace-rows';
import { quotaOn, restsOn, workingDays } from '../mailboxes/capacity';

/** A delivery whose time has come, with all that decides whether it may leave. */
export interface Due {
  mailbox: MailboxRow;
  delivery: DeliveryRow;
  campaign: CampaignRow;
  nowMs: number;
  /** The mailbox's local day. */
  day: number;
}

/** The mailbox's, the campaign's and the clock's reasons against sending now, in words; null when there is none. */
export async function whyNotNow(tx: Queryable, due: Due): Promise<string | null> {
  return whyNotFromHere(due) ?? (await whyNotSoMuch(tx, due)) ?? (await whyNotToThem(tx, due));
}

function whyNotFromHere({ mailbox, nowMs, day }: Due): string | null {
  if (restsOn(mailbox, day)) return 'the mailbox rests';
  const window = spansOfDay(mailbox.windows, day, createZones().get(mailbox.zone));
  return isInside(window, nowMs) ? null : 'outside the mailbox’s window';
}

async function whyNotSoMuch(tx: Queryable, { mailbox, delivery, campaign, nowMs, day }: Due): Promise<string | null> {
  const used = await usedOnDay(tx, mailbox.id, day);
  if (used.units + delivery.units > quotaOn(mailbox, day)) return 'the mailbox’s quota for the day is used up';
  if (mailbox.providerLimit24h !== null) {
    const last24h = (await usesSince(tx, mailbox.id, nowMs - DAY_MS)).reduce((sum, u) => sum + u.units, 0);
    if (last24h + delivery.units > mailbox.providerLimit24h) return 'the provider’s limit in 24 hours is used up';
  }
  if (campaign.dailyLimit === null) return null;
  const sent = (await sentByDay(tx, [campaign.id], day)).find((d) => d.day === day)?.messages ?? 0;
  return sent >= campaign.dailyLimit ? 'the campaign’s limit for the day is used up' : null;
}

async function whyNotToThem(tx: Queryable, { delivery, campaign, nowMs, day }: Due): Promise<string | null> {
  const enrolment = await readEnrolment(tx, delivery.enrolmentId);
  const zone = campaign.windowZone === 'recipient' ? enrolment?.zone : null;
  const local = createZones()
    .get(zone ?? (await readWorkspace(tx)).zone)
    .toLocal(nowMs);
  const { weekdays, from, to } = campaign.window;
  if (!weekdays.includes(isoWeekday(local.day)) || local.minute < from || local.minute >= to)
    return 'outside the hours in which the recipient is written to';
  if (enrolment?.notBefore != null && day < enrolment.notBefore) return 'the recipient is away';
  return enrolment !== null && (await isTooSoon(tx, delivery, enrolment, day))
    ? 'too soon after the previous message'
    : null;
}

async function isTooSoon(tx: Queryable, delivery: DeliveryRow, enrolment: EnrolmentRow, day: number): Promise<boolean> {
  if (delivery.step === 0 || enrolment.lastSentDay === null) return false;
  const step = (await readSteps(tx, [delivery.campaignId]))[delivery.step];
  return workingDays.between(enrolment.lastSentDay, day) < (step?.delay ?? 0);
}
