import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DATE_FORMS, dayWords, type DateForm } from './day-words';
import { isoDate } from './days';
import { readDay, readDays } from './read-day';

describe('a date in words', () => {
  it.each<[DateForm, string, string, string]>([
    ['day_month', 'Tue 15 Dec', 'Tue 15 Dec 2026', 'Tuesday 15 December'],
    ['month_day', 'Tue Dec 15', 'Tue Dec 15 2026', 'Tuesday December 15'],
    ['iso', 'Tue 2026-12-15', 'Tue 2026-12-15', 'Tuesday 2026-12-15'],
  ])('%s', (form, ...words) => {
    expect((['short', 'dated', 'long'] as const).map((l) => dayWords('2026-12-15', l, form))).toEqual(words);
  });

  it('is read again as the same day, in every form, alone and among others', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...DATE_FORMS),
        fc.uniqueArray(fc.integer({ min: 0, max: 40_000 }), { minLength: 1, maxLength: 5 }),
        (form, numbers) => {
          const days = numbers.map(isoDate);
          for (const day of days) expect(readDay(dayWords(day, 'dated', form), '2026-11-30', form)).toBe(day);
          const together = days.map((d) => dayWords(d, 'dated', form)).join(', ');
          expect(readDays(together, '2026-11-30', form)).toEqual({ days: [...days].sort() });
        },
      ),
    );
  });
});

it('in figures the month comes first where it is written so', () => {
  const read = (text: string, form: DateForm) => readDay(text, '2026-11-30', form);
  expect([read('12/3/2026', 'day_month'), read('12/3/2026', 'month_day'), read('12/3', 'iso')]).toEqual([
    '2026-03-12',
    '2026-12-03',
    '2027-03-12',
  ]);
  // What can only be one of the two is.
  expect([read('12/24/2026', 'month_day'), read('24.12.2026', 'month_day')]).toEqual(['2026-12-24', '2026-12-24']);
});
