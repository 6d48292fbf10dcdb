import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readCalendarDays } from '../time/read-calendar';
import { writeCalendar } from './write-calendar';

const STAMP = Date.UTC(2026, 10, 24, 10, 42);

describe('writeCalendar', () => {
  it('writes all-day entries with escaped text', () => {
    const ics = writeCalendar(
      'Plan',
      [{ uid: 'a', day: '2026-12-31', title: '42 messages; 3, held', text: 'ines@\nhello@' }],
      STAMP,
    );
    expect(ics).toContain('DTSTART;VALUE=DATE:20261231\r\nDTEND;VALUE=DATE:20270101\r\n');
    expect(ics).toContain('SUMMARY:42 messages\\; 3\\, held\r\nDESCRIPTION:ines@\\nhello@\r\n');
    expect(ics).toContain('DTSTAMP:20261124T104200Z');
    expect(ics.startsWith('BEGIN:VCALENDAR\r\nVERSION:2.0\r\n')).toBe(true);
  });

  it('has no line over 75 octets, splits no character, and is read back', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 200 }), (title) => {
        const ics = writeCalendar('Plan', [{ uid: 'a', day: '2026-12-01', title, text: '' }], STAMP);
        for (const line of ics.split('\r\n')) expect(new TextEncoder().encode(line).length).toBeLessThanOrEqual(75);
        expect(ics).not.toContain('�');
        expect(readCalendarDays(ics, [2026, 2026]).map((d) => d.day)).toEqual(['2026-12-01']);
      }),
    );
  });
});

describe('readCalendarDays', () => {
  const ics = (...lines: string[]) => ['BEGIN:VCALENDAR', ...lines, 'END:VCALENDAR'].join('\r\n');
  const event = (...lines: string[]) => ['BEGIN:VEVENT', ...lines, 'END:VEVENT'];

  it('takes every day of an event, dates with parameters, folded lines', () => {
    const text = ics(
      ...event('DTSTART;VALUE=DATE:20261224', 'DTEND;VALUE=DATE:20261227', 'SUMMARY:Midwinter ho', ' liday'),
      ...event(
        'DTSTART;TZID=Europe/Dublin:20261231T090000',
        'DTEND;TZID=Europe/Dublin:20261231T170000',
        'SUMMARY:Stocktaking\\, all',
      ),
    );
    expect(readCalendarDays(text, [2026, 2027])).toEqual([
      { day: '2026-12-24', name: 'Midwinter holiday' },
      { day: '2026-12-25', name: 'Midwinter holiday' },
      { day: '2026-12-26', name: 'Midwinter holiday' },
      { day: '2026-12-31', name: 'Stocktaking, all' },
    ]);
  });

  it('takes what comes back every year for the years asked for, and leaves out what is cancelled', () => {
    const text = ics(
      ...event('DTSTART;VALUE=DATE:20200501', 'RRULE:FREQ=YEARLY', 'SUMMARY:May Day'),
      ...event('DTSTART;VALUE=DATE:20240229', 'RRULE:FREQ=YEARLY', 'SUMMARY:Leap day'),
      ...event('DTSTART;VALUE=DATE:20261102', 'STATUS:CANCELLED', 'SUMMARY:Not this one'),
    );
    expect(readCalendarDays(text, [2026, 2028]).map((d) => d.day)).toEqual([
      '2026-05-01',
      '2027-05-01',
      '2028-02-29',
      '2028-05-01',
    ]);
  });

  it('says so when it is not a calendar, and takes nothing from broken dates', () => {
    expect(() => readCalendarDays('day,name\n2026-12-25,x', [2026, 2026])).toThrow('BEGIN:VCALENDAR');
    expect(readCalendarDays(ics(...event('DTSTART:20261399', 'SUMMARY:x')), [2026, 2026])).toEqual([]);
    expect(
      readCalendarDays(ics(...event('DTSTART;VALUE=DATE:20260101', 'DTEND;VALUE=DATE:99991231')), [2026, 2026]),
    ).toHaveLength(60);
  });
});
