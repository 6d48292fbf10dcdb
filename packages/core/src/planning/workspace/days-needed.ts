import { isoWeekday } from '../../time/days';
import { DAY_MS } from '../../time/clock';
import { mostOfAnyDay } from './mailbox-days';
import type { PlanInput, PlanMailbox } from './plan-input';

/** Days in addition to the work itself: delays, the slow end of a plan, holidays. */
const MORE_DAYS = 60;

/** The capacity needed, as a multiple of what there is to send. */
const SPARE = 1.5;

/**
 * Estimates how many days a plan needs: until the capacity of all mailboxes, and of those of each campaign for what only
 * they may send, is half as much again as there is to send; past the last date that anybody waits for; and some more.
 */
export function daysNeeded(input: PlanInput): number {
  const today = Math.floor(input.now / DAY_MS);
  const { campaigns, mailboxes } = input;
  const { work, bound, latest } = workOf(input);
  let last = Math.max(today, latest);
  for (const c of campaigns) {
    last = Math.max(last, Math.floor(Date.parse(`${c.startDate}T00:00:00Z`) / DAY_MS) || 0);
    last += c.steps.reduce((sum, s) => Math.max(sum, s.delay + s.tolerance), 0);
  }
  const sets = setsOf(campaigns, mailboxes.length).filter((set) =>
    set.some((m) => mailboxes[m] && mostOfAnyDay(mailboxes[m]) > 0),
  );
  // What each set has to send: for its campaigns, for campaigns that may use some of them only, for people bound to one.
  const left = sets.map((set) => {
    const own = new Set(set);
    const isWithin = campaigns.map((c) => !c.held && c.mailboxes.every((m) => own.has(m)));
    const units = work.reduce((sum, of, c) => sum + (isWithin[c] ? of : 0), 0);
    return SPARE * set.reduce((sum, m) => sum + (bound[m] ?? 0), units);
  });
  let i = 0;
  for (; i < input.horizonDays && left.some((units) => units > 0); i++) {
    const quotas = mailboxes.map((m) => quotaOn(m, today + i, i));
    sets.forEach((set, at) => {
      for (const m of set) left[at]! -= quotas[m] ?? 0;
    });
  }
  return Math.max(i, last - today) + MORE_DAYS;
}

/** Units to send of each campaign, and of those bound to each mailbox; and the last day that anybody waits for. */
function workOf({ recipients: r, campaigns, mailboxes }: PlanInput) {
  const work = campaigns.map(() => 0);
  const bound = mailboxes.map(() => 0);
  const steps = campaigns.map((c) => c.steps.length);
  let latest = -1;
  for (let p = 0; p < r.count; p++) {
    const c = r.campaign[p]!;
    const units = r.units[p]! * (steps[c]! - r.nextStep[p]!);
    const own = r.boundMailbox[p]!;
    if (own < 0) work[c]! += units;
    else bound[own]! += units;
    latest = Math.max(latest, r.notBefore[p]!, r.dueDay[p]!, r.at ? Math.ceil(r.at[p]! / DAY_MS) : -1);
  }
  return { work, bound, latest };
}

/** The distinct sets of mailboxes that campaigns may use, and the set of all. */
function setsOf(campaigns: PlanInput['campaigns'], mailboxes: number): (readonly number[])[] {
  const all = Array.from({ length: mailboxes }, (_, m) => m);
  const sets = [all, ...campaigns.filter((c) => !c.held).map((c) => c.mailboxes.toSorted((a, b) => a - b))];
  return [...new Map(sets.map((set) => [set.join(), set])).values()];
}

/** What a mailbox may send on a day by windows and quota. */
function quotaOn({ windows, capacity, held }: PlanMailbox, day: number, ahead: number): number {
  if (held || (windows[isoWeekday(day) - 1]?.length ?? 0) === 0) return 0;
  if ('days' in capacity) return capacity.days[Math.min(ahead, capacity.days.length - 1)] ?? 0;
  const { quota, ramp } = capacity;
  // A ramp in calendar days at five sevenths of its speed: close enough for an estimate.
  return ramp
    ? Math.min(quota, Math.max(0, ramp.first + ramp.add * Math.floor(((day - ramp.day) * 5) / 7 / ramp.every)))
    : quota;
}
