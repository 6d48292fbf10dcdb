import { MailboxDays, mostOfAnyDay, type HourClass } from '../workspace/mailbox-days';
import type { Placements } from '../placements/placements';
import { PlanDays } from '../workspace/plan-days';
import type { PlanInput, PlanMailbox } from '../workspace/plan-input';

/** Days that include every change of the clocks. */
const YEAR = 366;

/** Says in words why a person has no place in the plan. */
export class WhyNotPlaced {
  private readonly known = new Map<number, string>();
  private readonly never = new Map<number, string | null>();
  private far: MailboxDays | null = null;

  constructor(
    private readonly input: PlanInput,
    private readonly placements: Placements,
  ) {}

  reason(p: number): string {
    const forGood = this.forGood(p);
    if (forGood !== null) return forGood;
    const kind = this.placements.book.people.kind[p]!;
    const reason = this.known.get(kind) ?? this.find(p);
    this.known.set(kind, reason);
    return reason;
  }

  /** A reason that looking further ahead would not change, or null. */
  forGood(p: number): string | null {
    const { people } = this.placements.book;
    if (this.input.campaigns[people.campaign[p]!]!.held) return 'the campaign is held';
    if (people.nextStep[p]! >= this.input.campaigns[people.campaign[p]!]!.steps.length)
      return 'the campaign has no message left for them';
    const kind = people.kind[p]!;
    let never = this.never.get(kind);
    if (never === undefined) this.never.set(kind, (never = this.findNever(p)));
    return never;
  }

  /** Reasons in mailboxes and hours that hold on every day. */
  private findNever(p: number): string | null {
    const { people } = this.placements.book;
    const mailboxes = this.placements.mailboxes(p);
    if (mailboxes.length === 0) return 'the campaign has no mailbox';
    if (mailboxes.every((m) => this.input.mailboxes[m]!.held)) return 'every mailbox of the campaign is held';
    const most = mailboxes.reduce((units, m) => Math.max(units, mostOfAnyDay(this.input.mailboxes[m]!)), 0);
    if (most === 0) return 'no mailbox of the campaign may send on any day of the plan';
    if (most < people.units[p]!) return tooMany(people.units[p]!);
    return this.everMeets(people.hourClass[p]!, mailboxes) ? null : NEVER_MEET;
  }

  private everMeets(hourClass: number, mailboxes: readonly number[]): boolean {
    if (hourClass === 0) return true;
    const year = (this.far ??= yearOf(this.input, this.placements.book.people.hours));
    const weeks = new Map(mailboxes.map((m) => [weekOf(this.input.mailboxes[m]!), m]));
    for (const m of weeks.values())
      for (let i = 0; i < year.days.count; i++) if (year.open(m, i, hourClass).length > 0) return true;
    return false;
  }

  private find(p: number): string {
    const { book, days } = this.placements;
    const { people } = book;
    const mailboxes = this.placements.mailboxes(p);
    const some = (test: (m: number, i: number) => boolean) => {
      for (const m of mailboxes) for (let i = 0; i < days.count; i++) if (test(m, i)) return true;
      return false;
    };
    if (!some((m, i) => book.open.capacity[m * days.count + i]! > 0))
      return 'no mailbox of the campaign may send on any day of the plan';
    if (!some((m, i) => book.open.capacity[m * days.count + i]! >= people.units[p]!)) return tooMany(people.units[p]!);
    if (people.hourClass[p] !== 0 && !some((m, i) => book.meets(people.hourClass[p]!, m, i))) return NEVER_MEET;
    return `there is no room within ${this.input.horizonDays} days`;
  }
}

const NEVER_MEET = 'the mailbox’s hours and the recipient’s hours never meet';

const tooMany = (units: number): string =>
  `one message goes to ${units} addresses, and no mailbox may send to so many on a day`;

/** A key equal for mailboxes with the same hours. */
const weekOf = ({ zone, windows, held }: PlanMailbox): string => JSON.stringify([zone, windows, held]);

/** A year of the mailboxes' weeks, whatever rests and days off there are. */
function yearOf(input: PlanInput, hours: readonly (HourClass | null)[]): MailboxDays {
  const mailboxes = input.mailboxes.map((m) => ({ ...m, restUntil: null, daysOff: [], alreadyUsed: [] }));
  const year: PlanInput = { ...input, mailboxes, horizonDays: YEAR };
  return new MailboxDays(year, new PlanDays(year), hours);
}
