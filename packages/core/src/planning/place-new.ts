import { aimStarts, type Aims, type Effort } from './aim-starts';
import { foreseeMixtures, type Mixture } from './mixtures';
import { findPatterns, type Pattern } from './patterns';
import type { Placements } from './placements';
import { StartTurns, type Turn } from './start-turns';

/**
 * Places everybody who has not started. The course of each pattern through each mailbox is found first
 * ({@link aimStarts}), of those with limits of their own before the others; then day by day as much is
 * started as it says, campaigns taking turns by weight, and each person takes the days that their rank has on
 * the course of the later messages, or the nearest to them.
 *
 * @returns those for whom there was no room on that course, in order
 */
export function placeNew(placements: Placements, domainCap: number | null, effort: Effort): number[] {
  const patterns = findPatterns(placements, domainCap);
  if (patterns.length === 0) return [];
  const own = patterns.filter((p) => p.own);
  const tracks = [...own.map((p) => [p]), patterns.filter((p) => !p.own)].filter((t) => t.length > 0);
  const capacity = Array.from({ length: placements.book.mailboxes }, (_, m) =>
    Float64Array.from({ length: placements.days.count }, (_, i) => Math.max(0, placements.book.left(m, i))),
  );
  const courses = tracks.map((track) => findCourses(placements, track, capacity, effort));
  for (let i = 0; i < placements.days.count && courses.some((c) => c.turns.areLeft); i++)
    for (const { turns, mailboxes } of courses) {
      turns.begin(i);
      for (const course of mailboxes) course.start(i);
    }
  // What rounding left over goes where there is room.
  for (let i = 0; i < placements.days.count && courses.some((c) => c.turns.areLeft); i++)
    for (const { mailboxes } of courses) for (const course of mailboxes) course.fill(i);
  return courses.flatMap((c) => c.turns.rest());
}

/** Finds the way of some patterns through what the mailboxes have left, and takes its messages off that. */
function findCourses(
  placements: Placements,
  patterns: Pattern[],
  capacity: Float64Array[],
  effort: Effort,
): { turns: StartTurns; mailboxes: Course[] } {
  const turns = new StartTurns(
    placements,
    patterns.map((p) => p.entries),
  );
  const { mixtures, aims } = findAims(placements, patterns, capacity, effort);
  const mailboxes: Course[] = [];
  mixtures.forEach((mixture, m) => {
    if (mixture.patterns.length === 0) return;
    for (const curve of aims[m]!.flat())
      for (let i = 0; i < curve.length; i++) capacity[m]![i]! -= curve[i]! - (i === 0 ? 0 : curve[i - 1]!);
    for (let i = 0; i < placements.days.count; i++) capacity[m]![i] = Math.max(0, capacity[m]![i]!);
    const own = turns.turns.filter((t) => mixture.patterns.includes(t.pattern));
    mailboxes.push(new Course(placements, turns, m, own, patterns, mixture, aims[m]!));
  });
  return { turns, mailboxes };
}

/** Who starts when decides the course, and the course who starts when: each is found from the other in turn. */
function findAims(
  { days }: Placements,
  patterns: readonly Pattern[],
  capacity: readonly Float64Array[],
  effort: Effort,
): { mixtures: Mixture[]; aims: Aims[] } {
  let mixtures = foreseeMixtures(days, patterns, capacity, null);
  let aims = aimStarts(days, patterns, mixtures, effort);
  for (let turn = 0; turn < effort.turns && patterns.length > 1; turn++) {
    const starts = aims.map((kinds) =>
      Float64Array.from({ length: days.count }, (_, i) =>
        kinds.reduce((sum, [curve]) => sum + curve![i]! - (i === 0 ? 0 : curve![i - 1]!), 0),
      ),
    );
    mixtures = foreseeMixtures(days, patterns, capacity, starts);
    aims = aimStarts(days, patterns, mixtures, effort);
  }
  return { mixtures, aims };
}

