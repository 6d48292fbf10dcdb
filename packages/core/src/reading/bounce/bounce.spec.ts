import { describe, expect, it } from 'vitest';
import { asBounce } from './bounce';
import { EMPTY_MESSAGE, type IncomingMessage } from '../incoming-message';

const message = (over: Partial<IncomingMessage>): IncomingMessage => ({
  ...EMPTY_MESSAGE,
  from: 'mailer-daemon@mx.vines.example',
  subject: 'Undelivered mail',
  ...over,
});

/** A report by RFC 3464 on one recipient. */
const report = (action: string, status: string, diagnostic: string) =>
  message({
    deliveryReports: [
      `Reporting-MTA: dns; mx.vines.example\n\nFinal-Recipient: rfc822; ana@vines.example\nAction: ${action}\nStatus: ${status}\nDiagnostic-Code: smtp; ${diagnostic}\n`,
    ],
  });

describe('the reason that a server states outranks its code', () => {
  it.each([
    ['5.1.1', '550 5.1.1 User unknown', 'hard'],
    ['5.0.0', '550 No such user here', 'hard'],
    ['4.1.1', '450 4.1.1 ana@vines.example: Recipient address rejected: unverified address', 'hard'],
    ['5.1.1', '550 5.1.1 Mailbox is full', 'full'],
    ['5.2.2', '552 5.2.2 Over quota', 'full'],
    ['5.7.1', '554 5.7.1 Mailbox quota exceeded', 'full'],
    ['5.2.1', '550 5.2.1 The account has been disabled', 'hard'],
    ['5.1.1', '550 5.1.1 Message rejected due to spam content', 'blocked'],
    ['5.7.26', '550 5.7.26 Unauthenticated mail is not accepted: DMARC', 'blocked'],
    ['5.7.1', '554 5.7.1 Service unavailable; client host blocked using a blocklist', 'blocked'],
    ['5.3.4', '552 5.3.4 Message size exceeds limit', 'sender'],
    ['5.4.4', '5.4.4 Host or domain name not found', 'hard'],
    ['5.4.1', '550 5.4.1 Relay access denied', 'hard'],
    ['4.4.7', 'delivery time expired', 'soft'],
    ['4.4.1', 'connection timed out', 'soft'],
    ['5.4.6', 'mail loops back to itself: too many hops', 'soft'],
    ['5.1.1', '', 'hard'],
    ['5.7.1', '', 'blocked'],
    ['4.2.0', '', 'soft'],
    ['5.1.1', '550 Utilisateur inconnu', 'hard'],
    ['5.0.0', '550 Buzón lleno', 'full'],
    ['5.0.0', '550 Empfänger unbekannt', 'hard'],
  ])('%s %s', (status, words, kind) =>
    expect(asBounce(report('failed', status, words))).toMatchObject({ bounce: kind, concerns: ['ana@vines.example'] }),
  );

  it('a warning is none of a failure, and a success no bounce', () => {
    expect(asBounce(report('delayed', '4.4.1', 'connection timed out'))?.bounce).toBe('delayed');
    expect(asBounce(report('delivered', '2.0.0', '250 OK'))).toBeNull();
    expect(asBounce(report('relayed', '2.0.0', ''))).toBeNull();
  });
});

