import { describe, expect, it } from 'vitest';
import { nextStep } from '../campaigns/next-step';
import { outcomeCsv } from '../results/outcome-columns';
import { dayNumber } from '../time/days';
import { workingCalendar } from '../time/working-calendar';
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

describe('nextStep', () => {
  const calendar = workingCalendar([1, 2, 3, 4, 5], []);
  const steps = [{ delay: 0 }, { delay: 3 }];
  const friday = dayNumber('2026-11-27');

  it('counts working days after the last message', () =>
    expect(nextStep({ state: 'in_progress', sent: 1, lastSentDay: friday }, steps, calendar)).toEqual({
      kind: 'message',
      step: 1,
      dueDay: dayNumber('2026-12-02'),
    }));
  it('lets the plan choose the first day', () =>
    expect(nextStep({ state: 'waiting', sent: 0, lastSentDay: null }, steps, calendar)).toEqual({
      kind: 'message',
      step: 0,
      dueDay: null,
    }));
  it('ends after the last message', () =>
    expect(nextStep({ state: 'in_progress', sent: 2, lastSentDay: friday }, steps, calendar)).toEqual({
      kind: 'none',
      state: 'done',
    }));
  it.each(['replied', 'bounced', 'unsubscribed', 'stopped', 'left_out'] as const)(
    'sends nothing more to whoever is %s',
    (state) =>
      expect(nextStep({ state, sent: 1, lastSentDay: friday }, steps, calendar)).toEqual({ kind: 'none', state }),
  );
});

describe('outcomeCsv', () => {
  it('puts the outcome beside the original cells', () => {
    const csv = outcomeCsv(
      ['email', 'Name'],
      [
        {
          cells: ['a@x.example', '=SUM(A1)'],
          outcome: {
            state: 'in_progress',
            reason: '',
            mailbox: 'ines@tidewaterkelp.example',
            sentAt: ['2026-11-30 09:14'],
            repliedAt: '',
            outcome: '',
          },
        },
      ],
      2,
    );
    expect(csv).toBe(
      "email,Name,state,reason,mailbox,sent,follow-up 1 sent,replied,outcome\r\na@x.example,'=SUM(A1),in progress,,ines@tidewaterkelp.example,2026-11-30 09:14,,,\r\n",
    );
  });
});
