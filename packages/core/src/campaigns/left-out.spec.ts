import { describe, expect, it } from 'vitest';
import {
  isLeftOutFor,
  judgePerson,
  limitPerCompany,
  LEFT_OUT,
  leftOutReason,
  whyLeftOut,
  type FilledFacts,
  type LeaveOutRules,
  type LeftOutCode,
  type PersonFacts,
} from './left-out';

const judge = (
  { filled, ...facts }: Partial<PersonFacts> & { filled?: Partial<FilledFacts> } = {},
  rules: Partial<LeaveOutRules> = {},
) =>
  judgePerson(
    { suppression: null, verifier: null, ...facts },
    { leaveOutBlank: false, leaveOutDoubtful: null, needsLines: true, ...rules },
    () => ({ blanks: [], line: null, faults: [], ...filled }),
  );
const unsure = { column: 'check', word: 'risky', verdict: 'ask' } as const;
const codes = (j: ReturnType<typeof judge>) => ({
  leftOut: j.leftOut?.code ?? null,
  questions: j.questions.map((q) => q.code),
});

describe('judgePerson', () => {
  it('writes to somebody against whom nothing speaks', () => expect(judge()).toEqual({ leftOut: null, questions: [] }));

  it('leaves out whoever the suppression list covers, without filling in any message', () => {
    const fail = () => {
      throw new Error('filled in');
    };
    const facts = { suppression: 'hard bounce', verifier: unsure };
    const rules = { leaveOutBlank: true, leaveOutDoubtful: true, needsLines: true };
    expect(judgePerson(facts, rules, fail)).toEqual({
      leftOut: {
        code: 'suppressed',
        words: 'on the suppression list: hard bounce',
        group: 'on the suppression list',
      },
      questions: [],
    });
  });

  it.each([
    ['leave_out', null, 'verifier', []],
    ['ask', true, 'verifier', []],
    ['ask', null, null, ['verifier']],
    ['ask', false, null, []],
    ['use', true, null, []],
  ] as const)('with the verdict %s and the choice %s', (verdict, leaveOutDoubtful, leftOut, questions) =>
    expect(codes(judge({ verifier: { ...unsure, verdict } }, { leaveOutDoubtful }))).toEqual({ leftOut, questions }),
  );

  it('asks about blanks unless they are to be left out', () => {
    const filled = { blanks: ['first name', 'company'] };
    expect(judge({ filled }).questions[0]?.words).toBe('no value for first name, company');
    expect(codes(judge({ filled }, { leaveOutBlank: true })).leftOut).toBe('blank');
  });

  it.each([
    ['rejected', true, 'line', []],
    ['rejected', false, 'line', []],
    ['written', true, null, ['line']],
    ['written', false, null, []],
    ['approved', true, null, []],
  ] as const)('with a line that is %s, approval needed: %s', (line, needsLines, leftOut, questions) =>
    expect(codes(judge({ filled: { line } }, { needsLines }))).toEqual({ leftOut, questions }),
  );

  it('leaves out where the message cannot be made', () =>
    expect(judge({ filled: { faults: ['an attachment is gone', 'another'] } }).leftOut).toMatchObject({
      code: 'message',
      words: 'an attachment is gone',
    }));
});

describe('whyLeftOut', () => {
  it('takes the first open question for the reason where nobody is there to ask', () => {
    const judgement = judge({ verifier: unsure, filled: { blanks: ['company'], line: 'to_do' } });
    expect(whyLeftOut(judgement)?.code).toBe('line');
    expect(whyLeftOut(judge())).toBeNull();
  });
});

describe('LEFT_OUT', () => {
  it('says of every reason that does not pass by itself what settles it', () => {
    for (const code of Object.keys(LEFT_OUT) as LeftOutCode[]) {
      const { passes, settledBy, words } = LEFT_OUT[code];
      expect(words('a detail').length, code).toBeGreaterThan(0);
      expect(settledBy === '', code).toBe(passes);
    }
  });
});

describe('who gets messages beside other campaigns', () => {
  it('is nobody of another campaign, unless that is allowed', () => {
    const facts = { otherCampaigns: ['Autumn', 'Winter'] };
    expect(judge(facts, { allowsOthers: false }).leftOut?.words).toBe('still being written to by Autumn and Winter');
    expect(judge(facts, { allowsOthers: true }).leftOut).toBeNull();
    expect(judge({}, { allowsOthers: false }).leftOut).toBeNull();
  });

  it.each([
    [0, 1, 'last written to today'],
    [1, 2, 'last written to yesterday'],
    [29, 30, 'last written to 29 days ago'],
    [30, 30, undefined],
    [5, null, undefined],
  ] as const)('is nobody who was written to %s days ago, with %s to wait', (writtenDaysAgo, notWithinDays, words) =>
    expect(judge({ writtenDaysAgo }, { notWithinDays }).leftOut?.words).toBe(words),
  );

  it('is known again by its words, whatever it is about', () => {
    const out = (reason: string) => ({ state: 'left_out' as const, sent: 0, reason });
    for (const code of ['suppressed', 'excluded', 'other_campaign', 'written_lately', 'sender', 'blank'] as const) {
      expect(isLeftOutFor(code, out(leftOutReason(code, 'Garden centres').words))).toBe(true);
      expect(isLeftOutFor(code, out(leftOutReason('message', 'its subject is empty').words))).toBe(false);
    }
    expect(isLeftOutFor('suppressed', out(leftOutReason('suppressed').words))).toBe(true);
    expect(isLeftOutFor('sender', out(leftOutReason('excluded', 'x').words))).toBe(false);
    // What is nothing but its detail cannot be told from anything else.
    expect(isLeftOutFor('message', out('its subject is empty'))).toBe(false);
    expect(isLeftOutFor('sender', { ...out(leftOutReason('sender', 'x').words), state: 'waiting' })).toBe(false);
  });

  it('is at most so many of one company, first those whom the campaign has', () => {
    const one = (company: string, isIn = false, isOut = false) => ({
      ...{ company, isIn, questions: [] },
      leftOut: isOut ? judge({ suppression: 'x' }).leftOut : null,
    });
    const people = [
      one('a'),
      one('a'),
      one('a', true),
      one('', false),
      one('', false),
      one('b'),
      one('b', false, true),
      one('b'),
    ];
    const left = (most: number | null) => limitPerCompany(people, most).map((p) => p.leftOut?.code ?? '');
    expect(left(1)).toEqual(['company', 'company', '', '', '', '', 'suppressed', 'company']);
    expect(left(2)).toEqual(['', 'company', '', '', '', '', 'suppressed', '']);
    expect(left(null)).toEqual(['', '', '', '', '', '', 'suppressed', '']);
    expect(limitPerCompany(people, 1)[0]?.leftOut?.words).toBe('somebody else at a is written to');
  });
});
