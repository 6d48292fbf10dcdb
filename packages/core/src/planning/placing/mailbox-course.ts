import type { Aims } from '../course/aim-starts';
import type { Entry } from '../course/entries';
import type { Placements } from '../placements/placements';
import type { Claim, Starting, StartTurns } from './start-turns';

/** The course of one class through a mailbox. */
export interface ClassCourse {
  /** The steps of all of them, exactly or nearly. */
  steps: Entry['steps'];
  /** For each step, the cumulative units to be sent by the end of each day. */
  aims: Aims[number];
  /** The factor by which those are multiplied so that everybody has a place. */
  factor: number;
  claims: Claim[];
}

/** How far behind its course a mailbox may fall and still catch up, in messages; less if no day has a choice. */
const PATIENCE = 3;
const PATIENCE_WITHOUT_TOLERANCE = 1;

/** How far one class has got. */
interface Progress extends ClassCourse {
  started: number;
  /** For each step, the day of the last rank. */
  reached: number[];
  /** The day of the last starts of its course. */
  end: number;
  behind: number;
  /** Starts people on the current day, if there is room. */
  place: Starting;
}

/** The course of several classes through one mailbox. */
export class MailboxCourse {
  /** Messages of the starts so far, in units, and those given up because they did not fit. */
  private begun = 0;
  private missed = 0;
  /** All messages of the people who should have started by the end of each day, in units. */
  private readonly aim: Float64Array;
  private readonly classes: Progress[];
  private readonly all: Claim[];
  /** The rounding threshold, different for each mailbox, so that not all round up on the same day. */
  private readonly phase: number;
  private readonly patience: number;
  private day = 0;
  /** Messages of the people who should have started by the current day, in units. */
  private due = 0;

  constructor(
    private readonly placements: Placements,
    private readonly turns: StartTurns,
    private readonly m: number,
    courses: readonly ClassCourse[],
  ) {
    this.aim = new Float64Array(placements.days.count);
    for (const { aims, steps } of courses)
      for (let i = 0; i < this.aim.length; i++) this.aim[i]! += aims[0]![i]! * steps.length;
    this.classes = courses.map((course) => {
      const progress: Progress = {
        steps: course.steps,
        aims: course.aims,
        factor: course.factor,
        claims: course.claims,
        started: 0,
        reached: course.steps.map(() => 0),
        end: endOf(course.aims[0]!),
        behind: 0,
        place: (people, from, most) => this.place(people, from, most, progress),
      };
      return progress;
    });
    this.all = courses.flatMap(({ claims }) => claims.map(({ turn }) => ({ turn, free: Infinity })));
    this.phase = ((m * 0.618034) % 1) * courses.reduce((most, { steps }) => Math.max(most, steps.length), 1);
    const isExact = courses.every(({ steps }) => steps.every((s) => s.tolerance === 0));
    this.patience = isExact ? PATIENCE_WITHOUT_TOLERANCE : PATIENCE;
  }

  /** Starts as many on day i as the course says; those that do not fit are given up, since later days are full too. */
  start(i: number): void {
    const aim = this.aim[i]! - this.missed;
    this.day = i;
    this.due = aim - this.phase;
    for (const progress of this.classes) progress.behind = behind(progress, i);
    while (this.begun < this.due) if (!this.startNext(i)) break;
    this.missed += Math.max(0, aim - this.begun - this.patience * (this.phase + 1));
  }

  /** Starts the next person, preferably of the class furthest behind its course. */
  private startNext(i: number): boolean {
    const { classes } = this;
    for (;;) {
      let next = classes[0]!;
      for (let k = 1; k < classes.length; k++) if (classes[k]!.behind > next.behind) next = classes[k]!;
      if (next.behind === -Infinity) return false;
      const isStarted = this.turns.next(next.claims, this.m, i, next.place);
      // A class without room on a day gets none later on that day.
      next.behind = isStarted ? behind(next, i) : -Infinity;
      if (isStarted) return true;
    }
  }

  /** Starts everybody who fits on day i. */
  fill(i: number): void {
    const place: Starting = (people, from) => (this.placements.start(people[from]!, this.m, i) ? 1 : 0);
    while (this.placements.book.left(this.m, i) > 0) if (!this.turns.next(this.all, this.m, i, place)) break;
  }

  private place(people: readonly number[], from: number, most: number, progress: Progress): number {
    const { placements } = this;
    const p = people[from]!;
    const units = placements.book.people.units[p]!;
    const messages = units * placements.steps(p).length;
    // With several classes, a different one may be furthest behind after each start.
    const wanted = this.classes.length > 1 ? 1 : Math.min(most, Math.ceil((this.due - this.begun) / messages));
    const many = this.findDays(p, progress, wanted);
    if (many === 0) return 0;
    placements.takeAll(people, from, many, this.m, placements.scratch);
    progress.started += many * units;
    this.begun += many * messages;
    return many;
  }

  /** Finds a person's days, into the scratch. @returns how many of those wanted have the same days; 0 if none has days */
  private findDays(p: number, progress: Progress, wanted: number): number {
    const { placements, m } = this;
    const { book, days, scratch } = placements;
    const steps = placements.steps(p);
    const units = book.people.units[p]!;
    const rank = progress.started + units / 2;
    if (!book.fits(p, m, this.day)) return 0;
    scratch[0] = this.day;
    let many = wanted > 1 ? Math.min(wanted, book.howMany(p, m, this.day)) : 1;
    for (let s = 1; s < steps.length; s++) {
      const low = days.firstAfter(scratch[s - 1]!, steps[s]!.delay);
      const high = days.until(scratch[s - 1]!, steps[s]!.delay + steps[s]!.tolerance);
      const own = Math.max(low, dayOf(progress, s, rank));
      const best = Math.min(high, own);
      const day = best >= low && book.fits(p, m, best) ? best : placements.nearest(p, m, best, low, high);
      if (day < 0) return 0;
      scratch[s] = day;
      if (many > 1) many = Math.min(many, book.howMany(p, m, day));
      if (many > 1 && own < high) many = Math.min(many, 1 + Math.floor((progress.aims[s]![own]! - rank) / units));
    }
    return many;
  }
}

/** The day on which a curve reaches its end; none for one that never rises. */
function endOf(curve: Float64Array): number {
  const last = curve.at(-1)!;
  return last === 0 ? curve.length : curve.findIndex((units) => units >= last - 1e-6);
}

/** How many messages a class is behind its course; infinite once the course is over and people still wait. */
function behind({ aims, steps, factor, end, started }: Progress, i: number): number {
  const left = aims[0]![i]! * factor - started;
  return i > end || (i === end && left > 0) ? Infinity : left * steps.length;
}

/** The day on which step s of a course reaches a rank; ranks increase from call to call. */
function dayOf({ aims, reached }: Progress, s: number, rank: number): number {
  const aim = aims[s]!;
  let i = reached[s]!;
  while (i < aim.length && aim[i]! < rank) i++;
  return (reached[s] = i);
}
