import type { CampaignResults } from '@baton/contract';
import { NO_RESULTS, type RateName, type ResultCounts } from '@baton/core';
import { describe, expect, it } from 'vitest';
import { aCampaignsResults } from '../testing/some-results';
import { streamParts, streamWords } from './charts/stream';
import {
  headlineOf,
  lostWords,
  namedGroups,
  overviewWords,
  percentOf,
  rateLines,
  scaleEnd,
  scaleMarks,
  scaleWords,
} from './results-words';

const counts = (over: Partial<ResultCounts>): ResultCounts => ({ ...NO_RESULTS, ...over });
const group = (name: string, replied: number, written: number) => ({
  key: name,
  name,
  counts: counts({ written, replied }),
});

describe('lostWords', () => {
  it('says why people were not reached, and who wants no more', () => {
    expect(lostWords(counts({ written: 20 }))).toBe('');
    expect(
      lostWords(counts({ written: 20, bounced: 8, unreachable: 2, blocked: 1, unsubscribed: 3, complained: 1 })),
    ).toBe(
      '8 bounced: 5 no such address, 2 full or out of reach and 1 blocked. 3 unsubscribed. 1 reported a message as spam.',
    );
    expect(lostWords(counts({ bounced: 1, unsubscribed: 1 }))).toBe('1 bounced: no such address. 1 unsubscribed.');
  });
});

describe('rates of those written to', () => {
  it('are those of bounces alone, each with its kinds', () => {
    const some = counts({ written: 20, bounced: 8, unreachable: 2, replied: 3 });
    const lineOf = (rate: RateName) => rateLines([{ key: 'a', name: 'A', counts: some }], rate)[0]!;
    expect([lineOf('bounced').range.of, lineOf('bounced').kinds]).toEqual([
      20,
      '6 no such address, 2 full or out of reach',
    ]);
    expect([lineOf('replied').range.of, lineOf('replied').kinds]).toEqual([12, '']);
    expect(scaleWords('bounced').people).toBe('Written to');
  });
});

describe('countries', () => {
  it('are called by their names, and whoever followed no link by that', () => {
    const groups = ['AU', 'JP', ''].map((key) => ({ key, name: key, counts: counts({}) }));
    expect(namedGroups({ groups, others: null }, 'country').map((g) => g.name)).toEqual([
      'Australia',
      'Japan',
      'no link followed, or not known',
    ]);
  });
});

describe('the headline of a campaign’s results', () => {
  it('says what happened, where it came from and what is still open', () => {
    expect(headlineOf(aCampaignsResults(), [])).toEqual({
      lead: '25 of 176 people reached replied',
      rest: ' (14 %, likely between 9.8 and 20); 11 are interested, and 4 meetings are set. Of the replies, 16 came after the first message and 9 after follow-up 1. Of the 149 who are silent, 105 get another message. About 3 more are to be expected.',
      doubt: '',
    });
  });

  it('says of variants only what may be said', () => {
    const { doubt } = headlineOf(aCampaignsResults(), [group('A', 9, 88), group('B', 16, 88)]);
    expect(doubt).toBe('B got more replies than A; with 88 each this may still be chance: 214 more each would tell.');
  });

  it('is calm where there is next to nothing', () => {
    const none: CampaignResults = { ...aCampaignsResults(), counts: counts({ written: 2, bounced: 2 }) };
    expect(headlineOf(none, []).lead).toBe('Nobody has been reached yet.');
    const one = { ...aCampaignsResults(), ...{ silent: 1, toCome: 1, expected: null, steps: [] } };
    expect(headlineOf({ ...one, counts: counts({ written: 1 }) }, [])).toEqual({
      lead: '0 of 1 person reached has replied',
      rest: ' (0 %, likely between 0 and 79). Of the 1 who are silent, 1 gets another message.',
      doubt: '',
    });
  });
});

describe('lines on one scale', () => {
  it('say which difference may be chance', () => {
    const lines = rateLines(
      [group('A', 2, 100), group('B', 30, 100), group('C', 25, 100), group('D', 0, 0)],
      'replied',
    );
    expect(lines.map((l) => [l.name, l.share, l.soFar, l.mayBeChance])).toEqual([
      ['A', '2 · 2 %', 'fewer, not by chance (p < 0.001)', false],
      ['B', '30 · 30 %', 'the most', false],
      ['C', '25 · 25 %', 'may be chance (p 0.53)', true],
      ['D', '0 · 0 %', '', false],
    ]);
  });

  it('do not hold it against a campaign that it is not over', () => {
    const lines = rateLines(
      [{ ...group('A', 1, 100), isUnderWay: true }, group('B', 10, 100), group('C', 10, 100)],
      'replied',
    );
    expect(lines.map((l) => l.soFar)).toEqual(['still under way', 'the most', 'as many']);
    const line = {
      id: 1,
      state: 'running' as const,
      firstSentAt: 0,
      silent: 9,
      ...{ name: 'A', counts: counts({ written: 100, replied: 1 }) },
    };
    const other = { ...line, name: 'B', toCome: 0, counts: counts({ written: 100, replied: 30 }) };
    expect(overviewWords({ campaigns: [{ ...line, toCome: 9 }, other], together: other.counts }).doubt).toBe('');
    expect(overviewWords({ campaigns: [{ ...line, toCome: 0 }, other], together: other.counts }).doubt).toBe(
      'B got more replies than A, by more than chance.',
    );
  });

  it('say nothing where nothing came of any', () =>
    expect(rateLines([group('A', 0, 10), group('B', 0, 10)], 'replied').map((l) => l.soFar)).toEqual(['', '']));

  it('are named', () => {
    const groups = [group('1', 1, 2), group('', 1, 2)];
    expect(namedGroups({ groups, others: { groups: 3, counts: counts({}) } }, 'weekday').map((g) => g.name)).toEqual([
      ...['Monday', 'no value', '3 more, each smaller'],
    ]);
    expect(namedGroups({ groups: [group('09', 1, 2)], others: null }, 'hour')[0]?.name).toBe('9:00');
  });

  it('have marks that can be read', () => {
    expect([0.03, 0.12, 0.21, 0.7, 1].map((high) => scaleEnd([high]))).toEqual([0.05, 0.2, 0.3, 0.8, 1]);
    expect(scaleMarks(0.2)).toEqual([0, 5, 10, 15, 20]);
    expect(scaleMarks(1)).toEqual([0, 20, 40, 60, 80, 100]);
    expect([0.0123, 0.1, 0.144, 0, 1].map(percentOf)).toEqual(['1.2', '10', '14', '0', '100']);
  });
});

describe('the stream', () => {
  it('has everybody in one part after it divides', () => {
    const results = aCampaignsResults();
    const parts = streamParts(results);
    expect(parts).toEqual({
      written: 184,
      bounced: 8,
      left: 2,
      reached: 176,
      replied: 25,
      interested: 11,
      silent: 149,
    });
    expect(parts.left + parts.replied + parts.silent).toBe(parts.reached);
    expect(streamWords(results)).toBe(
      '184 written to, 8 bounced, 176 reached, 25 replied, 11 interested · 4 meetings and 149 silent, 105 of them still to get a follow-up.',
    );
  });
});
