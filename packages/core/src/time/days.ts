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
