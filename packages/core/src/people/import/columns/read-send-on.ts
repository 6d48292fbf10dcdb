import { isoOfSerial } from '../files/workbook/number-format';
import { dateReader, timeBehind, type DateReading } from './read-dates';

/**
 * Reads a column of days on which to send, each with or without a time: what {@link dateReader} reads, and the time that
 * stands behind the day (`9:30`, `9.30 am`, `um 14:05 Uhr`, `T09:30:00Z`, `10h30`, `09:30 CET`). Midnight is no time:
 * databases write it behind every day.
 *
 * @returns what reads one cell: `2026-11-30`; `2026-11-30T09:30` for a time on the recipient's clock; with `Z` or an offset
 *   behind it where the cell names a zone; null for what is no day, or a time or zone that there is not
 */
export function sendOnReader(column: readonly string[], reading: DateReading = {}): (cell: string) => string | null {
  const readDate = dateReader(column, reading);
  return (cell) => {
    const day = readDate(cell);
    if (day === null) return null;
    const time = /^\d{5}[.,]\d+$/.test(cell.trim()) ? timeOfSerial(cell) : readTime(timeBehind(cell));
    return time === null ? null : `${day}${time}`;
  };
}

function timeOfSerial(cell: string): string {
  const time = isoOfSerial(Number(cell.trim().replace(',', '.')), false)?.slice(11, 16) ?? '';
  return time === '' ? '' : `T${time}`;
}

/** Zones that mean one offset wherever they are written (RFC 5322, 4.3, and those of Europe). */
const OFFSETS: Readonly<Record<string, string>> = {
  ...{ Z: 'Z', UTC: 'Z', GMT: 'Z', UT: 'Z', WET: 'Z', WEST: '+01:00', CET: '+01:00', CEST: '+02:00', EET: '+02:00' },
  ...{ MEZ: '+01:00', MESZ: '+02:00', EEST: '+03:00', EST: '-05:00', EDT: '-04:00', CDT: '-05:00', MST: '-07:00' },
  ...{ MDT: '-06:00', PST: '-08:00', PDT: '-07:00' },
};

/** @returns '' without a time; null for one that there is not */
function readTime(text: string): string | null {
  if (text === '') return '';
  const parts =
    /(?<hour>\d{1,2})[:.h](?<minute>\d{2})(?:[:.]\d{2}(?:[.,]\d+)?)?\s*(?<half>[ap])?(?:\.?m\.?)?\s*(?:uhr|h)?\s*(?<zone>[a-z]{1,4}|[+-]\d{2}:?\d{2})?$/i.exec(
      text,
    )?.groups;
  if (!parts) return null;
  const half = parts['half']?.toLowerCase();
  const written = Number(parts['hour']);
  if (half !== undefined && (written < 1 || written > 12)) return null;
  const hour = half === undefined ? written : (written % 12) + (half === 'p' ? 12 : 0);
  if (hour > 23 || Number(parts['minute']) > 59) return null;
  const { zone = '' } = parts;
  const offset = zone === '' ? '' : /\d/.test(zone) ? withColon(zone) : OFFSETS[zone.toUpperCase()];
  if (offset === undefined) return null;
  const time = `T${String(hour).padStart(2, '0')}:${parts['minute']}`;
  return time === 'T00:00' && half === undefined && offset === '' ? '' : `${time}${offset}`;
}

const withColon = (offset: string): string => `${offset.slice(0, 3)}:${offset.slice(-2)}`;
