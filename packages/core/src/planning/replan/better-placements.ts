import { forecastOf } from '../forecast-of';
import type { Placements } from '../placements/placements';

/** The better of two placements of the same people: more people placed, else fewer late follow-ups, else earlier starts. */
export function betterPlacements(a: Placements, b: Placements): Placements {
  const [one, other] = [measure(a), measure(b)];
  const differing = one.findIndex((n, i) => n !== other[i]);
  return differing < 0 || one[differing]! < other[differing]! ? a : b;
}

/** People not placed, late follow-ups, and the sum of the working days of all starts. */
function measure(placements: Placements): number[] {
  const { book, days, day, mailbox, width } = placements;
  let [unplaced, starts] = [0, 0];
  for (let p = 0; p < book.people.count; p++) {
    if (mailbox[p]! < 0) unplaced++;
    else if (book.people.nextStep[p] === 0) starts += days.workday[day[p * width]!]!;
  }
  return [unplaced, forecastOf(placements).reduce((sum, { late }) => sum + late, 0), starts];
}
