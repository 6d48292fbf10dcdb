import type { Aims } from '../course/aim-starts';
import type { Entry } from '../course/entries';
import type { Placements } from '../placements/placements';
import type { Claim, Starting, StartTurns } from './start-turns';

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
  /** Starts people on the day at hand, if there is room. */
  place: Starting;
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
  /** Messages whose people should have started by the day at hand, in units. */
  private due = 0;

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
        steps: place.steps,
        aims: place.aims,
        factor: place.factor,
        claims: place.claims,
        started: 0,
        reached: place.steps.map(() => 0),
        end: endOf(place.aims[0]!),
        behind: 0,
        place: (people, from, most) => this.place(people, from, most, going),
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
    this.due = aim - this.phase;
    for (const kind of this.going) kind.behind = behind(kind, i);
    while (this.begun < this.due) if (!this.startNext(i)) break;
    this.missed += Math.max(0, aim - this.begun - this.patience * (this.phase + 1));
  }

  /** The next one starts, of the kind that is furthest behind its course if anybody of it can. */
  private startNext(i: number): boolean {
    const { going } = this;
    for (;;) {
      let next = going[0]!;
      for (let k = 1; k < going.length; k++) if (going[k]!.behind > next.behind) next = going[k]!;
      if (next.behind === -Infinity) return false;
      const isStarted = this.turns.next(next.claims, this.m, i, next.place);
      // Who finds no room on a day finds none later on it.
      next.behind = isStarted ? behind(next, i) : -Infinity;
      if (isStarted) return true;
    }
  }

  /** Whoever fits on day i starts. */
  fill(i: number): void {
    const place: Starting = (people, from) => (this.placements.start(people[from]!, this.m, i) ? 1 : 0);
    while (this.placements.book.left(this.m, i) > 0) if (!this.turns.next(this.all, this.m, i, place)) break;
  }

  private place(people: readonly number[], from: number, most: number, kind: Going): number {
    const { placements } = this;
    const p = people[from]!;
    const units = placements.book.people.units[p]!;
    const messages = units * placements.steps(p).length;
    // Where several kinds start, another may be further behind after each.
    const wanted = this.going.length > 1 ? 1 : Math.min(most, Math.ceil((this.due - this.begun) / messages));
    const many = this.findDays(p, kind, wanted);
    if (many === 0) return 0;
    placements.takeAll(people, from, many, this.m, placements.scratch);
    kind.started += many * units;
    this.begun += many * messages;
    return many;
  }

  /** Finds a person's days, into the scratch. @returns for how many of those wanted they are the same; 0 for no days */
  private findDays(p: number, kind: Going, wanted: number): number {
    const { placements, m } = this;
    const { book, days, scratch } = placements;
    const steps = placements.steps(p);
    const units = book.people.units[p]!;
    const rank = kind.started + units / 2;
    if (!book.fits(p, m, this.day)) return 0;
    scratch[0] = this.day;
    let many = wanted > 1 ? Math.min(wanted, book.howMany(p, m, this.day)) : 1;
    for (let s = 1; s < steps.length; s++) {
      const low = days.firstAfter(scratch[s - 1]!, steps[s]!.delay);
      const high = days.until(scratch[s - 1]!, steps[s]!.delay + steps[s]!.tolerance);
      const own = Math.max(low, dayOf(kind, s, rank));
      const best = Math.min(high, own);
      const day = best >= low && book.fits(p, m, best) ? best : placements.nearest(p, m, best, low, high);
      if (day < 0) return 0;
      scratch[s] = day;
      if (many > 1) many = Math.min(many, book.howMany(p, m, day));
      if (many > 1 && own < high) many = Math.min(many, 1 + Math.floor((kind.aims[s]![own]! - rank) / units));
    }
    return many;
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
