import { storableText, type IncomingMessage } from '@baton/core';
import { simpleParser, type AddressObject, type Attachment } from 'mailparser';

/** An incoming message as the classifier takes it, and what the screens show of it. */
export interface ParsedMail extends IncomingMessage {
  fromName: string;
  messageId: string;
}

/** Text kept of a message: what a person writes is far shorter. */
const MAX_TEXT = 100_000;
/** Letters kept of a subject and a name (RFC 5322 2.1.1 has 998 to a line), of an address and a Message-ID. */
const MAX_LINE = 1000;
const MAX_ADDRESS = 320;
/** Parts of one kind that are looked at; a report has one of each. */
const MAX_PARTS = 20;

const storable = (text: string, most: number): string => storableText(text.slice(0, most));

/** Parses raw MIME; what cannot be read is empty, and everything can be stored. */
export async function parseMail(raw: Uint8Array): Promise<ParsedMail> {
  const mail = await simpleParser(Buffer.from(raw), {
    keepDeliveryStatus: true,
    skipTextToHtml: true,
    skipImageLinks: true,
  });
  const headers: Record<string, string> = {};
  for (const { key: written, line } of mail.headerLines) {
    const key = storable(written, MAX_LINE);
    const value = storable(line.slice(line.indexOf(':') + 1).trim(), MAX_TEXT);
    headers[key] = key in headers ? `${headers[key]}\n${value}` : value;
  }
  const parts = (type: RegExp) =>
    mail.attachments
      .filter((a) => type.test(a.contentType))
      .slice(0, MAX_PARTS)
      .map(textOf);
  const from = (mail.from as AddressObject | undefined)?.value[0];
  return {
    headers,
    from: storable(from?.address ?? '', MAX_ADDRESS),
    fromName: storable(from?.name || from?.address || '', MAX_LINE),
    subject: storable(mail.subject ?? '', MAX_LINE),
    text: storable(mail.text ?? '', MAX_TEXT),
    messageId: storable((mail.messageId ?? '').replace(/^<|>$/g, ''), MAX_LINE),
    deliveryReports: parts(/^message\/delivery-status$/i),
    feedbackReports: parts(/^message\/feedback-report$/i),
    enclosed: parts(/^(?:message\/rfc822|text\/rfc822-headers|message\/rfc822-headers)$/i),
  };
}

/** Who wrote a message to how many. */
export interface MailHead {
  /** Without brackets; '' for none. */
  messageId: string;
  /** In small letters. */
  from: string;
  /** Different addresses in To, Cc and Bcc, one at least. */
  recipients: number;
  /** Those in To, in small letters, as many as are looked at. */
  to: string[];
  subject: string;
}

/** Reads the head of a message. */
export async function parseHead(raw: Uint8Array): Promise<MailHead> {
  const { messageId, from, to, cc, bcc, subject } = await simpleParser(Buffer.from(raw));
  const addressesOf = (field: AddressObject | AddressObject[] | undefined) =>
    [field ?? []]
      .flat()
      .flatMap((f) => f.value.flatMap((a) => a.group ?? [a]))
      .map((a) => a.address?.toLowerCase() ?? '')
      .filter((a) => a !== '');
  const recipients = new Set([to, cc, bcc].flatMap(addressesOf));
  return {
    messageId: storable((messageId ?? '').replace(/^<|>$/g, ''), MAX_LINE),
    from: addressesOf(from)[0] ?? '',
    recipients: Math.max(1, recipients.size),
    to: addressesOf(to)
      .slice(0, MAX_PARTS)
      .map((a) => storable(a, MAX_ADDRESS)),
    subject: storable(subject ?? '', MAX_LINE),
  };
}

const textOf = (a: Attachment) => storable(a.content.toString('utf8', 0, 4 * MAX_TEXT), MAX_TEXT);
