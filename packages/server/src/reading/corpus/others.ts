import { ANSWERS, ORIGINAL, written, type MailCase, type Written } from './mail-case';

const of =
  (kind: MailCase['kind']) =>
  (name: string, w: Written, over: Partial<MailCase> = {}): MailCase => ({
    name: `${kind}: ${name}`,
    kind,
    raw: written(w),
    ...over,
  });
const AUTO = { 'Auto-Submitted': 'auto-replied', ...ANSWERS };
const ack = of('acknowledgement');
const challenge = of('challenge');
const calendar = of('calendar');
const receipt = of('receipt');
const complaint = of('complaint');
const noise = of('noise');

const feedback = (type: string) =>
  [
    'message/feedback-report',
    `Feedback-Type: ${type}\nUser-Agent: Report/1.0\nVersion: 1\nOriginal-Rcpt-To: <ana@vines.example>\n`,
  ] as [string, string];
const event = (method: string, stat: string) =>
  [
    `text/calendar; method=${method}; charset=utf-8`,
    `BEGIN:VCALENDAR\nMETHOD:${method}\nBEGIN:VEVENT\nUID:1\nATTENDEE;CN=Ana;PARTSTAT=${stat}:mailto:ana@vines.example\nEND:VEVENT\nEND:VCALENDAR`,
  ] as [string, string];

