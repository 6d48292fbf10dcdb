import { dateOf, fullYear } from '../../../time/days';
import { isWeekdayNamed, monthNamedAnywhere } from '../../../time/calendar-names';
import { isoOfSerial } from '../files/workbook/number-format';

/** How a column's dates are read where their figures allow two ways. */
export interface DateReading {
  /** Whether `3/4/2026` is in March, where no cell of the column tells; null where nobody has said. */
  monthFirst?: boolean | null;
  /** Whether a bare number may be a spreadsheet's serial number: only where the column is known to hold dates. */
  serials?: boolean;
}

/** What tells the order of day and month in a column. */
export interface DateOrder {
  /** Null where no cell tells. */
  monthFirst: boolean | null;
  /** The first cell that could be read both ways; null where none could, or the column tells. */
  either: { cell: string; dayFirst: string; monthFirst: string } | null;
}

const FIGURES = /^(\d{1,2})\s?([/.-])\s?(\d{1,2})\s?\2\s?(\d{4}|\d{2})\.?$/;

/**
 * Looks through a column for what tells the order of day and month: a first figure over 12, or a second one. A dot is
 * written where the day comes first.
 */
export function dateOrder(column: readonly string[]): DateOrder {
  let [firsts, seconds] = [false, false];
  let either: DateOrder['either'] = null;
  for (const cell of column) {
    const m = FIGURES.exec(dayOf(cell));
    if (!m || m[2] === '.') continue;
    const [first, second] = [Number(m[1]), Number(m[3])];
    firsts ||= first > 12;
    seconds ||= second > 12;
    if (either || first === second || first > 12 || second > 12) continue;
    const year = fullYear(m[4] as string);
    const [dayFirst, monthFirst] = [dateOf(year, second, first), dateOf(year, first, second)];
    if (dayFirst !== null && monthFirst !== null) either = { cell: cell.trim(), dayFirst, monthFirst };
  }
  if (firsts || seconds) return { monthFirst: seconds && !firsts, either: null };
  return { monthFirst: null, either };
}

/**
 * Reads a column's dates: `2026-11-30`, `20261130`, `30.11.2026`, `5. 9. 2026`, `30/11/26`, `30-Nov-26`,
 * `Mon, 30 November 2026`, `November 30th, 2026`, `30 de noviembre de 2026`, `2026年11月30日`, each with or without a time
 * behind. Where no cell tells whether `3/4/2026` is in March or April, and nobody has said, the day comes first, as it
 * does in most of the world.
 *
 * @param column all cells of the column
 * @returns what reads one cell: an ISO date, or null for what is none
 */
export function dateReader(column: readonly string[], reading: DateReading = {}): (cell: string) => string | null {
  const monthFirst = dateOrder(column).monthFirst ?? reading.monthFirst ?? false;
  return (cell) => readDate(dayOf(cell), monthFirst, reading.serials ?? false);
}

/** A time behind a date, as it is written in a dozen languages. */
const TIME =
  /(?:[T,\s]\s*(?:at|um|kl\.?|à|alle|a las)?\s*)\d{1,2}[:.h]\d{2}(?:[:.]\d{2}(?:[.,]\d+)?)?\s*(?:[ap]\.?m\.?|uhr|h)?\s*(?:Z|UTC|GMT|[A-Z]{3,4}|[+-]\d{2}:?\d{2})?$/i;

const withoutTime = (text: string): string => text.slice(0, text.length - timeBehind(text).length);

/** The time that stands behind a date, with what leads to it and its zone; '' for none. */
export function timeBehind(cell: string): string {
  const text = cell.trim();
  if (text.length > 60 || !/\d[:.h]\d{2}/i.test(text) || FIGURES.test(text)) return '';
  return TIME.exec(text)?.[0] ?? '';
}

/** A date without a time behind it, nor its weekday before figures. */
function dayOf(cell: string): string {
  const text = withoutTime(cell.trim());
  const [whole, weekday] = text.length > 60 ? [] : (/^(\p{L}{2,})[.,]?\s+(?=\d+[./-])/u.exec(text) ?? []);
  return weekday !== undefined && isWeekdayNamed(weekday) ? text.slice(whole?.length) : text;
}

function readDate(text: string, monthFirst: boolean, serials: boolean): string | null {
  if (text === '' || text.length > 60) return null;
  const iso =
    /^(\d{4})\s?[-/.年년]\s?(\d{1,2})\s?[-/.月월]\s?(\d{1,2})[日일.]?$/.exec(text) ??
    /^(\d{4})(\d{2})(\d{2})$/.exec(text);
  if (iso) return inReach(Number(iso[1]), Number(iso[2]), Number(iso[3]));
  const figures = FIGURES.exec(text);
  if (figures) {
    const [first, second] = [Number(figures[1]), Number(figures[3])];
    const swapped = monthFirst && figures[2] !== '.';
    return inReach(fullYear(figures[4] as string), swapped ? first : second, swapped ? second : first);
  }
  if (/^\d{5}(?:[.,]\d+)?$/.test(text)) return serials ? ofSerial(Number(text.replace(',', '.'))) : null;
  return /\p{L}/u.test(text) ? readNamed(text) : null;
}

/** Years in which somebody might be written to or was born. */
const YEARS = [1900, 2199] as const;

const inReach = (year: number, month: number, day: number): string | null =>
  year >= YEARS[0] && year <= YEARS[1] ? dateOf(year, month, day) : null;

/** Serial numbers of 1954 to 2119: others are more likely amounts or post codes. */
const ofSerial = (serial: number): string | null =>
  serial >= 20_000 && serial < 80_400 ? (isoOfSerial(serial, false)?.slice(0, 10) ?? null) : null;

/** Words that stand in dates and mean nothing for them. */
const BETWEEN: ReadonlySet<string> = new Set(
  'st nd rd th of the de del da di den der le el am an er eme os ª º o a r г год года р року'.split(' '),
);

/** A date with its month in letters: the figures around it are the day, and the year if there is one of four or two. */
function readNamed(text: string): string | null {
  let month = 0;
  const figures: string[] = [];
  for (const [piece] of text.matchAll(/\d+|\p{L}+/gu)) {
    if (/\d/.test(piece)) {
      figures.push(piece);
      continue;
    }
    const named = month === 0 ? monthNamedAnywhere(piece) : 0;
    if (named > 0) month = named;
    else if (!BETWEEN.has(piece.toLowerCase()) && !isWeekdayNamed(piece)) return null;
  }
  const [one = '', two = ''] = figures;
  if (month === 0 || figures.length !== 2 || !/^(?:\d{1,2}|\d{4})$/.test(one) || !/^(?:\d{1,2}|\d{4})$/.test(two))
    return null;
  const [year, day] = one.length === 4 ? [one, two] : [two, one];
  if (day.length > 2 || year.length === 1) return null;
  return inReach(fullYear(year), month, Number(day));
}
