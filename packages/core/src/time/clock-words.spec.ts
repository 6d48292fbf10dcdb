import { describe, expect, it } from 'vitest';
import { clockWords, minuteOf } from './clock-words';

describe('minuteOf', () => {
  it.each([
    ['9:00', 540],
    ['09:05', 545],
    ['24:00', 1440],
    ['24:01', null],
    ['9', null],
    ['nine', null],
  ])('read %s as a time of day', (words, minute) => {
    expect(minuteOf(words)).toBe(minute);
    if (minute !== null) expect(minuteOf(clockWords(minute))).toBe(minute);
  });
});
