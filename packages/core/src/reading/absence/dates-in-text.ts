import { DAY_MS } from '../../time/clock';

/** A day that a text names. */
export interface NamedDay {
  /** Where it stands in the text. */
  from: number;
  to: number;
  /** Days since 1 January 1970. */
  day: number;
}

/** Names of the months in a dozen languages, each as a date has it. */
const MONTH_NAMES: readonly string[] = [
  'january januar jänner janvier enero gennaio janeiro januari tammikuuta stycznia ledna január januára января січня ianuarie ocak ιανουαρίου jan janv ene genn gen янв',
  'february februar feber février fevrier febrero febbraio fevereiro februari helmikuuta lutego února február februára февраля лютого februarie şubat φεβρουαρίου feb févr fév febbr fev фев',
  'march märz maerz mars marzo março maart marts maaliskuuta marca března március марта березня martie mart μαρτίου mar mär mrt мар',
  'april avril abril aprile huhtikuuta kwietnia dubna április apríla апреля квітня aprilie nisan απριλίου apr avr abr апр',
  'may mai mayo maggio maio mei maj toukokuuta maja května május mája мая травня mayıs μαΐου magg',
  'june juni juin junio giugno junho kesäkuuta czerwca června június júna июня червня iunie haziran ιουνίου jun giu июн',
  'july juli juillet julio luglio julho heinäkuuta lipca července július júla июля липня iulie temmuz ιουλίου jul juil lug июл',
  'august août aout agosto augustus augusti elokuuta sierpnia srpna augusztus augusta августа серпня ağustos αυγούστου aug ago авг',
  'september septembre septiembre setiembre settembre setembro syyskuuta września září szeptember septembra сентября вересня septembrie eylül σεπτεμβρίου sep sept sett set сен',
  'october oktober octobre octubre ottobre outubro lokakuuta października října október októbra октября жовтня octombrie ekim οκτωβρίου oct okt ott окт',
  'november novembre noviembre novembro marraskuuta listopadu listopada novembra ноября листопада noiembrie kasım νοεμβρίου nov ноя',
  'december dezember décembre decembre diciembre dicembre dezembro desember joulukuuta grudnia prosince decembra декабря грудня decembrie aralık δεκεμβρίου dec dez déc dic des дек',
];
/** In Czech the eleventh month, in Croatian the tenth: the former is meant, which has other months of its own. */
const MONTH_OF = new Map(MONTH_NAMES.flatMap((names, i) => names.split(' ').map((name) => [name, i] as const)));
/** The name of a month, in parentheses. */
export const MONTH = `(${[...MONTH_OF.keys()].sort((a, b) => b.length - a.length).join('|')})`;
const WORD_END = '(?![\\p{L}\\p{M}])';
const ORDINAL = '(?:st|nd|rd|th|er|º|°|ª|:a|:e)?';

interface Reading {
  year: number | null;
  month: number;
  date: number;
}

/** Each way of writing a date, and how it is read; the first that matches at a place counts. */
const FORMS: readonly [
  form: RegExp,
  read: (groups: readonly string[], near: number, order: Order) => Reading | null,
][] = [
  [/(?<!\d)(20\d\d)[-/.](\d{1,2})[-/.](\d{1,2})(?!\d)/gu, ([y, m, d]) => reading(y, Number(m) - 1, d)],
  [/(?:(20\d\d)\s?年\s?)?(\d{1,2})\s?月\s?(\d{1,2})\s?日/gu, ([y, m, d]) => reading(y, Number(m) - 1, d)],
  [/(?:(20\d\d)\s?년\s?)?(\d{1,2})\s?월\s?(\d{1,2})\s?일/gu, ([y, m, d]) => reading(y, Number(m) - 1, d)],
  // Hungarian: "2026. december 7."
  [
    new RegExp(`(?<!\\d)(20\\d\\d)\\.?\\s${MONTH}${WORD_END}\\.?\\s(\\d{1,2})(?!\\d)`, 'giu'),
    ([y, m = '', d]) => reading(y, monthOf(m), d),
  ],
  [
    new RegExp(
      `(?<![\\d.,:])(\\d{1,2})${ORDINAL}\\.?\\s?(?:of |de |d['’])?${MONTH}${WORD_END}\\.?,?(?:\\s(?:de |del |do |of )?(20\\d\\d)(?!\\d))?`,
      'giu',
    ),
    ([d, m = '', y]) => reading(y, monthOf(m), d),
  ],
  [
    new RegExp(
      `(?<![\\p{L}])${MONTH}${WORD_END}\\.?\\s(?:the )?(\\d{1,2})${ORDINAL}(?!\\d|[:.]\\d)(?:,?\\s(20\\d\\d)(?!\\d))?`,
      'giu',
    ),
    ([m = '', d, y]) => reading(y, monthOf(m), d),
  ],
  // "7.12.2026", "7.12.", "7. 12."; a time of the day has no month of its own and no dot behind it.
  [/(?<![\d.:,+])(\d{1,2})\.\s?(\d{1,2})\.(?:\s?(20\d\d|\d\d(?!\d)))?/gu, ([d, m, y]) => reading(y, Number(m) - 1, d)],
  [
    /(?<![\d.:,+/-])(\d{1,2})[-/](\d{1,2})[-/](20\d\d|\d\d)(?![\d/-])/gu,
    ([a, b, y], near, order) => bySlashes([a, b, y], near, order),
  ],
  [/(?<![\d.:,+/-])(\d{1,2})\/(\d{1,2})(?![\d/])/gu, ([a, b], near, order) => bySlashes([a, b], near, order)],
  // "until the 1st": of this month or the next.
  [
    /(?<=\bthe )(\d{1,2})(?:st|nd|rd|th)(?![\p{L}\d-]|\s(?:of\b|floor|half|quarter|time|week|day|edition|anniversary))/giu,
    ([d], near) => nextOfMonth(Number(d), near),
  ],
];

