import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { isZone } from '../../../time/zone';
import { zoneOfPlace } from '../../../time/zone-of-place';
import { dateOrder, dateReader } from './read-dates';

describe('dateReader', () => {
  it.each([
    ...[
      ['2026-11-30', '2026-11-30'],
      ['2026-11-30T09:00:00Z', '2026-11-30'],
      ['2026-11-30 09:00:00.000+01:00', '2026-11-30'],
    ],
    ...[
      ['20260906', '2026-09-06'],
      ['2026/9/6', '2026-09-06'],
      ['2026.09.06', '2026-09-06'],
      ['2026年9月6日', '2026-09-06'],
    ],
    ...[
      ['2026년 9월 6일', '2026-09-06'],
      ['5. 9. 2026', '2026-09-05'],
      ['5.9.26', '2026-09-05'],
      ['30.11.2026', '2026-11-30'],
    ],
    ...[
      ['30.11.2026 09.30', '2026-11-30'],
      ['30.11.2026, 9:30 Uhr', '2026-11-30'],
      ['30/11/2026 at 9:30 pm', '2026-11-30'],
    ],
    ...[
      ['3/4/26', '2026-04-03'],
      ['24-Dec-26', '2026-12-24'],
      ['24/Dec/2026', '2026-12-24'],
      ['24dec2026', '2026-12-24'],
    ],
    ...[
      ['30 Nov 2026', '2026-11-30'],
      ['November 3rd, 2026', '2026-11-03'],
      ['Thu, 24 December 2026', '2026-12-24'],
    ],
    ...[
      ['Thursday, December 24, 2026', '2026-12-24'],
      ['2026 Dec 24', '2026-12-24'],
      ['the 3rd of March 2026', '2026-03-03'],
    ],
    ...[
      ['Do., 24. Dezember 2026', '2026-12-24'],
      ['24. Dez. 2026', '2026-12-24'],
      ['3. März 2026', '2026-03-03'],
    ],
    ...[
      ['1er août 2026', '2026-08-01'],
      ['3 févr. 2026', '2026-02-03'],
      ['30 de noviembre de 2026', '2026-11-30'],
    ],
    ...[
      ['6 gennaio 2026', '2026-01-06'],
      ['6 de março de 2026', '2026-03-06'],
      ['6 mrt 2026', '2026-03-06'],
      ['6 maart 2026', '2026-03-06'],
    ],
    ...[
      ['6 września 2026 r.', '2026-09-06'],
      ['6. září 2026', '2026-09-06'],
      ['6. července 2026', '2026-07-06'],
    ],
    ...[
      ['2026. szeptember 6.', '2026-09-06'],
      ['6. syyskuuta 2026', '2026-09-06'],
      ['6 Eylül 2026', '2026-09-06'],
    ],
    ...[
      ['2026-02-30', null],
      ['31/04/2026', null],
      ['soon', null],
      ['', null],
      ['May 2026', null],
      ['12 acres 2026', null],
    ],
    ...[
      ['46271', null],
      ['01234567', null],
      ['Ana met 12 May 2026 us', null],
      ['1.2.3.4', null],
      ['30.11.', null],
      ['9999-99-99', null],
    ],
  ])('reads %j as %s', (cell, date) => expect(dateReader([cell as string])(cell as string)).toBe(date));

  it('takes serial numbers where the column is known to hold dates', () => {
    const read = dateReader([], { serials: true });
    expect(['46271', '46271.4375', '46271,5', '12345', '99999', '4627'].map(read)).toEqual([
      ...['2026-09-06', '2026-09-06', '2026-09-06'],
      ...[null, null, null],
    ]);
  });

  it('is told by the column which of two numbers is the month, or by what was said', () => {
    expect(dateReader(['3/4/2026', '12/25/2026'])('3/4/2026')).toBe('2026-03-04');
    expect(dateReader(['3/4/2026', '25/12/2026'])('3/4/2026')).toBe('2026-04-03');
    expect(dateReader(['12/25/2026'])('3.4.2026')).toBe('2026-04-03');
    expect(dateReader(['3/4/2026'], { monthFirst: true })('3/4/2026')).toBe('2026-03-04');
    // What was said holds where the column does not tell.
    expect(dateReader(['3/4/2026', '12/25/2026'], { monthFirst: false })('12/25/2026')).toBe('2026-12-25');
    expect(dateReader(['3/4/2026'], { monthFirst: false })('12/25/2026')).toBeNull();
  });

  it('asks where no cell tells, with the first one that could be either', () => {
    expect(dateOrder(['1/1/2026', '3/4/2026 10:00', '5/6/2026'])).toEqual({
      monthFirst: null,
      either: { cell: '3/4/2026 10:00', dayFirst: '2026-04-03', monthFirst: '2026-03-04' },
    });
    expect(dateOrder(['3/4/2026', '13/4/2026'])).toEqual({ monthFirst: false, either: null });
    expect(dateOrder(['3.4.2026', '2026-03-04', '1/1/26'])).toEqual({ monthFirst: null, either: null });
  });

  it('reads whatever it writes, in every way of writing it', () => {
    const day = fc.date({ min: new Date('1900-01-01'), max: new Date('2199-12-31'), noInvalidDate: true });
    fc.assert(
      fc.property(
        day,
        fc.constantFrom('en-GB', 'de', 'fr', 'es', 'it', 'pt', 'nl', 'pl', 'cs', 'sv', 'da', 'fi', 'hu', 'ro', 'tr'),
        (date, language) => {
          const iso = date.toISOString().slice(0, 10);
          for (const dateStyle of ['full', 'long'] as const) {
            const shown = new Intl.DateTimeFormat(language, { dateStyle, timeZone: 'UTC' }).format(date);
            expect([shown, dateReader([shown])(shown)]).toEqual([shown, iso]);
          }
        },
      ),
    );
  });
});

describe('zoneOfPlace', () => {
  it.each([
    ['Europe/Lisbon', 'Europe/Lisbon'],
    ['Deutschland', 'Europe/Berlin'],
    ['United Kingdom', 'Europe/London'],
    ['Österreich', 'Europe/Vienna'],
    ['paris', 'Europe/Paris'],
    ['New York', 'America/New_York'],
    ['USA', null],
    ['Nowhere/Base', null],
    ['', null],
  ])('of %j is %s', (place, zone) => {
    expect(zoneOfPlace(place)).toBe(zone);
    if (zone !== null) expect(isZone(zone)).toBe(true);
  });
});
