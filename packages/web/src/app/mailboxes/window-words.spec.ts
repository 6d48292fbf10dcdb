import { describe, expect, it } from 'vitest';
import { readSpans, readWeek, spansWords } from './window-words';

describe('hours of a day', () => {
  it.each([
    ['9:00–16:30', [[540, 990]]],
    [
      '9-12, 13 to 17:15',
      [
        [540, 720],
        [780, 1035],
      ],
    ],
    [
      '13:00-17:00; 8:00-12:00',
      [
        [480, 720],
        [780, 1020],
      ],
    ],
    ['', []],
    ['-', []],
    ['0:00–24:00', [[0, 1440]]],
  ])('reads %j', (text, spans) => {
    expect(readSpans(text)).toEqual(spans);
  });

  it.each(['16:00–9:00', '9:00', 'morning', '9:00–12:00, 11:00–14:00', '9:00–25:00', '9:00-12:00-15:00'])(
    'refuses %j',
    (text) => {
      expect(readSpans(text)).toBeNull();
    },
  );

  it('writes what it reads, and says which day is wrong', () => {
    const spans = readSpans('8:30–12:00, 13:00–17:00') ?? [];
    expect(spansWords(spans)).toBe('8:30–12:00, 13:00–17:00');
    const names = ['Mon', 'Tue'];
    expect(readWeek(['9–12', 'x'], names)).toContain('Tue: “x” is not a sending window');
    expect(readWeek(['', ''], names)).toContain('at least one day');
    expect(readWeek(['9–12', ''], names)).toEqual([[[540, 720]], []]);
  });
});
