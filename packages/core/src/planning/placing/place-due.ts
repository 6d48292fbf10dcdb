import type { Placements } from '../placements/placements';

/**
 * Places people in progress. First those who can be on time, by earliest deadline, each as late as
 * tolerance allows, which keeps the most of them on time (for messages of one unit: Moore and Hodgson's rule
 * with equal lengths) and the early days free; then the others, as early as there is room.
 *
 * @param asLate false: on the first day that fits, since nobody waits to start
 */
export function placeDue(placements: Placements, asLate: boolean): void {
  const { people } = placements.book;
  const due: number[] = [];
  for (let p = 0; p < people.count; p++) {
    const { held, steps } = placements.campaigns[people.campaign[p]!]!;
    if (placements.mailbox[p]! < 0 && people.nextStep[p]! > 0 && people.nextStep[p]! < steps.length && !held)
      due.push(p);
  }
  const deadline = new Int32Array(people.count);
  for (const p of due) deadline[p] = deadlineOf(placements, p);
  due.sort((a, b) => deadline[a]! - deadline[b]! || people.earliest[a]! - people.earliest[b]! || a - b);
  const late = due.filter((p) => !placeOne(placements, p, deadline[p]!, asLate));
  late.sort((a, b) => people.earliest[a]! - people.earliest[b]! || a - b);
  for (const p of late) placeLate(placements, p, 0);
}

/** The last day on which the next message of someone in progress is on time; before the plan: -1 or less. */
function deadlineOf(placements: Placements, p: number): number {
  const { people } = placements.book;
  const { tolerance } = placements.steps(p)[people.nextStep[p]!]!;
  return placements.days.lastWith(people.dueWorkday[p]! + tolerance);
}

function placeOne(placements: Placements, p: number, deadline: number, asLate: boolean): boolean {
  const { people } = placements.book;
  const step = people.nextStep[p]!;
  const days = placements.scratch;
  for (const m of placements.mailboxes(p)) {
    const low = people.earliest[p]!;
    const day = asLate ? placements.lastFit(p, m, low, deadline) : placements.firstFit(p, m, low);
    if (day < 0 || day > deadline) continue;
    days[step] = day;
    if (!placements.follow(p, m, step, days, true)) continue;
    placements.take(p, m, days);
    return true;
  }
  return false;
}

/** Places a person as early as there is room from day `from` on, late or not. @returns whether there was room */
export function placeLate(placements: Placements, p: number, from: number): boolean {
  const { people } = placements.book;
  const step = people.nextStep[p]!;
  const days = placements.scratch;
  let found = -1;
  let first = Infinity;
  for (const m of placements.mailboxes(p)) {
    const day = placements.firstFit(p, m, Math.max(from, people.earliest[p]!));
    if (day >= 0 && day < first) [found, first] = [m, day];
  }
  if (found < 0) return false;
  days[step] = first;
  if (!placements.follow(p, found, step, days, true)) return false;
  placements.take(p, found, days);
  return true;
}