/** Its number from 0; -1 for no month. */
export const monthOf = (name: string): number => MONTH_OF.get(name.toLowerCase()) ?? -1;

function reading(year: string | undefined, month: number, date: string | undefined): Reading | null {
  const y = year === undefined ? null : Number(year) < 100 ? 2000 + Number(year) : Number(year);
  const d = Number(date);
  return month >= 0 && month < 12 && d >= 1 && d <= 31 ? { year: y, month, date: d } : null;
}

/** Which number of "12/1" is the month: `near` where the text does not tell. */
type Order = 'day first' | 'month first' | 'near';

const ENGLISH = /\b(?:the|i|am|will|back|out|until|through|return\w*|office)\b/i;

/** Day first, as most write it; in English it may be either. A date with a number above twelve tells of all. */
function orderIn(text: string): Order {
  for (const [, a, b] of text.matchAll(/(?<![\d/])(\d{1,2})\/(\d{1,2})(?!\d)/g)) {
    if (Number(a) > 12) return 'day first';
    if (Number(b) > 12) return 'month first';
  }
  return ENGLISH.test(text) ? 'near' : 'day first';
}

/** In the order of the text, unless only the other is near. */
function bySlashes([a, b, year]: readonly (string | undefined)[], near: number, order: Order): Reading | null {
  const both = [reading(year, Number(b) - 1, a), reading(year, Number(a) - 1, b)];
  if (order === 'month first') both.reverse();
  const daysAhead = (r: Reading | null) => {
    const day = r && dayOf(r, near);
    return day === null ? Infinity : day - near;
  };
  const isNear = (r: Reading | null) => daysAhead(r) >= -7 && daysAhead(r) <= NEAR_DAYS;
  const likely = both.filter(isNear);
  // Absences are short: of two days to come, the nearer.
  if (order === 'near') likely.sort((r, s) => daysAhead(r) - daysAhead(s) || 0);
  return likely.find((r) => daysAhead(r) >= 0) ?? likely[0] ?? both.find((r) => r !== null) ?? null;
}

function nextOfMonth(date: number, near: number): Reading | null {
  const today = new Date(near * DAY_MS);
  const month = today.getUTCMonth() + (date < today.getUTCDate() ? 1 : 0);
  return reading(undefined, month % 12, String(date));
}

/** An absence of whose end somebody tells is mostly over by then. */
const NEAR_DAYS = 120;
/** A date without a year that is further back than this is of next year. */
const PAST_DAYS = 60;

/** The day that is meant; null for one that no calendar has. */
function dayOf({ year, month, date }: Reading, near: number): number | null {
  const at = (y: number) => {
    const day = Date.UTC(y, month, date) / DAY_MS;
    return new Date(day * DAY_MS).getUTCMonth() === month ? day : null;
  };
  if (year !== null) return at(year);
  const thisYear = new Date(near * DAY_MS).getUTCFullYear();
  const day = at(thisYear);
  return day !== null && day < near - PAST_DAYS ? at(thisYear + 1) : day;
}

/**
 * Days that a text names with day and month, in the order in which they stand in it.
 *
 * @param near days since 1 January 1970: around it lies a date without a year, and of two readings the nearer
 */
export function datesIn(text: string, near: number): NamedDay[] {
  const found: NamedDay[] = [];
  const order = orderIn(text);
  for (const [form, read] of FORMS)
    for (const match of text.matchAll(form)) {
      const [from, to] = [match.index, match.index + match[0].length];
      if (found.some((f) => from < f.to && to > f.from)) continue;
      const meant = read(match.slice(1), near, order);
      const day = meant && dayOf(meant, near);
      if (day !== null) found.push({ from, to, day });
    }
  return found.sort((a, b) => a.from - b.from);
}
