import { DomainError } from '../errors';
import { DAY_MS } from './clock';

/** Days since 1970-01-01 of an ISO date. @throws DomainError `invalid` when it is not a date */
export function dayNumber(isoDate: string): number {
  const ms = /^\d{4}-\d{2}-\d{2}$/.test(isoDate) ? Date.parse(`${isoDate}T00:00:00Z`) : NaN;
  if (Number.isNaN(ms) || new Date(ms).toISOString().slice(0, 10) !== isoDate) {
    throw new DomainError('invalid', `“${isoDate}” is not a date. Expected year-month-day, such as 2026-11-30.`);
  }
  return ms / DAY_MS;
}

/** The ISO date of a day number. */
export function isoDate(day: number): string {
  return new Date(day * DAY_MS).toISOString().slice(0, 10);
}

/** ISO weekday of a day number: 1 Monday to 7 Sunday. */
export function isoWeekday(day: number): number {
  return ((((day + 3) % 7) + 7) % 7) + 1;
}

/** The ISO date of a day of the calendar; null where there is none, as 30 February. @param month 1 January to 12 */
export function dateOf(year: number, month: number, day: number): string | null {
  const date = [String(year).padStart(4, '0'), String(month).padStart(2, '0'), String(day).padStart(2, '0')].join('-');
  const ms = Date.parse(`${date}T00:00:00Z`);
  return Number.isNaN(ms) || isoDate(ms / DAY_MS) !== date ? null : date;
}

/** A year as it is written; two digits are one of this century. */
export const fullYear = (digits: string): number => (digits.length === 2 ? 2000 + Number(digits) : Number(digits));
