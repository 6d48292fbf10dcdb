import { dayNumber } from './days';
import { DAY_MS } from './clock';

const FORMATS = {
  short: new Intl.DateTimeFormat('en-GB', { timeZone: 'UTC', weekday: 'short', day: 'numeric', month: 'short' }),
  dated: new Intl.DateTimeFormat('en-GB', {
    timeZone: 'UTC',
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    year: 'numeric',
  }),
  long: new Intl.DateTimeFormat('en-GB', { timeZone: 'UTC', weekday: 'long', day: 'numeric', month: 'long' }),
};

/**
 * A date in words.
 *
 * @returns `Tue 15 Dec`; dated `Tue 15 Dec 2026`; long `Tuesday 15 December`
 * @throws DomainError `invalid` when it is not an ISO date
 */
export function dayWords(isoDate: string, length: keyof typeof FORMATS = 'short'): string {
  return FORMATS[length].format(new Date(dayNumber(isoDate) * DAY_MS)).replace(',', '');
}
