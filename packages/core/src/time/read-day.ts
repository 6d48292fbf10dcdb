import type { DateForm } from './day-words';
import { dateOf, dayNumber, fullYear, isoDate } from './days';
import { monthNamed } from './month-names';

/**
 * Reads a day as a person types it: `2026-12-24`, `24 Dec 2026`, `Thu 24 December`, `December 24, 2026`, `24.12.2026`,
 * `24/12/26`, `today`, `tomorrow`. In figures with slashes the month comes first where the workspace writes dates so, and
 * else the day. Without a year it is the next such day, today included; two figures are a year of this century.
 *
 * @param today ISO date
 * @param form how the workspace writes dates
 * @returns ISO date; null when it is no day, or none of the calendar
 */
export function readDay(text: string, today: string, form: DateForm = 'day_month'): string | null {
  const words = text
    .trim()
    .toLowerCase()
    .replace(/^(mon|tues?|wed(nes)?|thu(rs)?|fri|sat(ur)?|sun)(day)?\b[,.]?\s*/, '');
  if (words === 'today') return today;
  if (words === 'tomorrow') return isoDate(dayNumber(today) + 1);
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(words);
  if (iso) return dateOf(Number(iso[1]), Number(iso[2]), Number(iso[3]));
  const figures = /^(\d{1,2})([./-])\s?(\d{1,2})(?:\2\s?(\d{4}|\d{2})|\2)?$/.exec(words);
  if (figures) {
    const [first, second] = [Number(figures[1]), Number(figures[3])];
    const isMonthFirst = form === 'month_day' && figures[2] === '/';
    return isMonthFirst ? withYear(figures[4], first, second, today) : withYear(figures[4], second, first, today);
  }
  const named =
    /^(?<day>\d{1,2})(?:st|nd|rd|th|\.)?\s+(?<month>[a-z]{3,9})\.?(?:,?\s+(?<year>\d{4}))?$/.exec(words) ??
    /^(?<month>[a-z]{3,9})\.?\s+(?<day>\d{1,2})(?:st|nd|rd|th)?(?:,?\s+(?<year>\d{4}))?$/.exec(words);
  const { day, month = '', year } = named?.groups ?? {};
  return named ? withYear(year, monthNamed(month), Number(day), today) : null;
}

function withYear(year: string | undefined, month: number, day: number, today: string): string | null {
  if (year !== undefined) return dateOf(fullYear(year), month, day);
  const thisYear = Number(today.slice(0, 4));
  // A 29 February may be up to eight years away (1896 to 1904, 2096 to 2104).
  for (let y = thisYear; y <= thisYear + 8; y++) {
    const found = dateOf(y, month, day);
    if (found !== null && found >= today) return found;
  }
  return null;
}

/**
 * Reads days that a person typed one after another, apart by commas, semicolons or lines; ISO dates by spaces too.
 *
 * @param today ISO date
 * @returns ISO dates, each once, in order; or the first part that is no day
 */
export function readDays(
  text: string,
  today: string,
  form: DateForm = 'day_month',
): { days: string[] } | { wrong: string } {
  const parts = text.split(/[,;\n]|(?<=\d{4}-\d\d-\d\d)\s/).map((part) => part.trim());
  const days = new Set<string>();
  for (const part of parts.filter((p) => p !== '')) {
    const day = readDay(part, today, form);
    if (day === null) return { wrong: part };
    days.add(day);
  }
  return { days: [...days].sort() };
}
