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
    [454, '454 4.7.0 Try later', 'auth', false, 'mailbox_later'],
    [null, 'connect ECONNREFUSED', 'connect', false, 'mailbox_later'],
    [421, '421 Too busy', 'connect', false, 'mailbox_later'],
    [554, '554 No SMTP service here', 'connect', false, 'mailbox_rests'],
    [550, '550 5.7.1 Your network is on a blocklist', 'mail', false, 'mailbox_rests'],
    [553, '553 5.1.8 Sender domain does not exist', 'mail', false, 'mailbox_rests'],
    [451, '451 4.3.0 Try again', 'mail', false, 'mailbox_later'],
    [552, '552 5.3.4 Message too big for system', 'mail', false, 'permanent'],
    [552, '552 Message size exceeds fixed maximum message size', 'mail', false, 'permanent'],
    [530, '530 5.7.0 Authentication required', 'mail', false, 'mailbox_refused'],
    [550, '550 5.7.1 Spam', 'data', false, 'permanent'],
    [554, '554 5.7.1 Content refused', 'body', true, 'permanent'],
    [421, '421 Shutting down', 'body', true, 'transient'],
    [null, 'connection lost', 'rcpt', false, 'transient'],
    [null, 'connection lost', 'data', false, 'transient'],
    [null, 'connection lost', 'body', true, 'unknown'],
  ] as const)('%s %s', (code, answer, stage, started, verdict) =>
    expect(judge(code, answer, stage, started)).toBe(verdict),
  );

  it('waits longer each time, up to four hours', () =>
    expect([1, 2, 5, 50].map((n) => retryPauseMs(n, 0.5))).toEqual([600_000, 1_800_000, 14_400_000, 14_400_000]));
  it('and are varied by a third, greylisting for five minutes still outlasted', () =>
    expect([0, 1].map((chance) => retryPauseMs(1, chance))).toEqual([400_000, 800_000]));
});
