import { aBrief } from '../testing/a-brief';
import { describe, expect, it } from 'vitest';
import type { Forecast } from '@baton/contract';
import { evenShares, letterOf, messageWords, planSentence, startWords, weekdayWords } from './brief-words';
import { aStep } from '../testing/a-brief';

const forecast = (over: Partial<Forecast>): Forecast => ({ ...aBrief().forecast, ...over });

describe('the words of a brief', () => {
  it('say when the first and the last messages leave', () => {
    expect(planSentence(forecast({}), 'day_month')).toBe(
      'First messages are sent from Monday 30 November to Thursday 3 December, the last follow-up on Tuesday 15 December.',
    );
    expect(planSentence(forecast({ lastStartDay: '2026-11-30', lastDay: '2026-11-30' }), 'day_month')).toBe(
      'First messages are sent on Monday 30 November.',
    );
    expect(planSentence(forecast({ late: 4 }), 'day_month')).toContain('4 follow-ups would be late.');
    expect(planSentence(forecast({ firstDay: null }), 'day_month')).toBe('');
  });

  it('repeat the numbers on the button that starts it', () => {
    expect(startWords({ forecast: forecast({}) }, 'day_month')).toBe('Start: 312 people, ends Tue 15 Dec');
    expect(startWords({ forecast: forecast({}) }, 'month_day')).toBe('Start: 312 people, ends Tue Dec 15');
    expect(startWords({ forecast: forecast({ people: 1, lastDay: null }) }, 'day_month')).toBe('Start: 1 person');
  });

  it.each([
    [[1, 2, 3, 4, 5], 'weekdays'],
    [[7, 6, 5, 4, 3, 2, 1], 'every day'],
    [[2], 'Tuesdays'],
    [[4, 2, 1], 'Mondays, Tuesdays and Thursdays'],
  ])('name the days %j', (days, words) => expect(weekdayWords(days)).toBe(words));
});

describe('variants', () => {
  const step = (others: (number | null)[], otherNames: string[]) =>
    aStep({ number: 0, messageId: 1, messageName: 'Kelp trial', others, otherNames });
  it('are named where they differ', () => {
    expect(messageWords(step([2], ['A sack']), 2)).toBe('Kelp trial or A sack');
    expect(messageWords(step([null, 2], ['', 'A sack']), 3)).toBe('Kelp trial or A sack');
    expect(messageWords(step([2], ['A sack']), 0)).toBe('Kelp trial');
    expect(messageWords(step([1], ['Kelp trial']), 2)).toBe('Kelp trial');
    expect(messageWords({ ...step([], []), messageName: '' }, 0)).toBe('no message yet');
  });

  it('share evenly, in whole numbers that make a hundred', () => {
    for (const n of [2, 3, 7]) {
      const shares = evenShares(n);
      expect(shares.reduce((a, b) => a + b)).toBe(100);
      expect(Math.max(...shares) - Math.min(...shares)).toBeLessThan(n);
    }
    expect([0, 1, 2].map(letterOf)).toEqual(['A', 'B', 'C']);
  });
});