const FREE: readonly [style: string, over: Partial<IncomingMessage>, bounce: string][] = [
  [
    'a list of addresses, each with its reason',
    {
      subject: 'failure notice',
      text: 'Hi. This is the mail program at mx.vines.example.\nI’m afraid I wasn’t able to deliver your message to the following addresses.\nThis is a permanent error; I’ve given up. Sorry it didn’t work out.\n\n<ana@vines.example>:\nSorry, no mailbox here by that name. (#5.1.1)\n\n--- Below this line is a copy of the message.\n\nReturn-Path: <ines@tidewaterkelp.example>\nTo: ana@vines.example\nSubject: block your calendar',
    },
    'hard',
  ],
  [
    'an indented address',
    {
      subject: 'Mail delivery failed: returning message to sender',
      text: 'This message was created automatically by mail delivery software.\n\nA message that you sent could not be delivered to one or more of its\nrecipients. This is a permanent error. The following address(es) failed:\n\n  ana@vines.example\n    host mx.vines.example [192.0.2.1]\n    SMTP error from remote mail server after RCPT TO:<ana@vines.example>:\n    550 5.7.1 blocked by policy\n\n------ This is a copy of the message, including all the headers. ------',
    },
    'blocked',
  ],
  [
    'a failed-recipients header',
    { headers: { 'x-failed-recipients': 'ana@vines.example' }, subject: 'Returned', text: 'mailbox is full' },
    'full',
  ],
  [
    'what two servers said to each other',
    {
      subject: 'Returned mail: see below for details',
      text: '   ----- The following addresses had permanent fatal errors -----\n<ana@vines.example>\n    (reason: 550 5.1.1 <ana@vines.example>... User unknown)\n\n   ----- What was said -----\n... while talking to mx.vines.example.:\n>>> DATA\n<<< 550 5.1.1 <ana@vines.example>... User unknown',
    },
    'hard',
  ],
  [
    'a company’s server',
    {
      from: 'postmaster@vines.example',
      subject: 'Undeliverable: Kelp for your vines',
      text: 'Your message to ana@vines.example couldn’t be delivered.\n\nana wasn’t found at vines.example.',
    },
    'hard',
  ],
  [
    'a warning',
    {
      subject: 'Warning: message still undelivered after 4 hours',
      text: 'Your message to <ana@vines.example> has been delayed. No action is required: it will be retried for 5 days.',
    },
    'delayed',
  ],
  [
    'an empty return path',
    {
      from: 'info@vines.example',
      headers: { 'return-path': '<>' },
      subject: 'Delivery failure',
      text: 'ana@vines.example: account disabled',
    },
    'hard',
  ],
  [
    'German',
    {
      subject: 'Unzustellbar: Kelp',
      text: 'Ihre Nachricht konnte nicht zugestellt werden.\n\n<ana@vines.example>: Das Postfach ist voll',
    },
    'full',
  ],
  [
    'French',
    {
      subject: 'Non remis : Kelp',
      text: 'Votre message n’a pas pu être remis à ana@vines.example : destinataire inconnu',
    },
    'hard',
  ],
  [
    'Spanish',
    { subject: 'No entregado: Kelp', text: 'El mensaje no se pudo entregar a ana@vines.example: el usuario no existe' },
    'hard',
  ],
  [
    'Italian',
    {
      subject: 'Mancata consegna',
      text: 'Non è stato possibile recapitare il messaggio a ana@vines.example: casella piena',
    },
    'full',
  ],
  [
    'Russian',
    {
      subject: 'Недоставленное сообщение',
      text: 'Сообщение не может быть доставлено: ana@vines.example, получатель не найден',
    },
    'hard',
  ],
];

describe('a bounce that follows no standard', () => {
  it.each(FREE)('%s', (_, over, bounce) =>
    expect(asBounce(message(over))).toMatchObject({ bounce, concerns: ['ana@vines.example'] }),
  );

  it('is not judged by the words of the message that it gives back', () =>
    expect(
      asBounce(
        message({
          text: 'I could not deliver to <ana@vines.example>: user unknown\n\n--- The original message follows ---\nNo spam, no policy, no quota exceeded.',
        }),
      )?.bounce,
    ).toBe('hard'));
});

describe('what is no bounce', () => {
  it.each([
    [
      'a person who speaks of one',
      { from: 'odile@cedres.example', text: 'Your last mail could not be delivered, it seems.' },
    ],
    ['a person with such a subject', { from: 'odile@cedres.example', subject: 'Re: Undelivered mail', text: 'Odd.' }],
    ['a postmaster who writes', { from: 'postmaster@vines.example', subject: 'Re: Kelp', text: 'Yes please, Ana.' }],
    [
      'an absence with an empty return path',
      { from: 'ana@vines.example', headers: { 'return-path': '<>' }, subject: 'Away', text: 'I am on holiday.' },
    ],
  ] as [string, Partial<IncomingMessage>][])('%s', (_, over) => expect(asBounce(message(over))).toBeNull());
});

it('takes as long for a hostile text as for any other', () => {
  for (const evil of ['mailbox '.repeat(12_000), '<a@'.repeat(30_000), 'user '.repeat(20_000), 'a@b'.repeat(30_000)])
    expect(asBounce(message({ text: evil }))).not.toBeNull();
});
