import type { Ledger } from './ledger';
import { dayNumber } from '../time/days';
import { startBudget, type StartBudget } from './start-budget';

/** The days of one recipient's remaining messages, from one mailbox. */
export interface Placement {
  mailbox: number;
  /** Day number of `nextStep`, `nextStep` + 1, … */
  days: number[];
  late: number;
}

export interface Placer {
  /**
   * Finds days for all remaining messages of a recipient and takes them in the ledger.
   *
   * @param notBeforeDay nothing before this day number
   * @returns the placement, or the reason in words why there is none
   */
  place(recipient: number, notBeforeDay: number): Placement | string;
  remove(recipient: number, placement: Placement): void;
}

/**
 * Places people one at a time. A first message is put on the first day on which all its follow-ups fit
 * within their tolerance too, and not before the start curve allows, so that starts spread and later
 * follow-ups tile the days; each follow-up goes to the freest day its tolerance allows.
 */
export function createPlacer(ledger: Ledger): Placer {
  const { input } = ledger;
  const r = input.recipients;
  const budgets = new Map<number, StartBudget>();
  const budget = (mailbox: number, campaign: number): StartBudget => {
    let b = budgets.get(mailbox);
    if (!b) {
      b = startBudget(ledger, mailbox, input.campaigns[campaign]?.steps ?? []);
      budgets.set(mailbox, b);
    }
    return b;
  };

  const followUps = (
    recipient: number,
    mailbox: number,
    fromStep: number,
    previousDay: number,
    strict: boolean,
  ): { days: number[]; late: number } | null => {
    const steps = input.campaigns[r.campaign[recipient] as number]?.steps ?? [];
    const days: number[] = [];
    let late = 0;
    let previous = previousDay;
    for (let s = fromStep; s < steps.length; s++) {
      const step = steps[s] as { delay: number; tolerance: number };
      const from = step.delay === 0 ? previous : ledger.calendar.add(previous, step.delay);
      const to = ledger.calendar.add(previous, step.delay + step.tolerance);
      let day = freest(ledger, recipient, mailbox, from, to, days);
      if (day === null) {
        if (strict) return null;
        day = firstFit(ledger, recipient, mailbox, Math.max(from, to + 1), days);
        if (day === null) return null;
        late++;
      }
      days.push(day);
      previous = day;
    }
    return { days, late };
  };

  const start = (recipient: number, mailbox: number, from: number, strict: boolean): Placement | null => {
    const b = budget(mailbox, r.campaign[recipient] as number);
    const units = r.units[recipient] as number;
    for (let day = Math.max(from, ledger.firstDay(mailbox)); day <= ledger.lastDay(mailbox); day++) {
      if ((strict && !b.allows(day, units)) || !ledger.fits(recipient, mailbox, day)) continue;
      const rest = followUps(recipient, mailbox, 1, day, strict);
      if (rest) return { mailbox, days: [day, ...rest.days], late: rest.late };
    }
    return null;
  };

  const goOn = (recipient: number, mailbox: number, from: number): Placement | null => {
    const campaign = input.campaigns[r.campaign[recipient] as number];
    const step = campaign?.steps[r.nextStep[recipient] as number];
    if (!step) return null;
    const due = Math.max(from, r.dueDay[recipient] as number);
    const to = ledger.calendar.add(r.dueDay[recipient] as number, step.tolerance);
    const onTime = to >= due ? freest(ledger, recipient, mailbox, due, to, []) : null;
    const day = onTime ?? firstFit(ledger, recipient, mailbox, due, []);
    if (day === null) return null;
    const rest = followUps(recipient, mailbox, (r.nextStep[recipient] as number) + 1, day, false);
    return rest && { mailbox, days: [day, ...rest.days], late: rest.late + (onTime === null ? 1 : 0) };
  };

  return {
    place(recipient, notBeforeDay) {
      const campaign = input.campaigns[r.campaign[recipient] as number];
      if (!campaign || campaign.held) return 'the campaign is held';
      const bound = r.boundMailbox[recipient] as number;
      const candidates = bound >= 0 ? [bound] : campaign.mailboxes;
      const inProgress = (r.nextStep[recipient] as number) > 0;
      const from = Math.max(
        notBeforeDay,
        r.notBefore[recipient] as number,
        inProgress ? 0 : dayNumber(campaign.startDate),
      );
      const found =
        pick(
          ledger,
          candidates.map((m) => (inProgress ? goOn(recipient, m, from) : start(recipient, m, from, true))),
        ) ??
        (inProgress
          ? null
          : pick(
              ledger,
              candidates.map((m) => start(recipient, m, from, false)),
            ));
      if (!found) return whyNot(ledger, recipient, candidates);
      for (const day of found.days) ledger.put(recipient, found.mailbox, day);
      if (!inProgress) budget(found.mailbox, r.campaign[recipient] as number).spend(r.units[recipient] as number);
      return found;
    },
    remove(recipient, placement) {
      for (const day of placement.days) ledger.take(recipient, placement.mailbox, day);
      if ((r.nextStep[recipient] as number) === 0)
        budget(placement.mailbox, r.campaign[recipient] as number).spend(-(r.units[recipient] as number));
    },
  };
}

