/** A last day that was tried, and how many too many start up to it, as a part of all who wait; below 0: too few. */
export interface Tried {
  day: number;
  over: number;
}

/** What is known before a last day is sought. */
export interface Near {
  /** Where to begin; a fraction is rounded. */
  day: number;
  /** By how much more are over a day later. */
  perDay: number;
  /** A day tried for little different work. */
  tried: Tried | null;
}

export interface Bounds {
  first: number;
  last: number;
  /** Most tries, 1 or more. */
  rounds: number;
  /** Starts missing and too many for which it is not sought further. */
  missing: number;
  over: number;
  /** How far apart two days may be between which it is worth going, 1 or more. */
  apart: number;
}

export interface Found<T extends Tried> {
  /** What was tried last. */
  tried: T;
  /** The nearest days on either side of the one on which just enough start, where it is worth going between them. */
  between: [low: T, high: T] | null;
  /** On which just enough start, as far as is known. */
  day: number;
  /** By how much more are over a day later there. */
  perDay: number;
}

/**
 * Seeks the last day up to which just enough people start: the secant method, each step a whole day or more and
 * to the other side of what is wanted, between the days that are known to be too early and too late.
 *
 * @param tryDay how many start is not less for a later day
 */
export function seekLastDay<T extends Tried>(tryDay: (day: number) => T, near: Near, bounds: Bounds): Found<T> {
  const { first, last } = bounds;
  let low: T | null = null;
  let high: T | null = null;
  let before = near.tried;
  let { perDay } = near;
  let next = Math.max(first, Math.min(last, Math.round(near.day)));
  for (let round = 1; ; round++) {
    const tried = tryDay(next);
    const { over, day } = tried;
    if (over >= 0) high = tried;
    else low = tried;
    // As many more or fewer a day as the last step changed, within reason.
    if (before && before.day !== day)
      perDay = Math.min(2 * near.perDay, Math.max(0.5 * near.perDay, (over - before.over) / (day - before.day)));
    const wanted = day - over / perDay;
    const isNear = over <= bounds.over && over >= -bounds.missing;
    next = over < 0 ? Math.max(day + 1, Math.ceil(wanted)) : Math.min(day - 1, Math.floor(wanted));
    next = Math.min(high ? high.day - 1 : last, Math.max(low ? low.day + 1 : first, next));
    const isClosed = low !== null && high !== null && high.day - low.day <= bounds.apart;
    if (!isNear && !isClosed && next !== day && round < bounds.rounds) {
      before = tried;
      continue;
    }
    if (isNear || !low || !high) return { tried, between: null, day: wanted, perDay };
    const part = -low.over / (high.over - low.over);
    const slope = (high.over - low.over) / (high.day - low.day);
    return { tried, between: [low, high], day: low.day + part * (high.day - low.day), perDay: slope };
  }
}
