import { describe, expect, it } from 'vitest';
import { classify } from './classify';
import { EMPTY_MESSAGE, type IncomingMessage } from './incoming-message';

const kind = (over: Partial<IncomingMessage>) =>
  classify(
    {
      ...EMPTY_MESSAGE,
      ...{ from: 'ana@vines.example', subject: 'Re: Kelp' },
      ...over,
    },
    0,
  ).kind;
const answers = { 'in-reply-to': '<m1@tidewaterkelp.example>' };

describe('a receipt is no answer, though it refers to a message', () => {
  it.each<[string, Partial<IncomingMessage>]>([
    [
      'by its type',
      {
        headers: { ...answers, 'content-type': 'multipart/report; report-type=disposition-notification; boundary=x' },
        text: 'Your message was displayed.',
      },
    ],
    ['that was read', { headers: answers, subject: 'Read: Kelp', text: 'Your message was read on Monday.' }],
    [
      'that was not',
      { headers: answers, subject: 'Not read: Kelp', text: 'Your message was deleted without being read.' },
    ],
    ['in German', { headers: answers, subject: 'Gelesen: Kelp', text: 'Ihre Nachricht wurde am Montag gelesen.' }],
    ['in French', { headers: answers, subject: 'Lu : Kelp', text: 'Votre message a été lu lundi.' }],
    [
      'of a server',
      {
        deliveryReports: [
          'Reporting-MTA: dns; mx\n\nFinal-Recipient: rfc822; ana@vines.example\nAction: delivered\nStatus: 2.0.0\n',
        ],
      },
    ],
  ])('%s', (_, over) => expect(kind(over)).toBe('receipt'));

  it.each<[string, Partial<IncomingMessage>]>([
    ['who answers', { headers: answers, text: 'I read your message. Yes please.' }],
    ['with such a subject', { headers: answers, subject: 'Read: the small print', text: 'Yes please.' }],
  ])('a person %s is', (_, over) => expect(kind(over)).toBe('reply'));
});
