import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dayWords } from './day-words';
import { isoDate } from './days';
import { readDay, readDays } from './read-day';

const TODAY = '2026-11-30';

describe('readDay', () => {
  it.each([
    ['2026-12-24', '2026-12-24'],
    ['2026-1-4', '2026-01-04'],
    ['24 Dec 2026', '2026-12-24'],
    ['Thu 24 Dec 2026', '2026-12-24'],
    ['Thursday, 24 December 2026', '2026-12-24'],
    ['24th december', '2026-12-24'],
    ['December 24, 2026', '2026-12-24'],
    ['Dec 24', '2026-12-24'],
    ['1 Sept 2027', '2027-09-01'],
    ['24.12.2026', '2026-12-24'],
    ['24. 12. 2026', '2026-12-24'],
    ['24/12/26', '2026-12-24'],
    ['4-1-2027', '2027-01-04'],
    ['24.12.', '2026-12-24'],
    [' Today ', '2026-11-30'],
    ['tomorrow', '2026-12-01'],
  ])('reads %s', (text, day) => {
    expect(readDay(text, TODAY)).toBe(day);
  });

  it('takes a day without a year for the next one, today included', () => {
    expect(readDay('30 Nov', TODAY)).toBe('2026-11-30');
    expect(readDay('29 Nov', TODAY)).toBe('2027-11-29');
    expect(readDay('29.2.', TODAY)).toBe('2028-02-29');
    expect(readDay('29 Feb', '2096-03-01')).toBe('2104-02-29');
  });

  it('puts the day first where figures could be read both ways', () => {
    expect(readDay('3/4/2027', TODAY)).toBe('2027-04-03');
  });

  it.each([
    '',
    'soon',
    '31 Nov 2026',
    '30.2.2027',
    '2026-13-01',
    '12/24/2026',
    '24.12/2026',
    'm 4',
    '0 Jan',
    '1 Jan 20261',
  ])('has no day for “%s”', (text) => {
    expect(readDay(text, TODAY)).toBeNull();
  });

  it('reads back every day as the interface writes it', () => {
    fc.assert(
      fc.property(fc.integer({ min: -25_567, max: 47_482 }), (number) => {
        const day = isoDate(number);
        expect(readDay(dayWords(day, 'dated'), TODAY)).toBe(day);
        expect(readDay(dayWords(day, 'long'), day)).toBe(day);
        expect(readDay(dayWords(day), day)).toBe(day);
      }),
    );
  });

  it('takes any text, in time that a person does not notice', () => {
    fc.assert(
      fc.property(fc.string(), (text) => {
        const day = readDay(text, TODAY);
        expect(day === null || /^\d{4}-\d\d-\d\d$/.test(day)).toBe(true);
      }),
    );
    expect(readDay('1'.repeat(100_000), TODAY)).toBeNull();
    expect(readDay(`1 ${' '.repeat(100_000)}x`, TODAY)).toBeNull();
  });
});

describe('readDays', () => {
  it.each([
    ['', []],
    ['2026-12-31 2026-12-24', ['2026-12-24', '2026-12-31']],
    ['Thu 24 Dec 2026, 31 Dec; 24.12.2026', ['2026-12-24', '2026-12-31']],
    ['24 Dec\n\n1 Jan', ['2026-12-24', '2027-01-01']],
  ])('reads “%s”', (text, days) => {
    expect(readDays(text, TODAY)).toEqual({ days });
  });

  it('names the first part that is no day', () => {
    expect(readDays('24 Dec, Christmas, 1 Jan', TODAY)).toEqual({ wrong: 'Christmas' });
  });
});
