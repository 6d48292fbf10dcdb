import { dateOf, fullYear } from '../../../time/days';
import { monthNamed } from '../../../time/month-names';

/**
 * Reads a column's dates: `2026-11-30`, `30.11.2026`, `30/11/26`, `30 Nov 2026`, `November 30, 2026`, each with or
 * without a time behind. Whether `3/4/2026` is in March or April is detected from the other cells of the column; where
 * none tells, the day comes first, as it does in most of the world.
 *
 * @param column all cells of the column
 * @returns what reads one cell: an ISO date, or null for what is none
 */
export function dateReader(column: readonly string[]): (cell: string) => string | null {
  const parts = column.map((c) => /^\s*(\d{1,2})[/.-](\d{1,2})[/.-]\d{2,4}\b/.exec(c));
  const monthFirst = parts.some((p) => p && Number(p[2]) > 12) && !parts.some((p) => p && Number(p[1]) > 12);
  return (cell) => readDate(cell, monthFirst);
}

function readDate(cell: string, monthFirst: boolean): string | null {
  const text = cell.trim();
  const iso = /^(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})(?:\D|$)/.exec(text);
  if (iso) return dateOf(Number(iso[1]), Number(iso[2]), Number(iso[3]));
  const numeric = /^(\d{1,2})[/.-](\d{1,2})[/.-](\d{2}|\d{4})(?:\D|$)/.exec(text);
  if (numeric) {
    const [first, second] = [Number(numeric[1]), Number(numeric[2])];
    // A dot is written where the day comes first.
    const swapped = monthFirst && !text.includes('.');
    return dateOf(fullYear(numeric[3] as string), swapped ? first : second, swapped ? second : first);
  }
  const dayMonth = /^(\d{1,2})\.?\s+([A-Za-z]{3,9})\.?,?\s+(\d{4})\b/.exec(text);
  if (dayMonth) return dateOf(Number(dayMonth[3]), monthNamed(dayMonth[2] as string), Number(dayMonth[1]));
  const monthDay = /^([A-Za-z]{3,9})\.?\s+(\d{1,2})(?:st|nd|rd|th)?,?\s+(\d{4})\b/.exec(text);
  return monthDay ? dateOf(Number(monthDay[3]), monthNamed(monthDay[1] as string), Number(monthDay[2])) : null;
}
