import { TestBed } from '@angular/core/testing';
import fc from 'fast-check';
import { beforeEach, describe, expect, it } from 'vitest';
import { LiveServer } from '../testing/live-server';
import { IsoDateAdapter } from './iso-date-adapter';

let adapter: IsoDateAdapter;
const anyDay = fc
  .date({ min: new Date('1900-01-01T00:00:00Z'), max: new Date('2200-12-31T00:00:00Z'), noInvalidDate: true })
  .map((d) => d.toISOString().slice(0, 10));

beforeEach(() => {
  TestBed.configureTestingModule({ providers: [...LiveServer.providers(), IsoDateAdapter] });
  adapter = TestBed.inject(IsoDateAdapter);
});

describe('the calendar on ISO dates', () => {
  it('takes a day apart and puts it together again', () => {
    fc.assert(
      fc.property(anyDay, (day) => {
        expect(adapter.createDate(adapter.getYear(day), adapter.getMonth(day), adapter.getDate(day))).toBe(day);
        expect(adapter.getDayOfWeek(day)).toBe(new Date(`${day}T00:00:00Z`).getUTCDay());
        expect(adapter.parse(adapter.format(day, 'day'))).toBe(day);
        expect(adapter.deserialize(day)).toBe(day);
        expect(adapter.getDate(day)).toBeLessThanOrEqual(adapter.getNumDaysInMonth(day));
      }),
    );
  });

  it('goes on by days and back again, whatever clocks change on the way', () => {
    fc.assert(
      fc.property(anyDay, fc.integer({ min: -800, max: 800 }), (day, n) => {
        expect(adapter.addCalendarDays(adapter.addCalendarDays(day, n), -n)).toBe(day);
      }),
    );
  });

  it('goes by months to the same day, or to the last of a shorter one', () => {
    expect(adapter.addCalendarMonths('2027-01-31', 1)).toBe('2027-02-28');
    expect(adapter.addCalendarMonths('2027-01-31', -2)).toBe('2026-11-30');
    expect(adapter.addCalendarMonths('2026-11-15', 14)).toBe('2028-01-15');
    expect(adapter.addCalendarYears('2028-02-29', 1)).toBe('2029-02-28');
  });

  it('has no day for what is not one, and none of text that is empty', () => {
    expect(adapter.isValid(adapter.parse('soon') ?? '')).toBe(false);
    expect(adapter.parse(' ')).toBeNull();
    expect(adapter.deserialize('')).toBeNull();
    expect(adapter.isValid(adapter.deserialize('24/12/2026') ?? '')).toBe(false);
    expect(() => adapter.createDate(2027, 1, 30)).toThrow('is not a date');
  });

  it('names days and months as the interface does, the week from Monday', () => {
    expect(adapter.getDayOfWeekNames('short')).toEqual(['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat']);
    expect(adapter.getDayOfWeekNames('long')[1]).toBe('Monday');
    expect(adapter.getFirstDayOfWeek()).toBe(1);
    expect(adapter.format('2026-12-24', 'month')).toBe('Dec 2026');
    expect(adapter.getDateNames()).toHaveLength(31);
  });
});
