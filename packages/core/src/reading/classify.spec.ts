import { describe, expect, it } from 'vitest';
import { classify } from './classify';
import { EMPTY_MESSAGE, type IncomingMessage } from './incoming-message';

const received = Date.UTC(2026, 10, 24);
const message = (over: Partial<IncomingMessage>): IncomingMessage => ({
  ...EMPTY_MESSAGE,
  from: 'Odile <odile@cedres.example>',
  subject: 'Re: Kelp',
  text: '',
  ...over,
});
const kind = (over: Partial<IncomingMessage>) => classify(message(over), received);
const answers = {
  'in-reply-to': '<m2@tidewaterkelp.example>',
  references: '<m1@tidewaterkelp.example> <m2@tidewaterkelp.example>',
};
const report = (action: string, status: string, diagnostic = '') =>
  `Reporting-MTA: dns; mx.example\r\n\r\nFinal-Recipient: rfc822;\r\n gone@vines.example\r\nAction: ${action}\r\nStatus: ${status}\r\nDiagnostic-Code: smtp; ${diagnostic}\r\n`;

describe('classify', () => {
  it('takes an answer for a reply and knows what it answers', () => {
    expect(kind({ headers: answers, text: 'Yes please.\n\nOn Mon, Ines wrote:\n> please unsubscribe' })).toMatchObject({
      kind: 'reply',
      concerns: ['odile@cedres.example'],
      answers: ['m2@tidewaterkelp.example', 'm1@tidewaterkelp.example'],
    });
  });

  it.each([
    ['failed', '5.1.1', '550 no such user', 'hard'],
    ['failed', '5.2.2', 'mailbox full', 'full'],
    ['failed', '5.7.1', 'blocked by policy', 'blocked'],
    ['delayed', '4.4.7', '', 'delayed'],
  ])('reads a report that says %s %s as a bounce', (action, status, diagnostic, bounce) => {
    const enclosed = ['Message-ID: <m1@tidewaterkelp.example>\r\nTo: gone@vines.example\r\n'];
    expect(
      kind({ from: 'MAILER-DAEMON@mx.example', deliveryReports: [report(action, status, diagnostic)], enclosed }),
    ).toMatchObject({
      kind: 'bounce',
      bounce,
      concerns: ['gone@vines.example'],
      answers: ['m1@tidewaterkelp.example'],
    });
  });

  it('knows a bounce that follows no standard', () => {
    expect(
      kind({
        from: 'Mailer-Daemon@mx.example',
        subject: 'Undelivered Mail Returned to Sender',
        text: 'I could not deliver to <gone@vines.example>: user unknown',
      }),
    ).toMatchObject({ kind: 'bounce', bounce: 'hard', concerns: ['gone@vines.example'] });
  });

  it('takes no report of success for a bounce', () =>
    expect(kind({ deliveryReports: [report('delivered', '2.0.0')] }).kind).not.toBe('bounce'));

  it('knows auto-replies by header or subject, and the day the person is back', () => {
    expect(
      kind({ headers: { ...answers, 'auto-submitted': 'auto-replied' }, text: 'I am away until 7 December.' }),
    ).toMatchObject({ kind: 'auto_reply', backOn: '2026-12-07' });
    expect(kind({ subject: 'Out of office: Kelp', text: 'Back on 3 January' })).toMatchObject({
      kind: 'auto_reply',
      backOn: '2027-01-03',
    });
    expect(kind({ headers: { ...answers, 'auto-submitted': 'no' } }).kind).toBe('reply');
  });

  it.each(['Please remove me from your list', 'STOP', 'Don’t contact us again', 'Bitte abmelden'])(
    'takes %j for a wish to be left alone',
    (text) => expect(kind({ headers: answers, text }).kind).toBe('unsubscribe'),
  );

  it('knows a complaint by its feedback report', () => {
    expect(
      kind({ feedbackReports: ['Feedback-Type: abuse\r\nOriginal-Rcpt-To: cy@vines.example'], enclosed: [] }),
    ).toMatchObject({ kind: 'complaint', concerns: ['cy@vines.example'] });
  });

  it('is not sure of what answers nothing', () =>
    expect(kind({ subject: 'Kelp', text: 'Hello' })).toMatchObject({ kind: 'reply', sureness: 'unsure' }));
});
