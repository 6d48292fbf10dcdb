import { describe, expect, it } from 'vitest';
import { dayNumber } from '../time/days';
import { createZones } from '../time/zone';
import { sendOnReader } from './import/columns/read-send-on';
import { columnWriter, type ListColumn } from './list/list-columns';
import { rowPatcher } from './list/patch-row';
import { isSendOn, readSendOn } from './send-on';

const read = sendOnReader(['24.12.2026'], { serials: true });

describe('a day on which to send', () => {
  it.each([
    ['2026-12-24', '2026-12-24'],
    ['2026-12-24T09:30', '2026-12-24T09:30'],
    ['2026-12-24 9:05:59', '2026-12-24T09:05'],
    ['24.12.2026 14.30', '2026-12-24T14:30'],
    ['24.12.2026 um 9:30 Uhr', '2026-12-24T09:30'],
    ['24 décembre 2026 à 10h30', '2026-12-24T10:30'],
    ['December 24, 2026 at 9:30 pm', '2026-12-24T21:30'],
    ['Dec 24 2026, 12:15 a.m.', '2026-12-24T00:15'],
    ['Dec 24 2026, 12:15 PM', '2026-12-24T12:15'],
    ['2026-12-24T09:30:00Z', '2026-12-24T09:30Z'],
    ['2026-12-24T09:30:00.250+0530', '2026-12-24T09:30+05:30'],
    ['24.12.2026 09:30 CET', '2026-12-24T09:30+01:00'],
    ['Thu, 24 Dec 2026 09:30:00 GMT', '2026-12-24T09:30Z'],
    // Databases write midnight behind every day.
    ['2026-12-24 00:00:00.000', '2026-12-24'],
    ['2026-12-24T00:00Z', '2026-12-24T00:00Z'],
    ['46380', '2026-12-24'],
    ['46380.395833333', '2026-12-24T09:30'],
    ['2026-12-24 25:00', null],
    ['2026-12-24 13:30 pm', null],
    // Which of several zones of that name?
    ['2026-12-24 09:30 IST', null],
    ['soon', null],
  ])('is read from “%s” as %s', (cell, expected) => {
    expect(read(cell)).toBe(expected);
    if (expected !== null) expect(isSendOn(expected)).toBe(true);
  });

  it('is on the clock of whom it concerns, unless it has an offset', () => {
    const [sydney, lisbon] = ['Australia/Sydney', 'Europe/Lisbon'].map((name) => createZones().get(name));
    const day = dayNumber('2026-12-24');
    expect(readSendOn('2026-12-24', sydney!)).toEqual({ day, minute: null });
    expect(readSendOn('2026-12-24T09:30', sydney!)).toEqual({ day, minute: 570 });
    expect(readSendOn('2026-12-24T20:30+01:00', lisbon!)).toEqual({ day, minute: 19 * 60 + 30 });
    expect(readSendOn('2026-12-24T20:30Z', sydney!)).toEqual({ day: day + 1, minute: 7 * 60 + 30 });
  });

  it('keeps its time when a cell is typed', () => {
    const column: ListColumn = {
      ...{ name: 'Send on', key: 'send_on', hidden: false, formula: null, verdicts: null },
      ...{ role: 'send_on', kind: 'date' },
    };
    const write = columnWriter(column, ['24.12.2026 9:30']);
    expect(write('24.12.2026 9:30')).toBe('2026-12-24 09:30');
    expect(write('after Christmas')).toBe('after Christmas');
    const typed = rowPatcher([column])({}, { send_on: write('24.12.2026 9:30') });
    expect(typed).toMatchObject({ patch: { sendOn: '2026-12-24T09:30', fields: { send_on: '2026-12-24 09:30' } } });
  });
});
