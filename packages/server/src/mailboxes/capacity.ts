import { isoDate, rampQuota, workingCalendar, type PlanMailbox, type WorkingCalendar } from '@baton/core';
import type { MailboxRow } from '../store/mailbox-rows';
import { zones } from '../time/zones';

/** Working days of the workspace: Monday to Friday. */
export const WORKING_WEEK = { weekdays: [1, 2, 3, 4, 5], holidays: [] as string[] };
export const workingDays: WorkingCalendar = workingCalendar(WORKING_WEEK.weekdays, WORKING_WEEK.holidays);

/** The mailbox's local day number at an instant. */
export function localDay(mailbox: Pick<MailboxRow, 'zone'>, instantMs: number): number {
  return zones.get(mailbox.zone).toLocal(instantMs).day;
}

/** Units the mailbox may send on a local day, its ramp counted, before any rest or hold. */
export function quotaOn(mailbox: Pick<MailboxRow, 'dailyQuota' | 'ramp'>, day: number): number {
  return mailbox.ramp
    ? rampQuota(mailbox.dailyQuota, mailbox.ramp, Math.max(0, workingDays.between(mailbox.ramp.day, day)))
    : mailbox.dailyQuota;
}

/** Whether Baton lets the mailbox rest on this local day. */
export function restsOn(mailbox: Pick<MailboxRow, 'restUntil'>, day: number): boolean {
  return mailbox.restUntil !== null && isoDate(day) < mailbox.restUntil;
}

/** The mailbox as the planner takes it. */
export function planMailbox(mailbox: MailboxRow, alreadyUsed: PlanMailbox['alreadyUsed']): PlanMailbox {
  return {
    zone: mailbox.zone,
    windows: mailbox.windows,
    capacity: { quota: mailbox.dailyQuota, ramp: mailbox.ramp },
    daysOff: [],
    paceSeconds: mailbox.paceSeconds,
    providerLimit24h: mailbox.providerLimit24h,
    alreadyUsed,
    restUntil: mailbox.restUntil,
    held: mailbox.held || mailbox.problem !== null,
  };
}
