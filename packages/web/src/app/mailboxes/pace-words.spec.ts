import { describe, expect, it } from 'vitest';
import { weekdayWindows, type WeekWindows } from '@baton/core';
import { paceWords } from './pace-words';

const NAMES = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const week = weekdayWindows(540, 990);

describe('what quota, hours and least gap come to', () => {
  it('says how far apart messages usually are', () => {
    expect(paceWords(36, week, 90, NAMES)).toEqual({
      usual: 'Spread over its hours, 36 a day leave about every 13 minutes, at uneven times.',
      trouble: '',
    });
    const uneven: WeekWindows = [[[540, 780]], [[540, 660]], [], [], [], [], []];
    expect(paceWords(20, uneven, 60, NAMES).usual).toContain('every 6 to 12 minutes,');
    expect(paceWords(400, week, 0, NAMES).usual).toContain('every 68 seconds');
    expect(paceWords(3, week, 0, NAMES).usual).toContain('every 2.5 hours');
  });

  it('says on which days the quota does not fit, and then counts what does', () => {
    expect(paceWords(100, week, 600, NAMES)).toEqual({
      usual: '',
      trouble: 'Its hours hold only 45 of 100 a day at 600 seconds apart.',
    });
    const short: WeekWindows = week.map((spans, i) => (i === 4 ? [[540, 600]] : spans));
    expect(paceWords(40, short, 600, NAMES).trouble).toBe(
      'The hours of Fri hold only 6 of 40 a day at 600 seconds apart.',
    );
    // A window shorter than the gap still holds one.
    expect(paceWords(2, [[[540, 541]], [], [], [], [], [], []], 3600, NAMES).trouble).toContain('only 1 of 2');
  });

  it('says when nothing leaves, and nothing of a week without hours or a quota below 0', () => {
    expect(paceWords(0, week, 90, NAMES)).toEqual({ usual: '', trouble: 'With a quota of 0 nothing leaves.' });
    expect(paceWords(-3, week, 90, NAMES)).toEqual({ usual: '', trouble: '' });
    expect(paceWords(40, [[], [], [], [], [], [], []], 90, NAMES)).toEqual({ usual: '', trouble: '' });
  });
});
