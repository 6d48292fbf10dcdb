import { randomBytes } from 'node:crypto';
import MailComposer from 'nodemailer/lib/mail-composer';
import { simpleParser } from 'mailparser';

/** What simulated people need to know of a mail they got. */
export interface SeenMail {
  from: string;
  to: string;
  subject: string;
  messageId: string;
  references: string[];
  text: string;
  html: string;
  unsubscribeUrl: string | null;
  /** `mailto:` by which one leaves. */
  unsubscribeMail: string | null;
  oneClick: boolean;
  isFollowUp: boolean;
  cc: string[];
  /** '' where replies go to the sender. */
  replyTo: string;
  /** Names of the files that came with it. */
  files: string[];
}

export async function seeMail(raw: Buffer): Promise<SeenMail> {
  const mail = await simpleParser(raw);
  const header = (name: string) => mail.headerLines.find((h) => h.key === name)?.line.replace(/^[^:]*:\s*/, '') ?? '';
  const to = Array.isArray(mail.to) ? mail.to[0] : mail.to;
  return {
    from: mail.from?.value[0]?.address ?? '',
    to: to?.value[0]?.address ?? '',
    subject: mail.subject ?? '',
    messageId: mail.messageId ?? '',
    references: [mail.references ?? []].flat(),
    text: mail.text ?? '',
    html: mail.html || '',
    cc: [mail.cc ?? []].flat().flatMap((c) => c.value.map((v) => v.address ?? '')),
    replyTo: mail.replyTo?.value[0]?.address ?? '',
    files: mail.attachments.filter((a) => !a.related).map((a) => a.filename ?? ''),
    unsubscribeUrl: /<(https?:[^>]+)>/.exec(header('list-unsubscribe'))?.[1] ?? null,
    unsubscribeMail: /<(mailto:[^>]+)>/.exec(header('list-unsubscribe'))?.[1] ?? null,
    oneClick: /one-click/i.test(header('list-unsubscribe-post')),
    isFollowUp: mail.inReplyTo !== undefined,
  };
}

const newId = (domain: string) => `<${randomBytes(9).toString('hex')}@${domain}>`;
const domainOf = (address: string) => address.slice(address.lastIndexOf('@') + 1);
const build = (options: ConstructorParameters<typeof MailComposer>[0]) => new MailComposer(options).compile().build();

/** A person's answer, above the quotation that their program adds, or between its lines. */
export function replyTo(mail: SeenMail, text: string, atMs: number, name: string, isInline = false): Promise<Buffer> {
  const lines = mail.text.split('\n').map((l) => `> ${l}`);
  const wrote = `On ${new Date(atMs).toUTCString().slice(0, 16)}, ${mail.from} wrote:`;
  const middle = Math.ceil(lines.length / 2);
  const inline = [wrote, ...lines.slice(0, middle), '', text, '', ...lines.slice(middle), '', name];
  return build({
    from: { name, address: mail.to },
    to: mail.from,
    subject: /^re:/i.test(mail.subject) ? mail.subject : `Re: ${mail.subject}`,
    messageId: newId(domainOf(mail.to)),
    inReplyTo: mail.messageId,
    references: [...mail.references, mail.messageId],
    date: new Date(atMs),
    text: `${(isInline ? inline : [text, '', name, '', wrote, ...lines]).join('\n')}\n`,
  });
}

/** An answer from another address of the person, which refers to no message. */
export function freshMail(mail: SeenMail, text: string, atMs: number, name: string): Promise<Buffer> {
  const address = `${mail.to.split('@')[0] ?? ''}@post.example`;
  return build({
    from: { name, address },
    to: mail.from,
    subject: `Re: ${mail.subject}`,
    messageId: newId('post.example'),
    date: new Date(atMs),
    text: `${text}\n\n${name}\n`,
  });
}

/** What the program of somebody who has left says, and whom to write to (RFC 3834). */
export function departureNote(mail: SeenMail, atMs: number, name: string): Promise<Buffer> {
  const domain = domainOf(mail.to);
  return build({
    from: { name, address: mail.to },
    to: mail.from,
    subject: `Automatic reply: ${mail.subject}`,
    messageId: newId(domain),
    inReplyTo: mail.messageId,
    references: [mail.messageId],
    date: new Date(atMs),
    headers: { 'Auto-Submitted': 'auto-replied' },
    text: `${name} no longer works here. Please write to Robin Vale, head of purchasing, robin.vale@${domain}.\n`,
  });
}

