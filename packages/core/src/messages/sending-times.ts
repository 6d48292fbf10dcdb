import { DAY_MS } from '../time/clock';
import { isoDate, isoWeekday } from '../time/days';
import { MONTH_NAMES } from '../time/month-names';
import type { Zone } from '../time/zone';

const WEEKDAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];

/** A moment in the forms that messages use, by field key; the words are English. */
export function sendingTimes(ms: number, zone: Zone): Record<string, string> {
  const { day, minute } = zone.toLocal(ms);
  const [year, month, date] = isoDate(day).split('-').map(Number) as [number, number, number];
  const monthName = MONTH_NAMES[month - 1] as string;
  const two = (n: number) => String(n).padStart(2, '0');
  return {
    sendingdate: `${date} ${monthName} ${year}`,
    sendingday: String(date),
    sendingweekday: WEEKDAYS[isoWeekday(day) - 1] as string,
    sendingweek: String(isoWeek(day)),
    sendingmonth: monthName,
    sendingyear: String(year),
    sendingtime: `${two(Math.floor(minute / 60))}:${two(Math.floor(minute % 60))}`,
    sendingmoment: new Date(ms).toISOString(),
  };
}

/** Week of the year as ISO 8601 counts: the first has the year's first Thursday. */
function isoWeek(day: number): number {
  const thursday = day + 4 - isoWeekday(day);
  const january = Date.UTC(Number(isoDate(thursday).slice(0, 4)), 0, 1) / DAY_MS;
  return Math.floor((thursday - january) / 7) + 1;
}
