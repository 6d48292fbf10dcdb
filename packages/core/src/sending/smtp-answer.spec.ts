import { describe, expect, it } from 'vitest';
import { judgeAnswer, retryPauseMs, type SendOutcome } from './smtp-answer';

const judge = (code: number | null, answer: string, stage: SendOutcome['stage'] = 'rcpt', bodyStarted = false) =>
  judgeAnswer({ code, answer, stage, bodyStarted });

describe('judgeAnswer', () => {
  it.each([
    [250, '250 OK', 'body', true, 'accepted'],
    [451, '451 4.7.1 Greylisted', 'rcpt', false, 'transient'],
    [550, '550 5.1.1 No such user', 'rcpt', false, 'permanent'],
    [550, '550 5.4.5 Daily sending limit exceeded', 'mail', false, 'too_much'],
    [452, '452 4.5.3 Too many recipients today', 'rcpt', false, 'too_much'],
    [535, '535 5.7.8 Bad credentials', 'auth', false, 'mailbox_refused'],
    [454, '454 4.7.0 Try later', 'auth', false, 'transient'],
    [null, 'connection lost', 'data', false, 'transient'],
    [null, 'connection lost', 'body', true, 'unknown'],
  ] as const)('%s %s', (code, answer, stage, started, verdict) =>
    expect(judge(code, answer, stage, started)).toBe(verdict),
  );

  it('waits longer each time, up to four hours', () =>
    expect([1, 2, 5, 50].map(retryPauseMs)).toEqual([600_000, 1_800_000, 14_400_000, 14_400_000]));
});
