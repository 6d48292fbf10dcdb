import { aimStarts, COARSE, COARSER, withSlack, type Aims, type Effort, type GroupCourse } from '../course/aim-starts';
import { allocate, dayTaken, meanLag } from '../course/allocate';
import { findEntries, type Entry } from '../course/entries';
import { findGroups, mergeGroups, eligibleMailboxes, type Group } from '../course/groups';
import { MailboxCourse, type ClassCourse } from './mailbox-course';
import { forecastClassMix, type SequenceClass } from '../course/class-mix';
import type { Placements } from '../placements/placements';
import type { PlanDays } from '../workspace/plan-days';
import { StartTurns } from './start-turns';
import { sumOf } from '../sum';

/**
 * Places everybody who has not started. First capacity is divided among the entries ({@link allocate}), then the course
 * of each sequence through each mailbox is computed ({@link aimStarts}), for entries with limits of their own before the
 * others. Then people start day by day as the course says, the class furthest behind its course first. Each person gets
 * the days on which the course of the later messages reaches their rank, or the nearest possible ones.
 *
 * @returns those for whom that course had no room, in order
 */
export function placeNew(placements: Placements, domainCap: number | null, effort: Effort): number[] {
  const entries = findEntries(placements, domainCap);
  const tracks = [...entries.filter((e) => e.own).map((e) => [e]), entries.filter((e) => !e.own)];
  const capacity = Array.from({ length: placements.book.mailboxes }, (_, m) =>
    Float64Array.from({ length: placements.days.count }, (_, i) => Math.max(0, placements.book.left(m, i))),
  );
  const courses = tracks
    .filter((track) => track.length > 0)
    .map((track) => findCourses(placements, track, capacity, effort));
  for (let i = 0; i < placements.days.count && courses.some((c) => c.turns.areLeft); i++)
    for (const { turns, mailboxes } of courses) {
      turns.begin(i);
      for (const course of mailboxes) course.start(i);
    }
  // People left over by rounding go where there is room.
  for (let i = 0; i < placements.days.count && courses.some((c) => c.turns.areLeft); i++)
    for (const { mailboxes } of courses) for (const course of mailboxes) course.fill(i);
  return courses.flatMap((c) => c.turns.rest());
}

/** Plans some entries within the capacity that is left, and subtracts their messages from it. */
function findCourses(
  placements: Placements,
  entries: Entry[],
  capacity: Float64Array[],
  effort: Effort,
): { turns: StartTurns; mailboxes: MailboxCourse[] } {
  const { days } = placements;
  const turns = new StartTurns(placements, entries);
  const room = entries[0]!.own ? withinLimit(entries[0]!, capacity) : capacity;
  const found = findAims(days, entries, room, effort);
  const mailboxes = found.groups.flatMap((group, g) => {
    const courses = classCourses(entries, found, turns, g);
    return group.mailboxes.map((m, at): MailboxCourse => {
      const aims = found.courses[g]!.aims[at]!;
      for (const curve of aims.flat())
        for (let i = 0; i < curve.length; i++)
          capacity[m]![i] = Math.max(0, capacity[m]![i]! - curve[i]! + (i === 0 ? 0 : curve[i - 1]!));
      return new MailboxCourse(placements, turns, m, courses[at]!);
    });
  });
  return { turns, mailboxes };
}

/** The capacity of each mailbox for an entry with a limit of its own: that limit, divided in proportion to the mailboxes. */
function withinLimit({ own, mailboxes }: Entry, capacity: readonly Float64Array[]): Float64Array[] {
  const { messages, of } = own!;
  return capacity.map((left, m) => {
    if (!mailboxes.includes(m)) return left;
    if (of === 'each mailbox') return left.map((units) => Math.min(units, messages));
    return left.map((units, i) => {
      const sum = mailboxes.reduce((all, other) => all + capacity[other]![i]!, 0);
      return units * Math.min(1, messages / Math.max(1e-9, sum));
    });
  });
}

/** The groups, who starts in each, and the courses. */
interface Found {
  groups: Group[];
  units: number[][];
  classes: SequenceClass[][];
  courses: GroupCourse[];
}

/** The greatest number of classes times days in a program. */
const CLASS_DAYS = 900;

/**
 * The class mix decides the course, and the course decides the class mix and when each group of mailboxes ends: each is
 * computed from the others in turn.
 */
