import { DomainError } from '../errors';
import { dayNumber, isoDate } from './days';

/** A day of a calendar and what it is called. */
export interface CalendarDay {
  /** ISO date. */
  day: string;
  name: string;
}

/** Most days that one entry may span, and most that are taken in all. */
const MOST_DAYS_EACH = 60;
const MOST_DAYS = 2000;

/**
 * The days of an iCalendar file: of each event every day that it spans; of one that comes back every year, those of
 * the years asked for too.
 *
 * Source: RFC 5545 (3.1 unfolding, 3.3.4 and 3.3.5 dates, 3.6.1 events, 3.8.5.3 recurrence).
 *
 * @param years for entries that come back, first and last
 * @throws DomainError `invalid` for what is not a calendar
 */
export function readCalendarDays(text: string, years: [first: number, last: number]): CalendarDay[] {
  const lines = text.replace(/\r?\n[ \t]/g, '').split(/\r?\n/);
  if (!lines.some((l) => /^BEGIN:VCALENDAR\s*$/i.test(l)))
    throw new DomainError(
      'invalid',
      'This is not a calendar file. Expected iCalendar, which begins with BEGIN:VCALENDAR.',
    );
  const days = new Map<string, string>();
  let event: Record<string, string> | null = null;
  for (const line of lines) {
    if (/^BEGIN:VEVENT/i.test(line)) event = {};
    else if (/^END:VEVENT/i.test(line)) {
      if (event) for (const { day, name } of daysOf(event, years)) if (days.size < MOST_DAYS) days.set(day, name);
      event = null;
    } else if (event) {
      const at = line.indexOf(':');
      const name = line.slice(0, at).split(';')[0]?.toUpperCase() ?? '';
      if (at > 0) event[name] ??= line.slice(at + 1).trim();
    }
  }
  return [...days].map(([day, name]) => ({ day, name })).sort((a, b) => (a.day < b.day ? -1 : 1));
}

function daysOf(event: Readonly<Record<string, string>>, [first, last]: [number, number]): CalendarDay[] {
  const start = dayOf(event['DTSTART']);
  if (start === null || event['STATUS'] === 'CANCELLED') return [];
  const end = dayOf(event['DTEND']) ?? start + 1;
  // A timed event that ends at an hour of a day spans that day too.
  const length = Math.min(
    MOST_DAYS_EACH,
    Math.max(1, end - start + (/T(?!000000)/.test(event['DTEND'] ?? '') ? 1 : 0)),
  );
  const name = (event['SUMMARY'] ?? '').replace(/\\n/gi, ' ').replace(/\\(.)/g, '$1');
  const yearly = /FREQ=YEARLY/i.test(event['RRULE'] ?? '') && !/BYDAY|BYMONTHDAY|BYYEARDAY/i.test(event['RRULE'] ?? '');
  const starts = yearly ? inYears(isoDate(start), first, last) : [start];
  return starts.flatMap((from) => Array.from({ length }, (_, i) => ({ day: isoDate(from + i), name })));
}

/** The same day of other years, from its own on; 29 February only where there is one. */
function inYears(iso: string, first: number, last: number): number[] {
  const days: number[] = [];
  for (let year = Math.max(first, Number(iso.slice(0, 4))); year <= last; year++) {
    const day = Date.parse(`${year}${iso.slice(4)}T00:00:00Z`);
    if (!Number.isNaN(day) && new Date(day).toISOString().slice(5, 10) === iso.slice(5)) days.push(day / 86_400_000);
  }
  return days;
}

function dayOf(value: string | undefined): number | null {
  const m = /^(\d{4})(\d{2})(\d{2})/.exec(value ?? '');
  if (!m) return null;
  try {
    return dayNumber(`${m[1]}-${m[2]}-${m[3]}`);
  } catch {
    return null;
  }
}
