import {
  endInstant,
  isInside,
  isoDate,
  isoWeekday,
  leftOutReason,
  spansOfDay,
  type LeftOutReason,
  type NextMessage,
} from '@baton/core';
import { clockOf } from '../campaigns/first-message-time';
import { quotaOn, restsOn } from '../mailboxes/capacity';
import type { MailboxRow } from '../store/mailboxes/mailbox-rows';
import type { DueDelivery } from '../store/sending/sending-rows';
import { zones } from '../time/zones';

/** What is about to leave, from where and when. */
export interface Due {
  mailbox: MailboxRow;
  delivery: DueDelivery;
  /** The recipient's next message, which this is. */
  next: NextMessage;
  nowMs: number;
  /** The mailbox's local day. */
  day: number;
}

/** The mailbox's, the campaign's and the clock's reasons against sending now; null when there is none. All pass. */
export function whyNotNow(due: Due): LeftOutReason | null {
  return whyEnded(due) ?? whyNotFromHere(due) ?? whyNotSoMuch(due) ?? whyNotToThem(due);
}

function whyEnded({ delivery: { campaign, workspace }, nowMs }: Due): LeftOutReason | null {
  const end = endInstant(campaign, zones.get(workspace.zone));
  return end !== null && nowMs >= end ? leftOutReason('ended') : null;
}

const whyNotFromHere = ({ mailbox, delivery, nowMs, day }: Due): LeftOutReason | null =>
  whyMailboxStops(mailbox, { nowMs, day, holidays: delivery.workspace.holidays });

/** A mailbox's own reasons against sending at a moment, whatever is due; null when there is none. */
export function whyMailboxStops(
  mailbox: MailboxRow,
  { nowMs, day, holidays }: { nowMs: number; day: number; holidays: readonly string[] },
): LeftOutReason | null {
  if (restsOn(mailbox, day)) return leftOutReason('mailbox_rests');
  if (mailbox.daysOff.includes(isoDate(day)) || holidays.includes(isoDate(day))) return leftOutReason('day_off');
  const window = spansOfDay(mailbox.windows, day, zones.get(mailbox.zone));
  return isInside(window, nowMs) ? null : leftOutReason('mailbox_hours');
}

function whyNotSoMuch({ mailbox, delivery, day }: Due): LeftOutReason | null {
  const { units, campaign } = delivery;
  if (delivery.usedToday + units > quotaOn(mailbox, day, day)) return leftOutReason('quota');
  if (mailbox.providerLimit24h !== null && delivery.usedIn24h + units > mailbox.providerLimit24h)
    return leftOutReason('provider_limit');
  return campaign.dailyLimit !== null && delivery.campaignToday >= campaign.dailyLimit
    ? leftOutReason('campaign_limit')
    : null;
}

function whyNotToThem({ delivery, next, nowMs, day }: Due): LeftOutReason | null {
  const { person, campaign, workspace } = delivery;
  // A person has looked at the hour and at what has gone before.
  if (delivery.isUrgent) return null;
  const clock = clockOf(campaign, person, workspace.zone);
  const local = clock.toLocal(nowMs);
  const { weekdays, ...hours } = campaign.window;
  const own = delivery.steps[next.step]?.hours ?? hours;
  const [from, to] = [Math.max(hours.from, own.from), Math.min(hours.to, own.to)];
  if (!weekdays.includes(isoWeekday(local.day)) || local.minute < from || local.minute >= to)
    return leftOutReason('recipient_hours');
  const { notBefore, sendMinute, sent } = person;
  if (notBefore !== null && sendMinute !== null && sent === 0)
    return nowMs < clock.toInstant(notBefore, sendMinute) ? leftOutReason('own_time') : null;
  if (notBefore !== null && day < notBefore) return leftOutReason('not_before');
  return next.dueDay !== null && day < next.dueDay ? leftOutReason('too_soon') : null;
}
