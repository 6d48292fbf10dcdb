import { describe, expect, it } from 'vitest';
import { healthRates } from './health-words';

describe('healthRates', () => {
  it('says counts with their ranges, and marks only what is bad for certain', () => {
    const rates = healthRates({ sent: 200, bounces: 14, refusals: 1, complaints: 1, replies: 20 });
    expect(rates.map((r) => [r.name, r.count, r.bad])).toEqual([
      ['bounced', 14, true],
      ['refused', 1, false],
      ['complained', 1, false],
      ['replied', 20, false],
    ]);
    expect(rates[0]?.words).toBe('of 200 (95 % range 4.2 to 11 %)');
    expect(rates[3]?.words).toBe('of 200 (95 % range 6.6 to 15 %)');
  });

  it('says nothing of nothing', () => {
    expect(healthRates({ sent: 0, bounces: 0, refusals: 0, complaints: 0, replies: 0 })[0]).toMatchObject({
      words: 'nothing sent',
      bad: false,
    });
  });
});