function findAims(days: PlanDays, entries: readonly Entry[], capacity: readonly Float64Array[], most: Effort): Found {
  const alike = groupAlike(days, entries, findGroups(entries, capacity), most.shapes);
  const { groups, isCrowded } = alike;
  // Many groups and long plans tell fewer classes apart: the time of a program grows with the cube of their number.
  const classesFor = Math.max(2, Math.round(CLASS_DAYS / days.count));
  const effort = isCrowded
    ? { ...most, iterations: 1, classes: 2 }
    : { ...most, classes: Math.min(most.classes, classesFor) };
  const lag = groups.map((group) => meanLag(entries, group));
  let { units } = alike;
  let classes = forecastClassMix(days, entries, groups, units, null, effort.classes);
  const iterations = entries.length > 1 ? effort.iterations : 0;
  // Earlier iterations only serve to compute the next.
  const effortOf = (iteration: number) =>
    iteration < iterations ? { ...effort, ...(groups.length === 1 ? COARSE : COARSER) } : effort;
  let courses = aimStarts(days, groups, classes, capacity, effortOf(0));
  for (let iteration = 1; iteration <= iterations; iteration++) {
    const starts = courses.map(({ aims }) => startsByDay(aims, days.count));
    groups.forEach((group, g) => {
      const messages = messagesOf(entries, group, units[g]!);
      if (messages > 0) lag[g] = Math.max(0, dayTaken(days, group, messages) - courses[g]!.lastStart);
    });
    if (groups.length > 1 && !isCrowded) units = allocate(days, entries, groups, lag);
    classes = forecastClassMix(days, entries, groups, units, starts, effort.classes);
    courses = aimStarts(days, groups, classes, capacity, effortOf(iteration), courses);
  }
  return { groups, units, classes, courses };
}

/** Units that start on each day in all mailboxes of a group. */
function startsByDay(aims: readonly Aims[], days: number): Float64Array {
  const starts = new Float64Array(days);
  for (const own of aims)
    for (const [curve] of own) for (let i = 0; i < days; i++) starts[i]! += curve![i]! - (i === 0 ? 0 : curve![i - 1]!);
  return starts;
}

/** Groups, merged if there are too many, and what each entry starts in each. `isCrowded`: still many, or merged. */
function groupAlike(
  days: PlanDays,
  entries: readonly Entry[],
  groups: Group[],
  most: number,
): { groups: Group[]; units: number[][]; isCrowded: boolean } {
  const lag = groups.map((group) => meanLag(entries, group));
  const units = allocate(days, entries, groups, lag);
  if (groups.length <= most) return { groups, units, isCrowded: false };
  const ends = groups.map((group, g) => dayTaken(days, group, messagesOf(entries, group, units[g]!)));
  const merged = mergeGroups(groups, ends, most);
  return {
    groups: merged.map(({ group }) => group),
    units: merged.map(({ group, of }) =>
      group.entries.map((e) => of.reduce((sum, g) => sum + (units[g]![groups[g]!.entries.indexOf(e)] ?? 0), 0)),
    ),
    isCrowded:
      merged.length > most ||
      merged.some(({ group, of }) => of.some((g) => groups[g]!.entries.length < group.entries.length)),
  };
}

function messagesOf(entries: readonly Entry[], group: Group, units: readonly number[]): number {
  return group.entries.reduce((sum, e, at) => sum + units[at]! * entries[e]!.steps.length, 0);
}

/** For each mailbox of a group, the courses of the classes that start in it, with their people. */
function classCourses(entries: readonly Entry[], found: Found, { turns }: StartTurns, g: number): ClassCourse[][] {
  const { groups, units, classes, courses } = found;
  const { mailboxes, entries: own } = groups[g]!;
  const { aims } = courses[g]!;
  const eligible = entries.map(eligibleMailboxes);
  const perMailbox = mailboxes.map((): ClassCourse[] => []);
  classes[g]!.forEach((sequenceClass, k) => {
    const starts = aims.map((curves) => curves[k]![0]!.at(-1)!);
    const all = sumOf(starts);
    const factor = all === 0 ? 1 : Math.max(1, withSlack(sequenceClass.units, mailboxes.length) / all);
    perMailbox.forEach((list, at) =>
      list.push({ steps: sequenceClass.steps, aims: aims[at]![k]!, factor, claims: [] }),
    );
    for (const e of sequenceClass.entries) {
      // The units of an entry are divided among its mailboxes by what each of these starts; some are bound to one.
      const open = sumOf(starts.filter((_, at) => eligible[e]!.has(mailboxes[at]!)));
      const here = units[g]![own.indexOf(e)]!;
      mailboxes.forEach((m, at) => {
        if (!eligible[e]!.has(m)) return;
        const free = open === 0 ? 0 : (here * starts[at]!) / open - (entries[e]!.bound.get(m) ?? 0);
        const most = groups.length === 1 ? Infinity : free < 1e-6 ? 0 : withSlack(free, 1);
        perMailbox[at]![k]!.claims.push({ turn: turns[e]!, free: most });
      });
    }
  });
  return perMailbox;
}
