import type { Aims } from './aim-starts';
import type { Entry } from './entries';
import type { Placements } from './placements';
import type { Claim, StartTurns } from './start-turns';

/** The way of one kind of people through a mailbox. */
export interface Place {
  /** Of all of them, or much alike. */
  steps: Entry['steps'];
  /** For each step the units that should have left by the end of each day. */
  aims: Aims[number];
  /** By what that is to be multiplied to hold all of them. */
  factor: number;
  claims: Claim[];
}

/** How far behind its course a mailbox may fall and still catch up, in messages; less where no day can give way. */
const PATIENCE = 3;
const PATIENCE_WITHOUT_TOLERANCE = 1;

/** How one kind stands. */
interface Going extends Place {
  started: number;
  /** For each step the day that the last rank had. */
  reached: number[];
  /** The day on which the last of its course start. */
  end: number;
  behind: number;
  /** Starts a person on the day at hand, if there is room. */
  place: (p: number) => boolean;
}

/** The way of some kinds of people through one mailbox. */
export class MailboxCourse {
  /** Messages of the starts so far, in units, and how many were given up because they did not fit. */
  private begun = 0;
  private missed = 0;
  /** All messages of those who should have started by the end of each day, in units. */
  private readonly aim: Float64Array;
  private readonly going: Going[];
  private readonly all: Claim[];
  /** Where rounding turns up: another place for each mailbox, so that not all turn up on one day. */
  private readonly phase: number;
  private readonly patience: number;
  private day = 0;

  constructor(
    private readonly placements: Placements,
    private readonly turns: StartTurns,
    private readonly m: number,
    places: readonly Place[],
  ) {
    this.aim = new Float64Array(placements.days.count);
    for (const { aims, steps } of places)
      for (let i = 0; i < this.aim.length; i++) this.aim[i]! += aims[0]![i]! * steps.length;
    this.going = places.map((place) => {
      const going: Going = {
        ...place,
        ...{ started: 0, reached: place.steps.map(() => 0), end: endOf(place.aims[0]!), behind: 0 },
        place: (p) => this.place(p, going),
      };
      return going;
    });
    this.all = places.flatMap(({ claims }) => claims.map(({ turn }) => ({ turn, free: Infinity })));
    this.phase = ((m * 0.618034) % 1) * places.reduce((most, { steps }) => Math.max(most, steps.length), 1);
    const isExact = places.every(({ steps }) => steps.every((s) => s.tolerance === 0));
    this.patience = isExact ? PATIENCE_WITHOUT_TOLERANCE : PATIENCE;
  }

  /** As many start on day i as the course says; what does not fit is not caught up with, since later days are full too. */
  start(i: number): void {
    const aim = this.aim[i]! - this.missed;
    this.day = i;
    while (this.begun + this.phase < aim) if (!this.startNext(i)) break;
    this.missed += Math.max(0, aim - this.begun - this.patience * (this.phase + 1));
  }

  /** The next one starts, of the kind that is furthest behind its course if anybody of it can. */
  private startNext(i: number): boolean {
    const { going } = this;
    if (going.length > 1) for (const kind of going) kind.behind = behind(kind, i);
    for (let left = going.length; left > 0; left--) {
      let next = going[0]!;
      for (const kind of going) if (kind.behind > next.behind) next = kind;
      if (this.turns.next(next.claims, this.m, i, next.place) > 0) return true;
      next.behind = -Infinity;
    }
    return false;
  }

  /** Whoever fits on day i starts. */
  fill(i: number): void {
    const place = (p: number) => this.placements.start(p, this.m, i);
    while (this.placements.book.left(this.m, i) > 0) if (this.turns.next(this.all, this.m, i, place) === 0) break;
  }

  private place(p: number, kind: Going): boolean {
    const { placements, m } = this;
    const { book, days, scratch } = placements;
    if (!book.fits(p, m, this.day)) return false;
    const steps = placements.steps(p);
    const units = book.people.units[p]!;
    scratch[0] = this.day;
    for (let s = 1; s < steps.length; s++) {
      const low = days.firstAfter(scratch[s - 1]!, steps[s]!.delay);
      const high = days.until(scratch[s - 1]!, steps[s]!.delay + steps[s]!.tolerance);
      const wanted = Math.min(high, Math.max(low, dayOf(kind, s, kind.started + units / 2)));
      const day = wanted >= low && book.fits(p, m, wanted) ? wanted : placements.nearest(p, m, wanted, low, high);
      if (day < 0) return false;
      scratch[s] = day;
    }
    placements.take(p, m, scratch);
    kind.started += units;
    this.begun += units * steps.length;
    return true;
  }
}

/** The day on which a curve reaches its end; none for one that never rises. */
function endOf(curve: Float64Array): number {
  const last = curve.at(-1)!;
  return last === 0 ? curve.length : curve.findIndex((units) => units >= last - 1e-6);
}

/** By how many messages a kind is behind its course; infinitely when that is over and somebody should have started. */
function behind({ aims, steps, factor, end, started }: Going, i: number): number {
  const left = aims[0]![i]! * factor - started;
  return i > end || (i === end && left > 0) ? Infinity : left * steps.length;
}

/** The day on which step s of a course reaches a rank; ranks rise from call to call. */
function dayOf({ aims, reached }: Going, s: number, rank: number): number {
  const aim = aims[s]!;
  let i = reached[s]!;
  while (i < aim.length && aim[i]! < rank) i++;
  return (reached[s] = i);
}
