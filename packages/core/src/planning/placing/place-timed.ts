import { DAY_MS } from '../../time/clock';
import { nextOpen } from '../../time/window';
import type { Placements } from '../placements/placements';

/**
 * Places people whose first message has an instant of its own: on the day and in the mailbox in which it leaves soonest after
 * that instant, before anybody else takes the room. Of mailboxes that come to the same, the one of the earlier plan is taken, and
 * else the one with the most room left that day.
 */
export class TimedStarts {
  /** By mailbox, the latest instant given so far. */
  private readonly last: Float64Array;

  constructor(
    private readonly placements: Placements,
    private readonly at: Float64Array,
    private readonly earlierMailbox: (p: number) => number = () => -1,
  ) {
    this.last = new Float64Array(placements.book.mailboxes).fill(-Infinity);
  }

  /** Places everybody who has an instant and no place yet, earliest instant first. */
  place(): void {
    const { book, campaigns, mailbox } = this.placements;
    const { campaign } = book.people;
    const meant: number[] = [];
    for (let p = 0; p < this.at.length; p++)
      if (this.at[p]! >= 0 && mailbox[p]! < 0 && !campaigns[campaign[p]!]!.held) meant.push(p);
    meant.sort((a, b) => this.at[a]! - this.at[b]! || a - b);
    for (const p of meant) this.placeOne(p, 0);
  }

  /** @param from index of the first day that is tried @returns whether there was room */
  placeOne(p: number, from: number): boolean {
    const { placements } = this;
    const { book } = placements;
    const earlier = this.earlierMailbox(p);
    let [best, day, instant] = [-1, -1, Infinity];
    for (const m of placements.mailboxes(p)) {
      const found = this.soonest(p, m, from, instant);
      if (!found) continue;
      const isEven = best >= 0 && found.instant === instant;
      if (isEven && (best === earlier || (m !== earlier && book.left(m, found.day) <= book.left(best, day)))) continue;
      [best, day, instant] = [m, found.day, found.instant];
    }
    if (best < 0) return false;
    placements.scratch[0] = day;
    if (!placements.follow(p, best, 0, placements.scratch, true)) return false;
    placements.take(p, best, placements.scratch);
    this.last[best] = instant;
    return true;
  }

  /** The first day of a mailbox with room, and the instant at which the message could leave then, not after `latest`. */
  private soonest(p: number, m: number, from: number, latest: number): { day: number; instant: number } | null {
    const { placements, at, last } = this;
    const { book } = placements;
    const { earliest, hourClass, campaign, startsAt } = book.people;
    const wanted = Math.max(at[p]!, startsAt[campaign[p]!]!, last[m]! + book.open.pace(m));
    let day = placements.firstFit(
      p,
      m,
      Math.max(from, earliest[p]!, placements.days.index(Math.floor(at[p]! / DAY_MS) - 1)),
    );
    while (day >= 0) {
      const spans = book.open.open(m, day, hourClass[p]!);
      if ((spans[0]?.startMs ?? -Infinity) > latest) return null;
      const instant = nextOpen(spans, wanted);
      if (instant !== null) return instant > latest ? null : { day, instant };
      day = placements.firstFit(p, m, day + 1);
    }
    return null;
  }
}