/** How far behind its course a mailbox may fall and still catch up, in messages; less where no day can give way. */
const PATIENCE = 3;
const PATIENCE_WITHOUT_TOLERANCE = 1;

/** The way of some patterns through one mailbox. */
class Course {
  /** Messages of the starts so far, in units, and how many were given up because they did not fit. */
  private begun = 0;
  private missed = 0;
  /** All messages of those who should have started by the end of each day, in units. */
  private readonly aim: Float64Array;
  /** By pattern: its aims, the units started so far, and for each step the day that the last rank had. */
  private readonly aims: Float64Array[][] = [];
  private readonly started: number[] = [];
  private readonly reached: number[][] = [];
  /** Where rounding turns up: another place for each mailbox, so that not all turn up on one day. */
  private readonly phase: number;
  private readonly patience: number;
  private readonly tryOnCourse: (p: number, turn: Turn) => boolean;
  private day = 0;

  constructor(
    private readonly placements: Placements,
    private readonly turns: StartTurns,
    private readonly m: number,
    private readonly own: readonly Turn[],
    private readonly patterns: readonly Pattern[],
    mixture: Mixture,
    aims: Aims,
  ) {
    this.aim = new Float64Array(placements.days.count);
    mixture.patterns.forEach((k, at) => {
      const { steps } = patterns[k]!;
      this.aims[k] = aims[at]!;
      this.started[k] = 0;
      this.reached[k] = steps.map(() => 0);
      for (let i = 0; i < this.aim.length; i++) this.aim[i]! += aims[at]![0]![i]! * steps.length;
    });
    this.phase =
      ((m * 0.618034) % 1) * mixture.patterns.reduce((most, k) => Math.max(most, patterns[k]!.steps.length), 1);
    const isExact = mixture.patterns.every((k) => patterns[k]!.steps.every((s) => s.tolerance === 0));
    this.patience = isExact ? PATIENCE_WITHOUT_TOLERANCE : PATIENCE;
    this.tryOnCourse = (p, turn) => this.place(p, turn.pattern);
  }

  /** As many start on day i as the course says; what does not fit is not caught up with, since later days are full too. */
  start(i: number): void {
    const aim = this.aim[i]! - this.missed;
    this.day = i;
    while (this.begun + this.phase < aim) if (this.turns.next(this.own, this.m, i, this.tryOnCourse) === 0) break;
    this.missed += Math.max(0, aim - this.begun - this.patience * (this.phase + 1));
  }

  /** Whoever fits on day i starts. */
  fill(i: number): void {
    const place = (p: number) => this.placements.start(p, this.m, i);
    while (this.placements.book.left(this.m, i) > 0) if (this.turns.next(this.own, this.m, i, place) === 0) break;
  }

  private place(p: number, k: number): boolean {
    const { placements, m } = this;
    const { book, days, scratch } = placements;
    if (!book.fits(p, m, this.day)) return false;
    const { steps } = this.patterns[k]!;
    const units = book.people.units[p]!;
    scratch[0] = this.day;
    for (let s = 1; s < steps.length; s++) {
      const low = days.firstAfter(scratch[s - 1]!, steps[s]!.delay);
      const high = days.until(scratch[s - 1]!, steps[s]!.delay + steps[s]!.tolerance);
      const wanted = Math.min(high, Math.max(low, this.dayOf(k, s, this.started[k]! + units / 2)));
      const day = wanted >= low && book.fits(p, m, wanted) ? wanted : placements.nearest(p, m, wanted, low, high);
      if (day < 0) return false;
      scratch[s] = day;
    }
    placements.take(p, m, scratch);
    this.started[k]! += units;
    this.begun += units * steps.length;
    return true;
  }

  /** The day on which step s of a course reaches a rank; ranks rise from call to call. */
  private dayOf(k: number, s: number, rank: number): number {
    const aim = this.aims[k]![s]!;
    let i = this.reached[k]![s]!;
    while (i < aim.length && aim[i]! < rank) i++;
    return (this.reached[k]![s] = i);
  }
}