/** What a mail program sends for a `mailto:` of List-Unsubscribe (RFC 2369, 2). @returns to whom, and the message */
export async function leaveNote(mail: SeenMail, mailto: string, atMs: number, name: string): Promise<[string, Buffer]> {
  const url = new URL(mailto);
  const to = decodeURIComponent(url.pathname);
  const raw = await build({
    from: { name, address: mail.to },
    to,
    subject: url.searchParams.get('subject') ?? 'unsubscribe',
    messageId: newId(domainOf(mail.to)),
    date: new Date(atMs),
    text: 'This message was sent by the mail program, to leave the list.\n',
  });
  return [to, raw];
}

/** An out-of-office note (RFC 3834). */
export function awayNote(mail: SeenMail, backOn: string, atMs: number, name: string): Promise<Buffer> {
  return build({
    from: { name, address: mail.to },
    to: mail.from,
    subject: `Out of office: ${mail.subject}`,
    messageId: newId(domainOf(mail.to)),
    inReplyTo: mail.messageId,
    references: [mail.messageId],
    date: new Date(atMs),
    headers: { 'Auto-Submitted': 'auto-replied' },
    text: `I am away and back on ${backOn}. Thank you for your message.\n`,
  });
}

/** A bounce that comes back later (RFC 3462, 3464). */
export function bounceNote(
  raw: Buffer,
  mail: SeenMail,
  status: string,
  diagnostic: string,
  atMs: number,
): Promise<Buffer> {
  const boundary = `bounce-${randomBytes(9).toString('hex')}`;
  const headers = raw.subarray(0, Math.max(0, raw.indexOf('\r\n\r\n'))).toString('utf8');
  const text = [
    `From: Mail Delivery System <MAILER-DAEMON@${domainOf(mail.to)}>`,
    `To: ${mail.from}`,
    'Subject: Undelivered Mail Returned to Sender',
    `Message-ID: ${newId(domainOf(mail.to))}`,
    `Date: ${new Date(atMs).toUTCString()}`,
    'Auto-Submitted: auto-replied',
    'MIME-Version: 1.0',
    `Content-Type: multipart/report; report-type=delivery-status; boundary="${boundary}"`,
    '',
    `--${boundary}`,
    'Content-Type: text/plain; charset=utf-8',
    '',
    `Your message to <${mail.to}> could not be delivered: ${diagnostic}`,
    '',
    `--${boundary}`,
    'Content-Type: message/delivery-status',
    '',
    `Reporting-MTA: dns; mx.${domainOf(mail.to)}`,
    '',
    `Final-Recipient: rfc822; ${mail.to}`,
    'Action: failed',
    `Status: ${status}`,
    `Diagnostic-Code: smtp; ${diagnostic}`,
    '',
    `--${boundary}`,
    'Content-Type: text/rfc822-headers',
    '',
    headers,
    '',
    `--${boundary}--`,
    '',
  ].join('\r\n');
  return Promise.resolve(Buffer.from(text));
}

/** A spam report in the abuse reporting format (RFC 5965). */
export function complaintNote(raw: Buffer, mail: SeenMail, atMs: number): Buffer {
  const boundary = `report-${randomBytes(9).toString('hex')}`;
  return Buffer.from(
    [
      `From: Feedback loop <fbl@${domainOf(mail.to)}>`,
      `To: ${mail.from}`,
      `Subject: Complaint about a message`,
      `Message-ID: ${newId(domainOf(mail.to))}`,
      `Date: ${new Date(atMs).toUTCString()}`,
      'MIME-Version: 1.0',
      `Content-Type: multipart/report; report-type=feedback-report; boundary="${boundary}"`,
      '',
      `--${boundary}`,
      'Content-Type: text/plain',
      '',
      'This is a report of a message that its recipient marked as spam.',
      '',
      `--${boundary}`,
      'Content-Type: message/feedback-report',
      '',
      'Feedback-Type: abuse',
      'User-Agent: simulator/1',
      'Version: 1',
      `Original-Rcpt-To: ${mail.to}`,
      '',
      `--${boundary}`,
      'Content-Type: message/rfc822',
      '',
      raw.toString('utf8'),
      '',
      `--${boundary}--`,
      '',
    ].join('\r\n'),
  );
}
