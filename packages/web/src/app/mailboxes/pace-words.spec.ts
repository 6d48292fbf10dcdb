import { describe, expect, it } from 'vitest';
import { weekdayWindows, type WeekWindows } from '@baton/core';
import { paceWords } from './pace-words';

const NAMES = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const week = weekdayWindows(540, 990);
const words = (quota: number, windows: WeekWindows, paceSeconds: number, providerLimit: number | null = null) =>
  paceWords({ quota, providerLimit, paceSeconds }, windows, NAMES);

describe('what quota, hours and least gap come to', () => {
  it('says how far apart messages usually are', () => {
    expect(words(36, week, 90)).toEqual({
      usual: 'Spread over the sending window, 36 a day means one message about every 13 minutes, at uneven times.',
      trouble: '',
    });
    const uneven: WeekWindows = [[[540, 780]], [[540, 660]], [], [], [], [], []];
    expect(words(20, uneven, 60).usual).toContain('every 6 to 12 minutes,');
    expect(words(400, week, 0).usual).toContain('every 68 seconds');
    expect(words(3, week, 0).usual).toContain('every 2.5 hours');
  });

  it('says on which days the quota does not fit, and then counts what does', () => {
    expect(words(100, week, 600)).toEqual({
      usual: '',
      trouble: 'The sending window has room for only 45 of 100 a day at 600 seconds apart.',
    });
    const short: WeekWindows = week.map((spans, i) => (i === 4 ? [[540, 600]] : spans));
    expect(words(40, short, 600).trouble).toBe(
      'The window on Fri has room for only 6 of 40 a day at 600 seconds apart.',
    );
    // A window shorter than the gap still holds one.
    expect(words(2, [[[540, 541]], [], [], [], [], [], []], 3600).trouble).toContain('only 1 of 2');
  });

  it('counts what the provider takes where that is less than the quota, and says so', () => {
    expect(words(100, week, 90, 36)).toEqual({
      usual: 'Spread over the sending window, 36 a day means one message about every 13 minutes, at uneven times.',
      trouble: 'The provider limit allows only 36 of 100 a day.',
    });
    expect(words(100, week, 600, 60).trouble).toBe(
      'The provider limit allows only 60 of 100 a day. The sending window has room for only 45 of 60 a day at 600 seconds apart.',
    );
    expect(words(36, week, 90, 36).trouble).toBe('');
    expect(words(36, week, 90, 0)).toEqual(words(36, week, 90));
  });

  it('says when nothing leaves, and nothing of a week without hours or a quota below 0', () => {
    expect(words(0, week, 90)).toEqual({ usual: '', trouble: 'With a quota of 0 nothing is sent.' });
    expect(words(-3, week, 90)).toEqual({ usual: '', trouble: '' });
    expect(words(40, [[], [], [], [], [], [], []], 90)).toEqual({ usual: '', trouble: '' });
  });
});
