import { dayNumber, isoDate } from '../time/days';

/** Days on the workspace's calendar, ISO dates, both included. */
export interface Period {
  from: string;
  to: string;
}

/** So many days up to and with today. */
export const lastDaysOf = (today: string, days: number): Period => ({
  from: isoDate(dayNumber(today) - days + 1),
  to: today,
});

/** As many days just before. */
export function periodBefore({ from, to }: Period): Period {
  const [first, last] = [dayNumber(from), dayNumber(to)];
  return { from: isoDate(first - (last - first + 1)), to: isoDate(first - 1) };
}
