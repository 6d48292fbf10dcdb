import type { Placements } from '../placements/placements';

/**
 * Moves the last people to start into earlier gaps that rounding and limits left, latest start first. A mailbox-day that
 * had no room for one kind of person is not tried again for that kind. Whoever has an instant of their own stays.
 *
 * @param part which part of the people who start, counted from the last, is tried; 0 to 1
 * @param except a person who was moved by hand and stays
 */
export function pullForward(placements: Placements, part: number, except?: number): void {
  const { day, mailbox, width } = placements;
  const holes = new Holes(placements);
  for (const p of lastStarters(placements, part)) {
    if (p === except) continue;
    const m = mailbox[p]!;
    const own = day.slice(p * width, (p + 1) * width);
    placements.free(p);
    if (!holes.start(p, own[0]!)) placements.take(p, m, own);
  }
}

/** The given part of the people who start, latest start first. */
function lastStarters({ book, day, mailbox, width, days }: Placements, part: number): number[] {
  const { people } = book;
  const byDay: number[][] = [];
  let all = 0;
  for (let p = people.count - 1; p >= 0; p--) {
    if (people.nextStep[p] !== 0 || mailbox[p]! < 0 || (people.at?.[p] ?? -1) >= 0) continue;
    (byDay[day[p * width]!] ??= []).push(p);
    all++;
  }
  const out: number[] = [];
  const wanted = Math.ceil(all * part);
  for (let i = days.count - 1; i >= 0; i--)
    for (const p of byDay[i] ?? []) {
      if (out.length === wanted) return out;
      out.push(p);
    }
  return out;
}

/** Mailbox-days that may still have room for a start, per kind of person. */
class Holes {
  /** For each kind and mailbox, the first day not known to be full. */
  private readonly from = new Map<number, Int32Array>();

  constructor(private readonly placements: Placements) {}

  /** Starts a person before a day, as early as possible. @returns whether that was possible */
  start(p: number, before: number): boolean {
    const { placements } = this;
    const { people } = placements.book;
    const from = this.fromOf(people.kind[p]!);
    let best = -1;
    let day = before;
    for (const m of placements.mailboxes(p)) {
      let i = Math.max(people.earliest[p]!, from[m]!);
      while (i < day && !placements.couldStart(p, m, i)) i++;
      from[m] = i;
      if (i < day) [best, day] = [m, i];
    }
    return best >= 0 && placements.start(p, best, day);
  }

  private fromOf(kind: number): Int32Array {
    let from = this.from.get(kind);
    if (!from) this.from.set(kind, (from = new Int32Array(this.placements.book.mailboxes)));
    return from;
  }
}
