import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dayNumber, isoDate, isoWeekday } from './days';
import { weekdayWindows, spansOfDay } from './window';
import { workingCalendar } from './working-calendar';
import { createZones, isZone } from './zone';

const zones = createZones();
const iso = (ms: number) => new Date(ms).toISOString();

describe('Zone', () => {
  const berlin = zones.get('Europe/Berlin');

  it('moves a time in the gap of March past it', () => {
    expect(iso(berlin.toInstant(dayNumber('2026-03-29'), 150))).toBe('2026-03-29T01:30:00.000Z');
  });

  it('takes the earlier of a doubled time in October', () => {
    expect(iso(berlin.toInstant(dayNumber('2026-10-25'), 150))).toBe('2026-10-25T00:30:00.000Z');
    expect(iso(berlin.toInstant(dayNumber('2026-10-25'), 240))).toBe('2026-10-25T03:00:00.000Z');
  });

  it('makes a window of that night as long as it really is', () => {
    const all = Array.from({ length: 7 }, () => [[0, 1440]] as [number, number][]);
    const hours = (date: string) =>
      spansOfDay(all, dayNumber(date), berlin).map((s) => (s.endMs - s.startMs) / 3_600_000);
    expect([hours('2026-03-29'), hours('2026-10-25'), hours('2026-06-01')]).toEqual([[23], [25], [24]]);
  });

  it('comes back to the same local time outside gaps, in any zone', () => {
    const names = [
      'Europe/Berlin',
      'America/St_Johns',
      'Pacific/Auckland',
      'Asia/Kathmandu',
      'UTC',
      'Australia/Lord_Howe',
    ];
    fc.assert(
      fc.property(
        fc.constantFrom(...names),
        fc.integer({ min: 18_000, max: 25_000 }),
        fc.integer({ min: 0, max: 1439 }),
        (name, day, minute) => {
          const zone = zones.get(name);
          const instant = zone.toInstant(day, minute);
          const local = zone.toLocal(instant);
          const inGap = local.day * 1440 + local.minute > day * 1440 + minute;
          return (
            inGap ||
            (local.day === day && local.minute === minute && zone.toInstant(local.day, local.minute) <= instant)
          );
        },
      ),
    );
  });

  it('knows no zone that does not exist', () => {
    expect(isZone('Mars/Olympus')).toBe(false);
    expect(() => zones.get('Mars/Olympus')).toThrow('There is no time zone “Mars/Olympus”');
  });
});

describe('days', () => {
  it('turns dates into numbers and back', () => {
    expect(isoWeekday(dayNumber('2026-11-24'))).toBe(2);
    fc.assert(fc.property(fc.integer({ min: -100_000, max: 100_000 }), (d) => dayNumber(isoDate(d)) === d));
    expect(() => dayNumber('2026-02-30')).toThrow('is not a date');
  });
});

describe('workingCalendar', () => {
  const calendar = workingCalendar([1, 2, 3, 4, 5], ['2026-11-26']);
  it('counts working days over weekends and holidays', () => {
    expect(isoDate(calendar.add(dayNumber('2026-11-24'), 3))).toBe('2026-11-30');
    expect(calendar.between(dayNumber('2026-11-24'), dayNumber('2026-11-30'))).toBe(3);
    expect(calendar.between(dayNumber('2026-11-30'), dayNumber('2026-11-24'))).toBe(-3);
  });
  it('wants at least one working day', () => expect(() => workingCalendar([], [])).toThrow('No weekday'));
  it('opens on weekdays only', () =>
    expect(spansOfDay(weekdayWindows(540, 990), dayNumber('2026-11-28'), zones.get('UTC'))).toEqual([]));
});
