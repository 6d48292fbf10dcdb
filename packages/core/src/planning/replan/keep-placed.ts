import type { Placements } from '../placements/placements';
import type { DeliveryColumns } from '../workspace/plan-input';

/** Messages of the previous plan, their recipients numbered as in the new input. */
export interface EarlierPlan extends DeliveryColumns {
  /** A message to be moved to another day (a day number), if possible. */
  move?: { recipient: number; step: number; day: number };
}

/** The days of the previous plan, given to people again where they still hold. */
export class Keeper {
  /** By p * width + s; 0 where the previous plan had nothing. */
  private readonly instant: Float64Array;
  private readonly mailbox: Int32Array;
  private readonly day: Int32Array;

  constructor(
    private readonly placements: Placements,
    private readonly earlier: EarlierPlan,
  ) {
    const { width, days } = placements;
    this.instant = new Float64Array(placements.day.length);
    this.day = new Int32Array(placements.day.length).fill(-1);
    this.mailbox = new Int32Array(placements.mailbox.length).fill(-1);
    for (let k = 0; k < earlier.recipient.length; k++) {
      const p = earlier.recipient[k]!;
      const at = p * width + earlier.step[k]!;
      if (p < 0 || p >= this.mailbox.length || earlier.step[k]! >= width) continue;
      this.instant[at] = earlier.instant[k]!;
      this.day[at] = earlier.day[k]! - days.base;
      this.mailbox[p] = this.mailbox[p] === -1 || this.mailbox[p] === earlier.mailbox[k] ? earlier.mailbox[k]! : -2;
    }
  }

  /** Moves the chosen message to its day, and those after it to their old days or to ones that are now possible. */
  move(): void {
    const { move } = this.earlier;
    if (move && this.mailbox[move.recipient]! >= 0) this.place(move.recipient, move);
  }

  /** People in progress keep their days if these are on time, earliest planned message first. */
  keepDue(): void {
    this.keep((nextStep) => nextStep > 0);
  }

  /** People who have not started keep their days. */
  keepStarters(): void {
    this.keep((nextStep) => nextStep === 0);
  }

  /** The mailbox of a person's messages in the previous plan; below 0 for none, or several. */
  mailboxOf(p: number): number {
    return this.mailbox[p]!;
  }

  /** The previous instant of message p * width + s, if it is still on the same mailbox-day. */
  instantOf(k: number): number | null {
    const { placements } = this;
    const stays = this.day[k] === placements.day[k] && this.hasMailbox(Math.floor(k / placements.width));
    return stays ? this.instant[k]! : null;
  }

  /** Whether a person's next message keeps the mailbox and the day of the previous plan. */
  stays(p: number): boolean {
    const k = p * this.placements.width + this.placements.book.people.nextStep[p]!;
    return this.hasMailbox(p) && this.day[k] === this.placements.day[k];
  }

  private hasMailbox(p: number): boolean {
    return this.mailbox[p] === this.placements.mailbox[p];
  }

  private keep(isMeant: (nextStep: number) => boolean): void {
    const { book, campaigns, width, mailbox } = this.placements;
    const { people } = book;
    const meant: number[] = [];
    for (let p = 0; p < people.count; p++)
      if (
        this.mailbox[p]! >= 0 &&
        mailbox[p]! < 0 &&
        isMeant(people.nextStep[p]!) &&
        !campaigns[people.campaign[p]!]!.held
      )
        meant.push(p);
    const first = (p: number) => this.instant[p * width + people.nextStep[p]!]!;
    meant.sort((a, b) => first(a) - first(b) || a - b);
    for (const p of meant) this.place(p);
  }

  /**
   * Gives a person their days again, if all of them still hold. With a move, one message goes to its day, and each one
   * after it that cannot stay goes to the day with the most room within its tolerance.
   */
  private place(p: number, move?: EarlierPlan['move']): void {
    const { placements, mailbox, day } = this;
    const { book, days, width, scratch } = placements;
    const m = mailbox[p]!;
    if (!placements.mailboxes(p).includes(m)) return;
    const steps = placements.steps(p).length;
    for (let s = book.people.nextStep[p]!; s < steps; s++) {
      const [low, high] = this.range(p, s);
      let i = s === move?.step ? move.day - days.base : day[p * width + s]!;
      // The days of one person differ, so all can be checked before any is taken.
      if (i < low || i > high || !book.fits(p, m, i))
        i = move && s > move.step ? placements.freest(p, m, low, high) : -1;
      if (i < 0) return;
      scratch[s] = i;
    }
    placements.take(p, m, scratch);
  }

  /** The first and last day for step s of a person whose earlier steps are in the scratch. */
  private range(p: number, s: number): [low: number, high: number] {
    const { book, days, scratch } = this.placements;
    const { people } = book;
    const { delay, tolerance } = this.placements.steps(p)[s]!;
    const end = days.count - 1;
    if (s > people.nextStep[p]!)
      return [days.firstAfter(scratch[s - 1]!, delay), Math.min(end, days.until(scratch[s - 1]!, delay + tolerance))];
    return [people.earliest[p]!, s === 0 ? end : Math.min(end, days.lastWith(people.dueWorkday[p]! + tolerance))];
  }
}
