import { DomainError } from '../errors';
import { dayNumber, isoWeekday } from './days';

/** The days on which delays between messages are counted. */
export interface WorkingCalendar {
  isWorking(day: number): boolean;
  /**
   * The n-th working day after `day`, or before it where n is below 0; with n = 0 the day itself, working or not.
   *
   * @param n whole number
   */
  add(day: number, n: number): number;
  /** How many working days lie in (from, to]; negative when `to` is before `from`. */
  between(from: number, to: number): number;
}

/**
 * @param weekdays ISO weekdays that work, 1 to 7, at least one
 * @param holidays ISO dates that do not work
 * @throws DomainError `invalid` without any working weekday, or for a date that is none
 */
export function workingCalendar(weekdays: readonly number[], holidays: readonly string[]): WorkingCalendar {
  const works = [1, 2, 3, 4, 5, 6, 7].map((w) => weekdays.includes(w));
  if (!works.includes(true)) {
    throw new DomainError('invalid', 'No weekday is a working day. Expected at least one of Monday to Sunday.');
  }
  const off = new Set(holidays.map(dayNumber));
  const isWorking = (day: number) => works[isoWeekday(day) - 1] === true && !off.has(day);
  const countAfter = (from: number, to: number) => {
    let n = 0;
    for (let d = from + 1; d <= to; d++) if (isWorking(d)) n++;
    return n;
  };
  return {
    isWorking,
    add(day, n) {
      let d = day;
      for (let left = n; left > 0;) if (isWorking(++d)) left--;
      for (let left = n; left < 0;) if (isWorking(--d)) left++;
      return d;
    },
    between: (from, to) => (to >= from ? countAfter(from, to) : -countAfter(to, from)),
  };
}
