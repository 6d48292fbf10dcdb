import { aimStarts, withSlack, type Aims, type Effort } from './aim-starts';
import { foreseeMixtures, type Mixture } from './mixtures';
import { findPatterns, type Pattern } from './patterns';
import type { Placements } from './placements';
import { StartTurns, type Turn } from './start-turns';

/**
 * Places everybody who has not started. The course of each pattern through each mailbox is found first
 * ({@link aimStarts}), of those with limits of their own before the others; then day by day as much is
 * started as it says, of the pattern that is furthest behind its course, or, where patterns share only some of
 * their mailboxes, by weight; and each person takes the days that their rank has on the course of the later
 * messages, or the nearest to them.
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
  const shortfall = patterns.length > 1 && shareAll(patterns) ? shortfallOf(patterns, mixtures, aims) : null;
  const mailboxes: Course[] = [];
  mixtures.forEach((mixture, m) => {
    if (mixture.patterns.length === 0) return;
    for (const curve of aims[m]!.flat())
      for (let i = 0; i < curve.length; i++) capacity[m]![i]! -= curve[i]! - (i === 0 ? 0 : curve[i - 1]!);
    for (let i = 0; i < placements.days.count; i++) capacity[m]![i] = Math.max(0, capacity[m]![i]!);
    const own = turns.turns.filter((t) => mixture.patterns.includes(t.pattern));
    mailboxes.push(new Course(placements, turns, m, own, patterns, mixture, aims[m]!, shortfall));
  });
  return { turns, mailboxes };
}

/** Whether all patterns may use the same mailboxes. */
const shareAll = (patterns: readonly Pattern[]): boolean =>
  patterns.every(({ mailboxes }) => mailboxes.join() === patterns[0]!.mailboxes.join());

/** By what the courses of each pattern are to be multiplied to hold all its people. */
function shortfallOf(patterns: readonly Pattern[], mixtures: readonly Mixture[], aims: readonly Aims[]): number[] {
  return patterns.map(({ units, mailboxes }, k) => {
    const starts = mixtures.map((mixture, m) => aims[m]![mixture.patterns.indexOf(k)]?.[0]?.at(-1) ?? 0);
    const all = starts.reduce((a, b) => a + b, 0);
    return all === 0 ? 1 : Math.max(1, withSlack(units, mailboxes.length) / all);
  });
}

/**
 * Who starts when decides the course, and the course who starts when: each is found from the other in turn. Where the
 * patterns share all their mailboxes, the course before also tells how many of each start in which.
 */
function findAims(
  { days }: Placements,
  patterns: readonly Pattern[],
  capacity: readonly Float64Array[],
  effort: Effort,
): { mixtures: Mixture[]; aims: Aims[] } {
  let mixtures = foreseeMixtures(days, patterns, capacity, null);
  const turns = patterns.length > 1 ? effort.turns : 0;
  const isShared = shareAll(patterns);
  // Only the last course must end when all have started.
  const effortOf = (turn: number) => (turn < turns && isShared ? { ...effort, rounds: 1 } : effort);
  let aims = aimStarts(days, patterns, mixtures, effortOf(0));
  for (let turn = 1; turn <= turns; turn++) {
    const starts = aims.map((kinds) =>
      Float64Array.from({ length: days.count }, (_, i) =>
        kinds.reduce((sum, [curve]) => sum + curve![i]! - (i === 0 ? 0 : curve![i - 1]!), 0),
      ),
    );
    mixtures = foreseeMixtures(days, patterns, capacity, starts);
    aims = aimStarts(days, patterns, mixtures, effortOf(turn), isShared ? aims : null);
  }
  return { mixtures, aims };
}

/** How far behind its course a mailbox may fall and still catch up, in messages; less where no day can give way. */
const PATIENCE = 3;
const PATIENCE_WITHOUT_TOLERANCE = 1;

/** One of the patterns that use a mailbox. */
interface OwnPattern {
  /** Its number, messages and people. */
  k: number;
  steps: number;
  turns: Turn[];
  /** By what its course is to be multiplied to hold all its people. */
  factor: number;
  /** The day on which the last of its course start. */
  end: number;
  behind: number;
}

/** The day on which a curve reaches its end; none for one that never rises. */
function endOf(curve: Float64Array): number {
  const last = curve.at(-1)!;
  return last === 0 ? curve.length : curve.findIndex((units) => units >= last - 1e-6);
}

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
  /** Null where entries take turns by weight whatever the course. */
  private readonly byPattern: OwnPattern[] | null;
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
    shortfall: readonly number[] | null,
  ) {
    this.aim = new Float64Array(placements.days.count);
    mixture.patterns.forEach((k, at) => {
      const { steps } = patterns[k]!;
      this.aims[k] = aims[at]!;
      this.started[k] = 0;
      this.reached[k] = steps.map(() => 0);
      for (let i = 0; i < this.aim.length; i++) this.aim[i]! += aims[at]![0]![i]! * steps.length;
    });
    this.byPattern =
      shortfall &&
      mixture.patterns.map((k) => ({
        ...{ k, steps: patterns[k]!.steps.length, factor: shortfall[k]!, end: endOf(this.aims[k]![0]!), behind: 0 },
        turns: own.filter((t) => t.pattern === k),
      }));
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
    while (this.begun + this.phase < aim) if (!this.startNext(i)) break;
    this.missed += Math.max(0, aim - this.begun - this.patience * (this.phase + 1));
  }

  /** The next one starts, of the pattern that is furthest behind its course if anybody of it can. */
  private startNext(i: number): boolean {
    const { byPattern } = this;
    if (!byPattern) return this.turns.next(this.own, this.m, i, this.tryOnCourse) > 0;
    for (const own of byPattern) own.behind = this.behind(own, i);
    byPattern.sort((a, b) => (a.behind === b.behind ? 0 : b.behind - a.behind));
    return byPattern.some(({ turns }) => this.turns.next(turns, this.m, i, this.tryOnCourse) > 0);
  }

  /** By how many messages a pattern is behind its course; infinitely when that is over and somebody should have started. */
  private behind({ k, steps, factor, end }: OwnPattern, i: number): number {
    const left = this.aims[k]![0]![i]! * factor - this.started[k]!;
    return i > end || (i === end && left > 0) ? Infinity : left * steps;
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
