import { describe, expect, it } from 'vitest';
import { dayNumber } from '../time/days';
import { workingCalendar } from '../time/working-calendar';
import { othersBegin } from './first-group';

const calendar = workingCalendar([1, 2, 3, 4, 5], []);
const friday = dayNumber('2026-11-06');
const group = { firstGroup: 20, groupWait: 1, groupByHand: false };
const days = { today: friday, startDay: friday - 4 };

describe('when the others begin', () => {
  it('is at once without a first group, and by hand where that is chosen', () => {
    expect(othersBegin({ ...group, firstGroup: null }, { waiting: 5, lastDay: null }, days, calendar)).toBe('at_once');
    expect(othersBegin({ ...group, groupByHand: true }, { waiting: 0, lastDay: friday }, days, calendar)).toBe(
      'by_hand',
    );
  });

  it('is so many working days after the last of the group, which is not over while some wait', () => {
    expect(othersBegin(group, { waiting: 0, lastDay: friday - 1 }, days, calendar)).toBe(friday);
    expect(othersBegin(group, { waiting: 3, lastDay: friday - 1 }, days, calendar)).toBe(friday + 3);
    expect(othersBegin(group, { waiting: 20, lastDay: null }, { ...days, startDay: friday + 3 }, calendar)).toBe(
      friday + 4,
    );
  });

  it('is at once where nobody of the group is left to write to', () =>
    expect(othersBegin(group, { waiting: 0, lastDay: null }, days, calendar)).toBe('at_once'));
});