/** The day in [from, to] with the smallest share of its capacity used; the earlier of equals. */
function freest(
  ledger: Ledger,
  recipient: number,
  mailbox: number,
  from: number,
  to: number,
  own: number[],
): number | null {
  let best: number | null = null;
  let bestShare = Infinity;
  for (let day = from; day <= to; day++) {
    if (own.includes(day) || !ledger.fits(recipient, mailbox, day)) continue;
    const share = ledger.used(mailbox, day) / ledger.capacity(mailbox, day);
    if (share < bestShare) {
      best = day;
      bestShare = share;
    }
  }
  return best;
}

function firstFit(ledger: Ledger, recipient: number, mailbox: number, from: number, own: number[]): number | null {
  for (let day = Math.max(from, ledger.firstDay(mailbox)); day <= ledger.lastDay(mailbox); day++) {
    if (!own.includes(day) && ledger.fits(recipient, mailbox, day)) return day;
  }
  return null;
}

/** Fewest late follow-ups, then the earliest start, then the mailbox with most room on that day. */
function pick(ledger: Ledger, found: (Placement | null)[]): Placement | null {
  let best: Placement | null = null;
  for (const p of found) if (p && (!best || isBetter(ledger, p, best))) best = p;
  return best;
}

function isBetter(ledger: Ledger, a: Placement, b: Placement): boolean {
  if (a.late !== b.late) return a.late < b.late;
  const dayA = a.days[0] as number;
  const dayB = b.days[0] as number;
  if (dayA !== dayB) return dayA < dayB;
  return (
    ledger.used(a.mailbox, dayA) / ledger.capacity(a.mailbox, dayA) <
    ledger.used(b.mailbox, dayB) / ledger.capacity(b.mailbox, dayB)
  );
}

function whyNot(ledger: Ledger, recipient: number, candidates: number[]): string {
  if (candidates.length === 0) return 'the campaign has no mailbox';
  const { input } = ledger;
  if (candidates.every((m) => input.mailboxes[m]?.held)) return 'every mailbox of the campaign is held';
  const open = candidates.some((m) => daysOf(ledger, m).some((d) => ledger.capacity(m, d) > 0));
  if (!open) return 'no mailbox of the campaign may send on any day of the plan';
  const common = candidates.some((m) => daysOf(ledger, m).some((d) => ledger.openSpans(recipient, m, d).length > 0));
  if (!common) return 'the mailbox’s hours and the recipient’s hours never meet';
  return `there is no room within ${input.horizonDays} days`;
}

function daysOf(ledger: Ledger, mailbox: number): number[] {
  return Array.from({ length: ledger.input.horizonDays + 1 }, (_, i) => ledger.firstDay(mailbox) + i);
}
