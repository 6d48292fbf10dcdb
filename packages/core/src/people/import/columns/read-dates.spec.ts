import { describe, expect, it } from 'vitest';
import { isZone } from '../../../time/zone';
import { zoneOfPlace } from '../../../time/zone-of-place';
import { dateReader } from './read-dates';

describe('dateReader', () => {
  it.each([
    ['2026-11-30', '2026-11-30'],
    ['2026-11-30T09:00:00Z', '2026-11-30'],
    ['30.11.2026', '2026-11-30'],
    ['3/4/26', '2026-04-03'],
    ['30 Nov 2026', '2026-11-30'],
    ['November 3rd, 2026', '2026-11-03'],
    ['2026-02-30', null],
    ['31/04/2026', null],
    ['soon', null],
    ['', null],
  ])('reads %j as %s', (cell, date) => expect(dateReader([cell])(cell)).toBe(date));

  it('is told by the column which of two numbers is the month', () => {
    expect(dateReader(['3/4/2026', '12/25/2026'])('3/4/2026')).toBe('2026-03-04');
    expect(dateReader(['3/4/2026', '25/12/2026'])('3/4/2026')).toBe('2026-04-03');
    expect(dateReader(['12/25/2026'])('3.4.2026')).toBe('2026-04-03');
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
