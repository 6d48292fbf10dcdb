import { describe, expect, it } from 'vitest';
import { DEFAULT_REST_BOUNDS, healthOf, restWords, whyRest, type SentOutcome } from './health';
import { suggestRamp } from './ramp';

const outcomes = (...results: SentOutcome['result'][]): SentOutcome[] =>
  results.map((result, i) => ({ sentAt: -i, result }));
const many = (n: number, result: SentOutcome['result']) => Array<SentOutcome['result']>(n).fill(result);

describe('whyRest', () => {
  it('rests at the third hard bounce of the last thirty, and says so', () => {
    expect(whyRest(outcomes(...many(2, 'hard_bounce'), ...many(28, 'nothing')), 0, DEFAULT_REST_BOUNDS)).toBeNull();
    expect(whyRest(outcomes(...many(3, 'hard_bounce'), ...many(7, 'reply')), 0, DEFAULT_REST_BOUNDS)).toContain(
      '3 of its last 10 messages bounced',
    );
    // The third is too long ago.
    const old = outcomes(...many(2, 'hard_bounce'), ...many(28, 'nothing'), 'hard_bounce');
    expect(whyRest(old, 0, DEFAULT_REST_BOUNDS)).toBeNull();
    expect(whyRest(outcomes(...many(9, 'soft_bounce')), 0, DEFAULT_REST_BOUNDS)).toBeNull();
  });

  it('rests for a complaint, by bounds that can be set', () => {
    expect(whyRest([], 1, DEFAULT_REST_BOUNDS)).toBe('a recipient complained');
    expect(whyRest([], 1, { ...DEFAULT_REST_BOUNDS, complaints: 2 })).toBeNull();
    expect(
      whyRest(outcomes(...many(30, 'hard_bounce')), 9, { ...DEFAULT_REST_BOUNDS, bounces: 0, complaints: 0 }),
    ).toBeNull();
  });

  it('counts what came of the messages', () => {
    const seen = outcomes('hard_bounce', 'soft_bounce', 'refused', 'complaint', 'reply', 'reply', 'nothing');
    expect(healthOf(seen)).toEqual({ sent: 7, bounces: 2, refusals: 1, complaints: 1, replies: 2 });
  });
});

describe('restWords', () => {
  it('say why, and what moved because of it', () => {
    const why = 'a recipient complained';
    expect(restWords(why, { elsewhere: 12, later: 1 })).toBe(
      'a recipient complained. As a result, 12 messages are sent from another mailbox instead, 1 message is sent later.',
    );
    expect(restWords(why, { elsewhere: 0, later: 3 })).toBe(
      'a recipient complained. As a result, 3 messages are sent later.',
    );
    expect(restWords(why, { elsewhere: 0, later: 0 })).toBe(why);
    expect(restWords(why, null)).toBe(why);
    expect(restWords(null, null)).toBe('');
  });
});

describe('suggestRamp', () => {
  it('begins low and slowly for the young, quicker for the settled, not at all where it has sent as much', () => {
    const young = suggestRamp(3, 0, 60);
    const settled = suggestRamp(400, 0, 60);
    expect(young.ramp?.first).toBe(5);
    expect(settled.ramp?.first).toBe(20);
    expect(settled.ramp?.add ?? 0).toBeGreaterThan(young.ramp?.add ?? 0);
    expect(young.because).toContain('3 days old');
    expect(suggestRamp(400, 55, 60).ramp).toBeNull();
    expect(suggestRamp(null, 0, 60).because).toContain('nothing is known');
    expect(suggestRamp(null, 0, 4).ramp).toBeNull();
  });

  it('reaches the quota within four weeks of sending days', () => {
    for (const age of [null, 2, 60, 300])
      for (const quota of [10, 50, 200]) {
        const { ramp } = suggestRamp(age, 0, quota);
        if (ramp) expect(ramp.first + 20 * ramp.add).toBeGreaterThanOrEqual(quota);
      }
  });
});
