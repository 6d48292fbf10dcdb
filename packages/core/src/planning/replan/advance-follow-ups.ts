import type { Keeper } from './keep-placed';
import type { Placements } from '../placements/placements';

/**
 * Moves follow-ups to the first day on which they fit, if that makes nothing else late: room that was reserved for starts
 * and not used need not stay empty. Messages kept from the previous plan stay.
 */
export function advanceFollowUps(placements: Placements, keeper: Keeper | null): void {
  const { book, day, mailbox, width, days } = placements;
  const { people } = book;
  for (let p = 0; p < people.count; p++) {
    const m = mailbox[p]!;
    if (m < 0 || keeper?.stays(p)) continue;
    const steps = placements.steps(p);
    const first = people.nextStep[p]!;
    for (let s = Math.max(1, first); s < steps.length; s++) {
      const k = p * width + s;
      const low = s === first ? people.earliest[p]! : days.firstAfter(day[k - 1]!, steps[s]!.delay);
      const next = steps[s + 1];
      for (let i = low; i < day[k]!; i++) {
        if (!book.fits(p, m, i)) continue;
        if (next && day[k + 1]! > days.until(i, next.delay + next.tolerance)) continue;
        book.put(p, m, day[k]!, -1);
        book.put(p, m, i);
        day[k] = i;
        break;
      }
    }
  }
}
