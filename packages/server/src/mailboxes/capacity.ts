import { isoDate, rampQuota, workingCalendar, type PlanMailbox, type WorkingCalendar } from '@baton/core';
import type { MailboxRow } from '../store/mailboxes/mailbox-rows';
import { zones } from '../time/zones';

/** Working days of the workspace: Monday to Friday. */
export const WORKING_WEEKDAYS: readonly number[] = [1, 2, 3, 4, 5];
export const workingDays: WorkingCalendar = workingCalendar(WORKING_WEEKDAYS, []);

/** Working days of a workspace with its holidays. */
export const calendarOf = ({ holidays }: { holidays: readonly { day: string }[] }): WorkingCalendar =>
  workingCalendar(
    WORKING_WEEKDAYS,
    holidays.map((h) => h.day),
  );

/** The mailbox's local day number at an instant. */
export function localDay(mailbox: Pick<MailboxRow, 'zone'>, instantMs: number): number {
  return zones.get(mailbox.zone).toLocal(instantMs).day;
}

type Rising = Pick<MailboxRow, 'dailyQuota' | 'ramp' | 'sentDays'>;

/**
 * Units the mailbox may send on a local day, before any rest or hold. On a ramp only days on which it really sent
 * count; of days to come it is taken to send on every working day.
 *
 * @param today the mailbox's local day number now
 */
export function quotaOn(mailbox: Rising, day: number, today: number): number {
  const { dailyQuota, ramp, sentDays } = mailbox;
  if (!ramp) return dailyQuota;
  const climbed =
    day < today
      ? sentDays.filter((d) => d < day).length - (ramp.back ?? 0)
      : workingDays.between(rampStart(mailbox, today), day);
  return rampQuota(dailyQuota, ramp, Math.max(0, climbed));
}

/** Days that a ramp has climbed before a day, those taken back not counted. */
export function climbedDays({ ramp, sentDays }: Rising, day: number): number {
  return Math.max(0, sentDays.filter((d) => d < day).length - (ramp?.back ?? 0));
}

/** The day on which the ramp would have begun, had it climbed on every working day since. */
function rampStart(mailbox: Rising, today: number): number {
  const next = workingDays.isWorking(today) ? today : workingDays.add(today, 1);
  return workingDays.add(next, -climbedDays(mailbox, today));
}

/** Whether Baton lets the mailbox rest on this local day. */
export function restsOn(mailbox: Pick<MailboxRow, 'restUntil'>, day: number): boolean {
  return mailbox.restUntil !== null && isoDate(day) < mailbox.restUntil;
}

/** A mailbox's part of its provider's limit, which all addresses of one connection share; null for none. */
export function limitShare({ providerLimit24h }: Pick<MailboxRow, 'providerLimit24h'>, sharers: number): number | null {
  return providerLimit24h === null ? null : Math.max(1, Math.floor(providerLimit24h / Math.max(1, sharers)));
}

/**
 * The mailbox as the planner takes it.
 *
 * `holidays` are ISO dates on which no mailbox sends; `sharers` counts the mailboxes of its connection.
 */
export function planMailbox(
  mailbox: MailboxRow,
  {
    alreadyUsed,
    holidays,
    nowMs,
    sharers,
  }: Pick<PlanMailbox, 'alreadyUsed'> & { holidays: readonly string[]; nowMs: number; sharers: number },
): PlanMailbox {
  const { ramp } = mailbox;
  return {
    zone: mailbox.zone,
    windows: mailbox.windows,
    capacity: {
      quota: mailbox.dailyQuota,
      ramp: ramp && {
        ...{ first: ramp.first, add: ramp.add, every: ramp.every },
        day: rampStart(mailbox, localDay(mailbox, nowMs)),
      },
    },
    daysOff: [...mailbox.daysOff, ...holidays],
    paceSeconds: mailbox.paceSeconds,
    providerLimit24h: limitShare(mailbox, sharers),
    alreadyUsed,
    restUntil: mailbox.restUntil,
    held: mailbox.held || mailbox.problem !== null,
  };
}
