import { lines, utf8, type FileCase } from './file-case';

const ADDRESS_OF = (i: number) => `p${i}@x.example`;

/** A send-on column of text cells, and the days that they are. */
function dates(
  name: string,
  pairs: readonly (readonly [cell: string, day: string | null])[],
  more: Partial<FileCase> = {},
): FileCase {
  return {
    name,
    bytes: utf8(lines('email\tsend on', ...pairs.map(([cell], i) => `${ADDRESS_OF(i)}\t${cell}`))),
    people: Object.fromEntries(pairs.flatMap(([, day], i) => (day === null ? [] : [[ADDRESS_OF(i), '']]))),
    sendOn: Object.fromEntries(pairs.flatMap(([, day], i) => (day === null ? [] : [[ADDRESS_OF(i), day]]))),
    aside: pairs.flatMap(([, day], i) => (day === null ? [i + 2] : [])),
    ...more,
  };
}
const pair = (one: string, two: string) =>
  [
    [one, '2026-12-24'],
    [two, '2027-01-05'],
  ] as const;

export const DATE_FILES: readonly FileCase[] = [
  dates('ISO days', pair('2026-12-24', '2027-01-05')),
  dates('ISO days without dashes', pair('20261224', '20270105')),
  dates('ISO instants', pair('2026-12-24T09:30:00Z', '2027-01-05T00:00:00+01:00')),
  dates('ISO with a blank before the time', pair('2026-12-24 09:30', '2027-01-05 00:00:00.000')),
  dates('ISO with slashes', pair('2026/12/24', '2027/1/5')),
  dates('day.month.year', pair('24.12.2026', '05.01.2027')),
  dates('day. month. year', pair('24. 12. 2026', '5. 1. 2027')),
  dates('day.month.year of two figures', pair('24.12.26', '5.1.27')),
  dates('day.month.year with a final dot', pair('24.12.2026.', '5. 1. 2027.')),
  dates('day/month/year', pair('24/12/2026', '05/01/2027')),
  dates('month/day/year', pair('12/24/2026', '1/5/2027')),
  dates('month/day/year of two figures', pair('12/24/26', '1/5/27')),
  dates('day-month-year', pair('24-12-2026', '05-01-2027')),
  dates('day month in letters', pair('24 December 2026', '5 January 2027')),
  dates('short months between dashes', pair('24-Dec-26', '5-Jan-27')),
  dates('short months between slashes', pair('24/Dec/2026', '05/Jan/2027')),
  dates('short months between dots', pair('24.Dez.2026', '5.Jan.2027')),
  dates('months first in letters', pair('December 24, 2026', 'Jan 5th, 2027')),
  dates('weekdays before', pair('Thu 24 Dec 2026', 'Tuesday, 5 January 2027')),
  dates('weekdays before ISO days', pair('Thu 2026-12-24', 'Tue, 2027-01-05')),
  dates('weekdays before figures', pair('Do. 24.12.2026', 'Di, 5.1.2027')),
  dates('year first in letters', pair('2026 Dec 24', '2027-Jan-05')),
  dates('German', pair('24. Dezember 2026', '5. Januar 2027')),
  dates('Austrian', pair('24. Dezember 2026', '5. Jänner 2027')),
  dates('French', pair('24 décembre 2026', 'mardi 5 janvier 2027')),
  dates('French with a first', [
    ['1er décembre 2026', '2026-12-01'],
    ['5 janv. 2027', '2027-01-05'],
  ]),
  dates('Spanish', pair('24 de diciembre de 2026', '5 de enero del 2027')),
  dates('Portuguese', pair('24 de dezembro de 2026', '05/jan/2027')),
  dates('Italian', pair('24 dicembre 2026', 'martedì 5 gennaio 2027')),
  dates('Dutch', pair('24 december 2026', 'di 5 jan. 2027')),
  dates('Swedish', pair('24 december 2026', 'tis 5 jan 2027')),
  dates('Danish', pair('24. december 2026', 'den 5. januar 2027')),
  dates('Finnish', pair('24. joulukuuta 2026', '5. tammikuuta 2027')),
  dates('Polish', pair('24 grudnia 2026 r.', '5 stycznia 2027')),
  dates('Czech', pair('24. prosince 2026', '5. ledna 2027')),
  dates('Hungarian', pair('2026. december 24.', '2027. jan. 5.')),
  dates('Romanian', pair('24 decembrie 2026', '5 ianuarie 2027')),
  dates('Russian', pair('24 декабря 2026 г.', '5 янв. 2027')),
  dates('Ukrainian', pair('24 грудня 2026 р.', '5 січня 2027')),
  dates('Greek', pair('24 Δεκεμβρίου 2026', '5 Ιανουαρίου 2027')),
  dates('Turkish', pair('24 Aralık 2026', '5 Ocak 2027')),
  dates('Japanese', pair('2026年12月24日', '2027年1月5日')),
  dates('serial numbers of a spreadsheet', pair('46380', '46392')),
  dates('serial numbers with a time', pair('46380.375', '46392,5')),
  dates('times of twelve hours behind', pair('12/24/2026 9:30 AM', '1/5/2027 11:15:00 p.m.')),
  dates('dates that are none', [
    ['24.12.2026', '2026-12-24'],
    ['31.02.2027', null],
    ['soon', null],
    ['5.1.2027', '2027-01-05'],
    ['24.13.2026', null],
  ]),
  dates(
    'dates both ways',
    [
      ['3/4/2027', '2027-04-03'],
      ['5/6/2027', '2027-06-05'],
    ],
    { question: ['3/4/2027', '2027-04-03', '2027-03-04'] },
  ),
  dates('dates both ways, where one of them tells', [
    ['3/4/2027', '2027-03-04'],
    ['5/26/2027', '2027-05-26'],
  ]),
  {
    name: 'dates of a field',
    bytes: utf8(lines('email,visit', 'ana@x.example,24/12/2026', 'bo@x.example,5 Jan 2027')),
    people: { 'ana@x.example': '', 'bo@x.example': '' },
    fields: { 'ana@x.example': { visit: '24/12/2026' }, 'bo@x.example': { visit: '5 Jan 2027' } },
  },
  {
    name: 'no date where it is blank',
    bytes: utf8(lines('email,send on', 'ana@x.example,24/12/2026', 'bo@x.example,', 'cy@x.example,  ')),
    people: { 'ana@x.example': '', 'bo@x.example': '', 'cy@x.example': '' },
    sendOn: { 'ana@x.example': '2026-12-24' },
  },
];
