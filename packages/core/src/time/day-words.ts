import { DAY_MS } from './clock';
import { dayNumber } from './days';

/** How a workspace writes its dates: the day first, the month first, or in figures from the year on (ISO 8601). */
export const DATE_FORMS = ['day_month', 'month_day', 'iso'] as const;
export type DateForm = (typeof DATE_FORMS)[number];

type Length = 'short' | 'dated' | 'long';

const PARTS: Record<Length, Intl.DateTimeFormatOptions> = {
  short: { weekday: 'short', day: 'numeric', month: 'short' },
  dated: { weekday: 'short', day: 'numeric', month: 'short', year: 'numeric' },
  long: { weekday: 'long', day: 'numeric', month: 'long' },
};

const formats = (language: string, parts: Record<Length, Intl.DateTimeFormatOptions>) => {
  const make = (length: Length) => new Intl.DateTimeFormat(language, { timeZone: 'UTC', ...parts[length] });
  return { short: make('short'), dated: make('dated'), long: make('long') };
};

const ORDERS = { day_month: formats('en-GB', PARTS), month_day: formats('en-US', PARTS) };
const WEEKDAYS = formats('en-GB', {
  short: { weekday: 'short' },
  dated: { weekday: 'short' },
  long: { weekday: 'long' },
});

/**
 * A date in words. Days that stand one after another are told apart by commas, so that none stands in one.
 *
 * @returns `Tue 15 Dec`; dated `Tue 15 Dec 2026`; long `Tuesday 15 December`; with the month first `Tue Dec 15`,
 *   `Tue Dec 15 2026`, `Tuesday December 15`; in figures always with the year, `Tue 2026-12-15`
 * @throws DomainError `invalid` when it is not an ISO date
 */
export function dayWords(isoDate: string, length: Length = 'short', form: DateForm = 'day_month'): string {
  const date = new Date(dayNumber(isoDate) * DAY_MS);
  if (form === 'iso') return `${WEEKDAYS[length].format(date)} ${isoDate}`;
  return ORDERS[form][length].format(date).replace(/,/g, '');
}
