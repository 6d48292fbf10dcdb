import type { BounceKind } from '@baton/core';
import { ANA, bounce, DAEMON } from './bounce-case';
import { ORIGINAL, written, type MailCase, type Written } from './mail-case';

/** A report (RFC 3464) with a text for people above it. */
const report = (
  name: string,
  kind: BounceKind,
  fields: string,
  over: Written & { concerns?: string[]; original?: string } = {},
): MailCase =>
  bounce(
    name,
    kind,
    {
      type: 'multipart/report; report-type=delivery-status',
      text: 'This is the mail system at host mx.tidewaterkelp.example.\n\nYour message could not be delivered to one or more recipients.',
      parts: [
        ['message/delivery-status', `Reporting-MTA: dns; mx.tidewaterkelp.example\n\n${fields}\n`],
        ['text/rfc822-headers', over.original ?? ORIGINAL],
      ],
      ...over,
    },
    over.concerns,
  );

const failed = (status: string, diagnostic: string, address = ANA) =>
  `Final-Recipient: rfc822; ${address}\nAction: failed\nStatus: ${status}\nDiagnostic-Code: smtp; ${diagnostic}`;

/** Bounces by RFC 3464. */
export const REPORTS: readonly MailCase[] = [
  ...(
    [
      [
        '5.1.1',
        '550 5.1.1 <ana@vines.example>: Recipient address rejected: User unknown in virtual mailbox table',
        'hard',
      ],
      [
        '5.1.1',
        "550-5.1.1 The email account that you tried to reach does not exist. Please try double-checking the recipient's email address for typos or unnecessary spaces.",
        'hard',
      ],
      [
        '5.1.10',
        '550 5.1.10 RESOLVER.ADR.RecipientNotFound; Recipient ana@vines.example not found by SMTP address lookup',
        'hard',
      ],
      ['5.4.1', '550 5.4.1 Recipient address rejected: Access denied.', 'hard'],
      ['5.0.0', '550 Requested action not taken: mailbox unavailable', 'hard'],
      ['5.7.1', '550 5.7.1 Unable to relay for ana@vines.example', 'hard'],
      [
        '5.0.0',
        "554 delivery error: dd This user doesn't have a vines.example account (ana@vines.example) [0]",
        'hard',
      ],
      ['5.1.0', '550 5.1.0 Address rejected.', 'hard'],
      ['5.1.6', '550 5.1.6 User has moved; please contact the new address', 'hard'],
      ['5.2.1', '550 5.2.1 The user you are trying to contact is inactive', 'hard'],
      [
        '5.1.2',
        'Host or domain name not found. Name service error for name=vines.example type=MX: Host not found',
        'hard',
      ],
      ['5.1.2', 'unrouteable mail domain "vines.example"', 'hard'],
      ['5.1.10', '556 5.1.10 Recipient address has a null MX', 'hard'],
      ['5.0.0', '550 No such person at this address', 'hard'],
      ['5.0.0', '511 sorry, no mailbox here by that name (#5.1.1 - chkuser)', 'hard'],
      ['5.0.0', '553 5.3.0 <ana@vines.example>... Addressee unknown, relay=[192.0.2.7]', 'hard'],
      ['5.5.0', '550 5.5.0 Requested action not taken: mailbox unavailable (S2017062302)', 'hard'],
      ['5.0.0', '550 Account disabled by administrator', 'hard'],
      ['5.1.1', '550 #5.1.1 Bad destination mailbox address', 'hard'],
      ['5.2.2', '552 5.2.2 The email account that you tried to reach is over quota and inactive', 'full'],
      ['5.2.2', "552-5.2.2 The recipient's inbox is out of storage space.", 'full'],
      ['5.1.1', '550 5.1.1 Mailbox full for ana@vines.example', 'full'],
      ['4.2.2', '452 4.2.2 Over quota', 'full'],
      ['5.0.0', '554 Message rejected: user mailbox exceeds allowed size', 'full'],
      ['5.2.3', '552 5.2.3 STOREDRV.Deliver; mailbox quota exceeded', 'full'],
      ['4.7.1', '451 4.7.1 Greylisting in action, please come back later', 'greylisted'],
      [
        '4.2.0',
        '450 4.2.0 <ana@vines.example>: Recipient address rejected: Greylisted, see http://grey.vines.example/help',
        'greylisted',
      ],
      [
        '5.7.26',
        '550-5.7.26 This mail has been blocked because the sender is unauthenticated. Both DKIM and SPF did not pass.',
        'blocked',
      ],
      [
        '5.7.1',
        "550 5.7.1 Unauthenticated email from tidewaterkelp.example is not accepted due to domain's DMARC policy.",
        'blocked',
      ],
      [
        '5.7.1',
        '554 5.7.1 Service unavailable; Client host [192.0.2.9] blocked using zone.example; https://zone.example/query/192.0.2.9',
        'blocked',
      ],
      ['5.7.1', '550 5.7.1 Our system has detected that this message is likely unsolicited mail.', 'blocked'],
      [
        '5.7.0',
        '552 5.7.0 This message was blocked because its content presents a potential security issue.',
        'blocked',
      ],
      ['5.7.606', '550 5.7.606 Access denied, banned sending IP [192.0.2.9].', 'blocked'],
      [
        '5.7.133',
        '550 5.7.133 RESOLVER.RST.SenderNotAuthenticatedForGroup; authentication required; Delivery restriction check failed because the sender was not authenticated when sending to this group',
        'blocked',
      ],
      ['5.0.0', '554 Message not allowed - [PH01] Email not accepted for policy reasons.', 'blocked'],
      ['5.7.1', '550 5.7.1 Message rejected due to content restrictions', 'blocked'],
      [
        '5.0.350',
        '550 5.0.350 Remote server returned an error -> 554 5.7.1 Your email has been rejected: spam score 9.4',
        'blocked',
      ],
      [
        '5.7.509',
        '550 5.7.509 Access denied, sending domain tidewaterkelp.example does not pass DMARC verification',
        'blocked',
      ],
      ['5.7.25', '550 5.7.25 The IP address sending this message does not have a PTR record setup', 'blocked'],
      ['5.7.1', '550 5.7.1 Recipient rejected: administrative prohibition', 'blocked'],
      ['5.2.3', '552 5.2.3 Message size exceeds fixed maximum message size (10240000)', 'sender'],
      ['5.1.8', '550 5.1.8 <ines@tidewaterkelp.example>: Sender address rejected: Domain not found', 'sender'],
      ['5.7.60', '550 5.7.60 SMTP; Client does not have permissions to send as this sender', 'sender'],
      ['5.4.5', '550 5.4.5 Daily user sending limit exceeded.', 'sender'],
      ['5.5.2', '550 5.5.2 message contains bare LF', 'sender'],
      ['4.4.1', 'connect to mx.vines.example[192.0.2.7]:25: Connection timed out', 'soft'],
      ['4.4.7', '550 4.4.7 QUEUE.Expired; message expired', 'soft'],
      ['5.4.6', '554 5.4.6 Too many hops', 'soft'],
      ['4.3.0', '451 4.3.0 Temporary lookup failure', 'soft'],
      ['4.3.2', '421 4.3.2 Service not available, please try again later', 'soft'],
    ] as const
  ).map(([status, said, kind]) => report(`report ${status} ${said}`, kind, failed(status, said))),
  report(
    'two recipients of which one failed',
    'hard',
    `${failed('5.1.1', '550 user unknown')}\n\nFinal-Recipient: rfc822; bo@vines.example\nAction: delivered\nStatus: 2.0.0`,
  ),
  report(
    'two recipients that failed',
    'hard',
    `${failed('5.1.1', '550 user unknown')}\n\n${failed('5.1.1', '550 user unknown', 'bo@vines.example')}`,
    { concerns: [ANA, 'bo@vines.example'] },
  ),
  report(
    'a warning',
    'delayed',
    `Final-Recipient: rfc822; ${ANA}\nAction: delayed\nStatus: 4.4.1\nDiagnostic-Code: smtp; connect to mx.vines.example: timed out\nWill-Retry-Until: Sat, 28 Nov 2026 09:00:00 +0000`,
  ),
  report(
    'a warning for greylisting',
    'delayed',
    `Final-Recipient: rfc822;${ANA}\nAction: delayed\nStatus: 4.2.0\nDiagnostic-Code: smtp; 450 4.2.0 Greylisted`,
  ),
  report(
    'forwarded on',
    'full',
    `Original-Recipient: rfc822;${ANA}\nFinal-Recipient: rfc822;anar@home.example\nAction: failed\nStatus: 5.2.2\nDiagnostic-Code: smtp; 552 5.2.2 mailbox full`,
  ),
  report(
    'fields in capitals, with folded lines',
    'hard',
    `FINAL-RECIPIENT: RFC822;\n  ${ANA}\nACTION: FAILED\nSTATUS: 5.1.1\nDIAGNOSTIC-CODE: SMTP;\n  550 5.1.1\n  no such user`,
  ),
  report('the reason only in the text', 'full', `Final-Recipient: rfc822;${ANA}\nAction: failed\nStatus: 5.0.0`, {
    text: 'Delivery has failed to these recipients or groups:\n\nana@vines.example\nThe recipient’s mailbox is full and can’t accept messages now.',
  }),
  report(
    'a local reason code',
    'hard',
    `Final-Recipient: rfc822;${ANA}\nAction: failed\nStatus: 5.1.1\nDiagnostic-Code: X-Local; User not listed in the directory`,
  ),
  report(
    'with an address book name',
    'hard',
    `Final-Recipient: rfc822;<${ANA}>\nAction: failed (bad destination mailbox address)\nStatus: 5.1.1 (bad destination mailbox address)`,
  ),
  report(
    'no empty line before the recipient',
    'hard',
    `Arrival-Date: Tue, 24 Nov 2026 08:00:00 +0000\nFinal-Recipient: rfc822;${ANA}\nAction: failed\nStatus: 5.1.1`,
  ),
  report('in Japanese', 'hard', failed('5.1.1', '550 5.1.1 unknown user'), {
    subject: '配信不能通知',
    text: '以下の宛先に配信できませんでした。',
  }),
  bounce('sent on by a colleague', 'hard', {
    from: 'Pia Holt <pia@tidewaterkelp.example>',
    subject: 'FW: Undeliverable: Kelp trial for your vines',
    text: 'This came to me instead of you.\n\nFrom: postmaster@vines.example\nSent: Tuesday\nTo: pia@tidewaterkelp.example\nSubject: Undeliverable: Kelp trial for your vines\n\nYour message to ana@vines.example couldn’t be delivered.\nana wasn’t found at vines.example.',
  }),
  bounce('a report enclosed in another message', 'hard', {
    from: 'Pia Holt <pia@tidewaterkelp.example>',
    subject: 'Fwd: Undelivered Mail Returned to Sender',
    text: 'see below',
    parts: [
      [
        'message/rfc822',
        written({
          from: DAEMON,
          subject: 'Undelivered Mail',
          type: 'multipart/report; report-type=delivery-status',
          text: 'failed',
          parts: [
            ['message/delivery-status', `Reporting-MTA: dns; mx\n\n${failed('5.1.1', '550 user unknown')}`],
            ['text/rfc822-headers', ORIGINAL],
          ],
        })
          .toString('utf8')
          .replaceAll('edge-of-parts', 'inner-edge'),
      ],
    ],
  }),
];
