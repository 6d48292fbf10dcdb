import { isInside, isoDate, isoWeekday, spansOfDay } from '@baton/core';
import { quotaOn, restsOn, workingDays } from '../mailboxes/capacity';
import type { MailboxRow } from '../store/mailbox-rows';
import type { DueDelivery } from '../store/sending-rows';
import { zones } from '../time/zones';

/** What is about to leave, from where and when. */
export interface Due {
  mailbox: MailboxRow;
  delivery: DueDelivery;
  nowMs: number;
  /** The mailbox's local day. */
  day: number;
}

/** The mailbox's, the campaign's and the clock's reasons against sending now, in words; null when there is none. */
export function whyNotNow(due: Due): string | null {
  return whyNotFromHere(due) ?? whyNotSoMuch(due) ?? whyNotToThem(due);
}

function whyNotFromHere({ mailbox, delivery, nowMs, day }: Due): string | null {
  if (restsOn(mailbox, day)) return 'the mailbox rests';
  if (mailbox.daysOff.includes(isoDate(day)) || delivery.workspace.holidays.includes(isoDate(day)))
    return 'the mailbox has a day off';
  const window = spansOfDay(mailbox.windows, day, zones.get(mailbox.zone));
  return isInside(window, nowMs) ? null : 'outside the mailbox’s window';
}

function whyNotSoMuch({ mailbox, delivery, day }: Due): string | null {
  const { units, campaign } = delivery;
  if (delivery.usedToday + units > quotaOn(mailbox, day, day)) return 'the mailbox’s quota for the day is used up';
  if (mailbox.providerLimit24h !== null && delivery.usedIn24h + units > mailbox.providerLimit24h)
    return 'the provider’s limit in 24 hours is used up';
  return campaign.dailyLimit !== null && delivery.campaignToday >= campaign.dailyLimit
    ? 'the campaign’s limit for the day is used up'
    : null;
}

function whyNotToThem({ delivery, nowMs, day }: Due): string | null {
  const { person, campaign, message, workspace } = delivery;
  const zone = (campaign.windowZone === 'recipient' ? person.zone : null) ?? workspace.zone;
  const local = zones.get(zone).toLocal(nowMs);
  const { weekdays, from, to } = campaign.window;
  if (!weekdays.includes(isoWeekday(local.day)) || local.minute < from || local.minute >= to)
    return 'outside the hours in which the recipient is written to';
  if (person.notBefore !== null && day < person.notBefore)
    return 'the recipient is away, or is not to be written to before a later date';
  const tooSoon =
    delivery.step > 0 && person.lastSentDay !== null && workingDays.between(person.lastSentDay, day) < message.delay;
  return tooSoon ? 'too soon after the previous message' : null;
}
