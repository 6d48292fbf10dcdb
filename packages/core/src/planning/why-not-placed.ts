import type { Placements } from './placements';
import type { PlanInput } from './plan-input';

/** Says in words why a person has no place in the plan. */
export class WhyNotPlaced {
  private readonly known = new Map<number, string>();

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

  /** A reason that no longer look ahead would change, or null. */
  forGood(p: number): string | null {
    const { people } = this.placements.book;
    if (this.input.campaigns[people.campaign[p]!]!.held) return 'the campaign is held';
    if (people.nextStep[p]! >= this.input.campaigns[people.campaign[p]!]!.steps.length)
      return 'the campaign has no message left for them';
    const mailboxes = this.placements.mailboxes(p);
    if (mailboxes.length === 0) return 'the campaign has no mailbox';
    if (mailboxes.every((m) => this.input.mailboxes[m]!.held)) return 'every mailbox of the campaign is held';
    return null;
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
    if (!some((m, i) => book.open.capacity[m * days.count + i]! >= people.units[p]!))
      return `one message goes to ${people.units[p]} addresses, and no mailbox may send to so many on a day`;
    if (people.hourClass[p] !== 0 && !some((m, i) => book.meets(people.hourClass[p]!, m, i)))
      return 'the mailbox’s hours and the recipient’s hours never meet';
    return `there is no room within ${this.input.horizonDays} days`;
  }
}
