import type { IncomingMessage } from '@baton/core';
import { simpleParser, type AddressObject, type Attachment } from 'mailparser';

/** An incoming message as the classifier takes it, and what the screens show of it. */
export interface ParsedMail extends IncomingMessage {
  fromName: string;
  messageId: string;
}

/** Text kept of a message: what a person writes is far shorter. */
const MAX_TEXT = 100_000;

/** Parses raw MIME. Never throws for odd mail: what cannot be read is empty. */
export async function parseMail(raw: Buffer): Promise<ParsedMail> {
  const mail = await simpleParser(raw, { keepDeliveryStatus: true, skipTextToHtml: true, skipImageLinks: true });
  const headers: Record<string, string> = {};
  for (const { key, line } of mail.headerLines) {
    const value = line.slice(line.indexOf(':') + 1).trim();
    headers[key] = key in headers ? `${headers[key]}\n${value}` : value;
  }
  const parts = (type: RegExp) => mail.attachments.filter((a) => type.test(a.contentType)).map(textOf);
  const from = (mail.from as AddressObject | undefined)?.value[0];
  return {
    headers,
    from: from?.address ?? '',
    fromName: from?.name || from?.address || '',
    subject: mail.subject ?? '',
    text: (mail.text ?? '').slice(0, MAX_TEXT),
    messageId: (mail.messageId ?? '').replace(/^<|>$/g, ''),
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
}

/** Reads the head of a message. */
export async function parseHead(raw: Buffer): Promise<MailHead> {
  const { messageId, from, to, cc, bcc } = await simpleParser(raw);
  const addressesOf = (field: AddressObject | AddressObject[] | undefined) =>
    [field ?? []]
      .flat()
      .flatMap((f) => f.value.flatMap((a) => a.group ?? [a]))
      .map((a) => a.address?.toLowerCase() ?? '')
      .filter((a) => a !== '');
  const recipients = new Set([to, cc, bcc].flatMap(addressesOf));
  return {
    messageId: (messageId ?? '').replace(/^<|>$/g, ''),
    from: addressesOf(from)[0] ?? '',
    recipients: Math.max(1, recipients.size),
  };
}

const textOf = (a: Attachment) => a.content.toString('utf8').slice(0, MAX_TEXT);
