import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dayWords } from './day-words';
import { dayNumber, isoDate, isoWeekday } from './days';
import { workingCalendar } from './working-calendar';

const friday = dayNumber('2026-10-23');

describe('workingCalendar', () => {
  const calendar = workingCalendar([1, 2, 3, 4, 5], ['2026-10-26']);

  it('counts over weekends and holidays', () => {
    expect(isoDate(calendar.add(friday, 1))).toBe('2026-10-27');
    expect(isoDate(calendar.add(friday + 1, 2))).toBe('2026-10-28');
    expect(calendar.add(friday + 1, 0)).toBe(friday + 1);
    expect(calendar.between(friday, dayNumber('2026-10-27'))).toBe(1);
  });

  it('adds what it counts, from any day', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 40_000 }), fc.integer({ min: 1, max: 400 }), (day, n) => {
        const later = calendar.add(day, n);
        expect(calendar.isWorking(later)).toBe(true);
        expect(calendar.between(day, later)).toBe(n);
        expect(calendar.between(later, day)).toBe(-n);
      }),
    );
  });

  it('needs a day of the week that works, and dates that exist', () => {
    expect(() => workingCalendar([], [])).toThrow('No weekday');
    expect(() => workingCalendar([1], ['2026-02-30'])).toThrow('not a date');
  });
});

describe('days', () => {
  it('go there and back', () => {
    fc.assert(fc.property(fc.integer({ min: -10_000, max: 60_000 }), (day) => dayNumber(isoDate(day)) === day));
    expect([isoWeekday(dayNumber('2026-11-23')), isoWeekday(dayNumber('2026-11-29'))]).toEqual([1, 7]);
    expect(isoWeekday(dayNumber('1969-12-28'))).toBe(7);
  });

  it('have words', () => {
    expect([dayWords('2026-12-15'), dayWords('2026-12-15', 'long')]).toEqual(['Tue 15 Dec', 'Tuesday 15 December']);
  });
});