/** What machines write: acknowledgements, challenges, calendar answers, receipts, complaints, and what is not for us. */
export const OTHERS: readonly MailCase[] = [
  ack('thank you for contacting', {
    headers: AUTO,
    subject: 'Thank you for contacting Vines',
    text: 'Thank you for contacting us. We have received your message and will get back to you within two working days.',
  }),
  ack('a ticket', {
    from: 'Vines Support <support@vines.example>',
    subject: '[Ticket #48211] Kelp trial for your vines',
    text: 'Your request (48211) has been received and is being reviewed by our team. To add comments, reply to this email.',
  }),
  ack('a case without header', {
    from: 'info@vines.example',
    subject: 'Re: Kelp trial',
    text: 'Thanks for your message. This is to confirm receipt of your enquiry, reference no. VN-2211. We will respond shortly.',
  }),
  ack('German', {
    headers: AUTO,
    subject: 'Eingangsbestätigung',
    text: 'Vielen Dank für Ihre Nachricht. Wir haben Ihre Anfrage erhalten und melden uns in Kürze.',
  }),
  ack('German ticket', {
    from: 'service@vines.example',
    subject: 'Ihre Anfrage [#20261124]',
    text: 'Ihre Anfrage ist bei uns eingegangen. Vorgangsnummer: 20261124. Wir werden sie schnellstmöglich bearbeiten.',
  }),
  ack('French', {
    headers: AUTO,
    subject: 'Accusé de réception',
    text: 'Nous avons bien reçu votre message et vous répondrons dans les meilleurs délais.',
  }),
  ack('Spanish', {
    headers: AUTO,
    subject: 'Hemos recibido su mensaje',
    text: 'Gracias por contactar con Vines. Le responderemos lo antes posible.',
  }),
  ack('Italian', {
    headers: AUTO,
    subject: 'Re: Kelp',
    text: 'Abbiamo ricevuto la sua richiesta e risponderemo quanto prima.',
  }),
  ack('Dutch', {
    headers: AUTO,
    subject: 'Ontvangstbevestiging',
    text: 'Bedankt voor uw bericht. Wij nemen zo spoedig mogelijk contact met u op.',
  }),
  ack('Portuguese', { headers: AUTO, subject: 'Re: Kelp', text: 'Recebemos a sua mensagem. Responderemos em breve.' }),
  ack('Swedish', {
    headers: AUTO,
    subject: 'Autosvar: Kelp',
    text: 'Tack för ditt mejl. Vi har mottagit ditt ärende och återkommer så snart vi kan.',
  }),
  ack('Polish', {
    headers: AUTO,
    subject: 'Automatyczna odpowiedź',
    text: 'Dziękujemy za wiadomość. Odpowiemy jak najszybciej.',
  }),
  ack('Japanese', {
    headers: AUTO,
    subject: '自動返信: お問い合わせ',
    text: 'お問い合わせいただきありがとうございます。担当者より改めてご連絡いたします。',
  }),
  challenge('a link', {
    from: 'Ana Reyes <ana@vines.example>',
    subject: 'Please confirm your message',
    headers: AUTO,
    text: 'Your message to ana@vines.example is being held because you are not yet on my list of approved senders. To have your message delivered, please click the link below:\nhttps://vines.example/confirm/abc',
  }),
  challenge('a reply', {
    subject: 'Sender verification required',
    text: 'This is the first time you have written to me. Please reply to this message to prove that you are a real person; your mail will then be delivered.',
  }),
  challenge('a form', {
    subject: 'Verify you are human [Kelp trial]',
    headers: AUTO,
    text: 'Before your message can be delivered you need to complete this captcha: https://vines.example/c/1',
  }),
  challenge('German', {
    subject: 'Bestätigung des Absenders',
    headers: AUTO,
    text: 'Ihre Nachricht wurde zurückgehalten und wird erst nach Ihrer Bestätigung zugestellt. Bitte klicken Sie auf diesen Link: https://vines.example/c/1',
  }),
  challenge('French', {
    subject: 'Votre message est en attente',
    headers: AUTO,
    text: 'Votre message est en attente. Pour qu’il soit remis, veuillez cliquer sur ce lien et confirmer que vous n’êtes pas un robot.',
  }),
  calendar('accepted', {
    subject: 'Accepted: Call with Ines @ Wed 2 Dec 2026 10:00',
    text: 'Ana Reyes has accepted this invitation.',
    parts: [event('REPLY', 'ACCEPTED')],
  }),
  calendar('declined with a word', {
    subject: 'Declined: Call with Ines',
    text: 'Sorry, Thursday would suit me better.',
    parts: [event('REPLY', 'DECLINED')],
  }),
  calendar('an invitation', {
    subject: 'Invitation: Kelp @ Thu 3 Dec 2026 14:00 - 14:30',
    text: 'Ana invites you',
    parts: [event('REQUEST', 'NEEDS-ACTION')],
  }),
  calendar('German, by its class', {
    subject: 'Zugesagt: Gespräch',
    text: '',
    headers: { 'Content-Class': 'urn:content-classes:calendarmessage' },
  }),
  calendar('another time', { subject: 'New Time Proposed: Call', text: '', parts: [event('COUNTER', 'TENTATIVE')] }),
  receipt('read', {
    subject: 'Read: Kelp trial for your vines',
    headers: ANSWERS,
    text: 'Your message\n\nTo: Ana Reyes\nSubject: Kelp trial\n\nwas read on Tuesday, 24 November 2026 08:59:01.',
  }),
  receipt('by its report', {
    subject: 'Return Receipt (displayed) - Kelp',
    type: 'multipart/report; report-type=disposition-notification',
    text: 'This is a Return Receipt for the mail that you sent.',
    parts: [
      [
        'message/disposition-notification',
        'Final-Recipient: rfc822;ana@vines.example\nOriginal-Message-ID: <m1@tidewaterkelp.example>\nDisposition: manual-action/MDN-sent-manually; displayed',
      ],
    ],
  }),
  receipt('German', { subject: 'Gelesen: Kelp', headers: ANSWERS, text: 'Ihre Nachricht wurde am Dienstag gelesen.' }),
  receipt('delivered', {
    from: 'MAILER-DAEMON@mx.vines.example',
    subject: 'Successful Mail Delivery Report',
    type: 'multipart/report; report-type=delivery-status',
    text: 'Your message was successfully delivered.',
    parts: [
      [
        'message/delivery-status',
        'Reporting-MTA: dns; mx\n\nFinal-Recipient: rfc822; ana@vines.example\nAction: delivered\nStatus: 2.1.5',
      ],
    ],
  }),
  receipt('relayed', {
    from: 'postmaster@vines.example',
    subject: 'Relayed: Kelp',
    type: 'multipart/report; report-type=delivery-status',
    text: 'Delivery to these recipients is complete, but no delivery notification was sent by the destination server.',
    parts: [
      [
        'message/delivery-status',
        'Reporting-MTA: dns; mx\n\nFinal-Recipient: rfc822; ana@vines.example\nAction: relayed\nStatus: 2.0.0',
      ],
    ],
  }),
  complaint(
    'a report',
    {
      from: 'fbl@post.example',
      subject: 'FW: Kelp trial',
      type: 'multipart/report; report-type=feedback-report',
      text: 'This is an email abuse report.',
      parts: [feedback('abuse'), ['message/rfc822', ORIGINAL + '\nHello']],
    },
    { concerns: ['ana@vines.example'] },
  ),
  complaint(
    'fraud',
    {
      from: 'abuse@post.example',
      subject: 'Report',
      type: 'multipart/report; report-type=feedback-report',
      text: 'report',
      parts: [feedback('fraud')],
    },
    { concerns: ['ana@vines.example'] },
  ),
  complaint(
    'in words',
    {
      from: 'Abuse Desk <abuse@post.example>',
      subject: 'Spam complaint about a message from your network',
      text:
        'One of our users has reported the following message as spam.\n\nOriginal-Rcpt-To: ana@vines.example\n\n' +
        ORIGINAL,
    },
    { concerns: ['ana@vines.example'] },
  ),
  complaint(
    'from a loop',
    {
      from: 'staff@hotpost.example',
      subject: 'complaint about message from 192.0.2.9',
      text: 'A user has marked this message as junk.',
      parts: [['message/rfc822', ORIGINAL + '\nHello']],
    },
    { concerns: ['ana@vines.example'] },
  ),
  noise('a newsletter', {
    from: 'Vines News <news@vines.example>',
    subject: 'Our winter wines',
    headers: { 'List-Unsubscribe': '<https://vines.example/u>', 'List-Id': '<news.vines.example>' },
    text: 'View this email in your browser. Unsubscribe here.',
  }),
  noise('a mailing list', {
    from: 'Growers <growers@lists.example>',
    subject: '[growers] frost tonight',
    headers: { 'List-Id': '<growers.lists.example>', Precedence: 'list' },
    text: 'Cover the young vines.',
  }),
  noise('a cron job', {
    from: 'Cron Daemon <root@host.example>',
    subject: 'Cron <root@host> /usr/bin/backup',
    headers: { 'Auto-Submitted': 'auto-generated' },
    text: 'done',
  }),
  noise('an aggregate report', {
    from: 'noreply-dmarc-support@post.example',
    subject: 'Report domain: tidewaterkelp.example Submitter: post.example Report-ID: 1',
    text: 'See attachment.',
  }),
  noise('a sign-in notice', {
    from: 'Accounts <no-reply@accounts.example>',
    subject: 'Security alert for ines@tidewaterkelp.example',
    text: 'New sign-in on a computer. If this was you, you do not need to do anything.',
  }),
  noise('not spam after all', {
    from: 'fbl@post.example',
    subject: 'Report',
    type: 'multipart/report; report-type=feedback-report',
    text: 'report',
    parts: [feedback('not-spam')],
  }),
  noise('an authentication failure report', {
    from: 'fbl@post.example',
    subject: 'Report',
    type: 'multipart/report; report-type=feedback-report',
    text: 'report',
    parts: [feedback('auth-failure')],
  }),
  noise('a quarantine digest', {
    from: 'quarantine@vines.example',
    subject: 'Quarantine summary for ines',
    headers: { 'Auto-Submitted': 'auto-generated' },
    text: '3 messages are held.',
  }),
  noise('an invoice', {
    from: 'noreply@shop.example',
    subject: 'Invoice 2026-1123',
    text: 'Please find your invoice attached.',
  }),
];
