import { Book } from './book';
import { MailboxDays } from '../workspace/mailbox-days';
import { readPeople } from './people';
import { PlanDays } from '../workspace/plan-days';
import type { PlanCampaign, PlanInput } from '../workspace/plan-input';

/** The placements of a workspace in which nobody is placed yet. */
export function noPlacements(input: PlanInput): Placements {
  const days = new PlanDays(input);
  const people = readPeople(input, days);
  return new Placements(new Book(input, new MailboxDays(input, days, people.hours), people), days, input.campaigns);
}

/** Where each person's remaining messages are: one mailbox, and a day for each step. */
export class Placements {
  /** -1 while the person is not placed. */
  readonly mailbox: Int32Array;
  /** Day index of step s of person p at p * width + s. */
  readonly day: Int32Array;
  readonly width: number;
  /** Scratch space for the days of one person during a search. */
  readonly scratch: Int32Array;

  constructor(
    readonly book: Book,
    readonly days: PlanDays,
    readonly campaigns: readonly PlanCampaign[],
  ) {
    this.width = campaigns.reduce((most, c) => Math.max(most, c.steps.length), 1);
    this.scratch = new Int32Array(this.width);
    this.mailbox = new Int32Array(book.people.count).fill(-1);
    this.day = new Int32Array(book.people.count * this.width).fill(-1);
  }

  steps(p: number): PlanCampaign['steps'] {
    return this.campaigns[this.book.people.campaign[p]!]!.steps;
  }

  /** The mailboxes that person p may be written to from. */
  mailboxes(p: number): readonly number[] {
    const { bound, campaign } = this.book.people;
    return bound[p]! >= 0 ? [bound[p]!] : this.campaigns[campaign[p]!]!.mailboxes;
  }

  /** Takes days[nextStep …] for person p in mailbox m. */
  take(p: number, m: number, days: Int32Array): void {
    const steps = this.steps(p).length;
    this.mailbox[p] = m;
    for (let s = this.book.people.nextStep[p]!; s < steps; s++) {
      this.day[p * this.width + s] = days[s]!;
      this.book.put(p, m, days[s]!);
    }
  }

  /** Takes days[0 …] in mailbox m for people of one kind who have not started, people[from] and those after it. */
  takeAll(people: readonly number[], from: number, many: number, m: number, days: Int32Array): void {
    const { mailbox, day, width, book } = this;
    const first = people[from]!;
    const steps = this.steps(first).length;
    for (let at = from; at < from + many; at++) {
      const p = people[at]!;
      mailbox[p] = m;
      for (let s = 0; s < steps; s++) day[p * width + s] = days[s]!;
    }
    for (let s = 0; s < steps; s++) book.put(first, m, days[s]!, many);
  }

  /** Undoes {@link take}. */
  free(p: number): void {
    const m = this.mailbox[p]!;
    const steps = this.steps(p).length;
    for (let s = this.book.people.nextStep[p]!; s < steps; s++) this.book.put(p, m, this.day[p * this.width + s]!, -1);
    this.mailbox[p] = -1;
  }

  /**
   * Finds days for the steps after `from`, which is on days[from]: for each the day with the most room within its
   * tolerance, or with `late` the first day after it that fits.
   *
   * @param days filled in from `from` + 1 on
   * @returns false when there is none
   */
  follow(p: number, m: number, from: number, days: Int32Array, late: boolean): boolean {
    const steps = this.steps(p);
    for (let s = from + 1; s < steps.length; s++) {
      const { delay, tolerance } = steps[s]!;
      const low = this.days.firstAfter(days[s - 1]!, delay);
      const high = this.days.until(days[s - 1]!, delay + tolerance);
      let day = this.freest(p, m, low, high);
      if (day < 0 && late) day = this.firstFit(p, m, Math.max(low, high + 1));
      if (day < 0) return false;
      days[s] = day;
    }
    return true;
  }

  /** Whether person p could start on day i of mailbox m, with follow-ups on time; their days are then in `scratch`. */
  couldStart(p: number, m: number, i: number): boolean {
    this.scratch[0] = i;
    return this.book.fits(p, m, i) && this.follow(p, m, 0, this.scratch, false);
  }

  /** Starts a person on day i of mailbox m, follow-ups on time. @returns whether there is room */
  start(p: number, m: number, i: number): boolean {
    if (!this.couldStart(p, m, i)) return false;
    this.take(p, m, this.scratch);
    return true;
  }

  firstFit(p: number, m: number, from: number): number {
    for (let i = from; i < this.days.count; i++) if (this.book.fits(p, m, i)) return i;
    return -1;
  }

  lastFit(p: number, m: number, low: number, high: number): number {
    for (let i = Math.min(high, this.days.count - 1); i >= low; i--) if (this.book.fits(p, m, i)) return i;
    return -1;
  }

  /** The day from low to high nearest to a wanted one on which a message to p fits; -1 for none. */
  nearest(p: number, m: number, wanted: number, low: number, high: number): number {
    for (let by = 1; wanted + by <= high || wanted - by >= low; by++) {
      if (wanted + by <= high && this.book.fits(p, m, wanted + by)) return wanted + by;
      if (wanted - by >= low && this.book.fits(p, m, wanted - by)) return wanted - by;
    }
    return -1;
  }

  /** The day from low to high with the most units left on which a message to p fits; -1 for none. */
  freest(p: number, m: number, low: number, high: number): number {
    let best = -1;
    let most = 0;
    for (let i = low; i <= high && i < this.days.count; i++) {
      const left = this.book.left(m, i);
      if (left > most && this.book.fits(p, m, i)) [best, most] = [i, left];
    }
    return best;
  }
}
