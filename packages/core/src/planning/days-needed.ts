import { isoWeekday } from '../time/days';
import { DAY_MS } from '../time/clock';
import type { PlanInput, PlanMailbox } from './plan-input';

/** Days beside the work itself: delays, the slower end of a plan, holidays. */
const MORE_DAYS = 60;

/**
 * A guess of how many days ahead a plan has to look: until the mailboxes have taken half as much again as
 * there is to send, after the last date that anybody waits for, and a while longer.
 */
export function daysNeeded(input: PlanInput): number {
  const today = Math.floor(input.now / DAY_MS);
  const { recipients: r, campaigns, mailboxes } = input;
  let work = 0;
  let last = today;
  for (let p = 0; p < r.count; p++) {
    work += r.units[p]! * (campaigns[r.campaign[p]!]!.steps.length - r.nextStep[p]!);
    last = Math.max(last, r.notBefore[p]!, r.dueDay[p]!);
  }
  for (const c of campaigns) {
    last = Math.max(last, Math.floor(Date.parse(`${c.startDate}T00:00:00Z`) / DAY_MS) || 0);
    last += c.steps.reduce((sum, s) => Math.max(sum, s.delay + s.tolerance), 0);
  }
  let i = 0;
  for (let room = 0; room < 1.5 * work && i < input.horizonDays; i++)
    for (const m of mailboxes) room += quotaOn(m, today + i, i);
  return Math.max(i, last - today) + MORE_DAYS;
}

/** What a mailbox may send on a day, as far as windows and quota go. */
function quotaOn({ windows, capacity, held }: PlanMailbox, day: number, ahead: number): number {
  if (held || (windows[isoWeekday(day) - 1]?.length ?? 0) === 0) return 0;
  if ('days' in capacity) return capacity.days[Math.min(ahead, capacity.days.length - 1)] ?? 0;
  const { quota, ramp } = capacity;
  // A ramp in calendar days at five sevenths of its speed: near enough for a guess.
  return ramp
    ? Math.min(quota, Math.max(0, ramp.first + ramp.add * Math.floor(((day - ramp.day) * 5) / 7 / ramp.every)))
    : quota;
}
