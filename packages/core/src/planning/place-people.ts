import type { Ledger } from './ledger';
import { dayNumber } from '../time/days';
import type { PlanCampaign } from './plan-input';
import { startBudget, type StartBudget } from './start-budget';

/** The days of one recipient's remaining messages, from one mailbox. */
export interface Placement {
  mailbox: number;
  /** Day number of `nextStep`, `nextStep` + 1, … */
  days: number[];
  late: number;
}

type Step = PlanCampaign['steps'][number];

/**
 * Places people one at a time. A first message is put on the first day on which all its follow-ups fit
 * within their tolerance too, and not before the start curve allows, so that starts spread and later
 * follow-ups tile the days; each follow-up goes to the freest day its tolerance allows.
 */
export class Placer {
  private readonly budgets = new Map<number, StartBudget>();

  constructor(private readonly ledger: Ledger) {}

  /**
   * Finds days for all remaining messages of a recipient and takes them in the ledger.
   *
   * @param notBeforeDay nothing before this day number
   * @returns the placement, or the reason in words why there is none
   */
  place(recipient: number, notBeforeDay: number): Placement | string {
    const r = this.ledger.input.recipients;
    const campaign = this.campaignOf(recipient);
    if (!campaign || campaign.held) return 'the campaign is held';
    const bound = r.boundMailbox[recipient] as number;
    const candidates = bound >= 0 ? [bound] : campaign.mailboxes;
    const inProgress = (r.nextStep[recipient] as number) > 0;
    const earliest = inProgress ? 0 : dayNumber(campaign.startDate);
    const from = Math.max(notBeforeDay, r.notBefore[recipient] as number, earliest);
    const best = (find: (mailbox: number) => Placement | null) => pick(this.ledger, candidates.map(find));
    const found = inProgress
      ? best((m) => this.goOn(recipient, m, from))
      : (best((m) => this.start(recipient, m, from, true)) ?? best((m) => this.start(recipient, m, from, false)));
    if (!found) return whyNot(this.ledger, recipient, candidates);
    for (const day of found.days) this.ledger.put(recipient, found.mailbox, day);
    if (!inProgress) this.budget(found.mailbox, campaign).spend(r.units[recipient] as number);
    return found;
  }

  /** Gives back what {@link place} took. */
  remove(recipient: number, placement: Placement): void {
    const r = this.ledger.input.recipients;
    const campaign = this.campaignOf(recipient);
    for (const day of placement.days) this.ledger.take(recipient, placement.mailbox, day);
    if (campaign && (r.nextStep[recipient] as number) === 0)
      this.budget(placement.mailbox, campaign).spend(-(r.units[recipient] as number));
  }

  private campaignOf(recipient: number): PlanCampaign | undefined {
    const { input } = this.ledger;
    return input.campaigns[input.recipients.campaign[recipient] as number];
  }

  private budget(mailbox: number, campaign: PlanCampaign): StartBudget {
    let budget = this.budgets.get(mailbox);
    if (!budget) {
      budget = startBudget(this.ledger, mailbox, campaign.steps);
      this.budgets.set(mailbox, budget);
    }
    return budget;
  }

  /** Days for the steps after one that is on `previousDay`; `strict`: null rather than late. */
  private followUps(
    recipient: number,
    mailbox: number,
    steps: readonly Step[],
    previousDay: number,
    strict: boolean,
  ): { days: number[]; late: number } | null {
    const { ledger } = this;
    const days: number[] = [];
    let late = 0;
    let previous = previousDay;
    for (const step of steps) {
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
  }

  private start(recipient: number, mailbox: number, from: number, strict: boolean): Placement | null {
    const { ledger } = this;
    const campaign = this.campaignOf(recipient) as PlanCampaign;
    const budget = this.budget(mailbox, campaign);
    const units = ledger.input.recipients.units[recipient] as number;
    for (let day = Math.max(from, ledger.firstDay(mailbox)); day <= ledger.lastDay(mailbox); day++) {
      if ((strict && !budget.allows(day, units)) || !ledger.fits(recipient, mailbox, day)) continue;
      const rest = this.followUps(recipient, mailbox, campaign.steps.slice(1), day, strict);
      if (rest) return { mailbox, days: [day, ...rest.days], late: rest.late };
    }
    return null;
  }

  private goOn(recipient: number, mailbox: number, from: number): Placement | null {
    const { ledger } = this;
    const r = ledger.input.recipients;
    const steps = (this.campaignOf(recipient) as PlanCampaign).steps.slice(r.nextStep[recipient] as number);
    const step = steps[0];
    if (!step) return null;
    const due = Math.max(from, r.dueDay[recipient] as number);
    const to = ledger.calendar.add(r.dueDay[recipient] as number, step.tolerance);
    const onTime = to >= due ? freest(ledger, recipient, mailbox, due, to, []) : null;
    const day = onTime ?? firstFit(ledger, recipient, mailbox, due, []);
    if (day === null) return null;
    const rest = this.followUps(recipient, mailbox, steps.slice(1), day, false);
    return rest && { mailbox, days: [day, ...rest.days], late: rest.late + (onTime === null ? 1 : 0) };
  }
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
