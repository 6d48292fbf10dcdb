import type { MailParts } from '@baton/contract';
import { storableText, type IncomingMessage } from '@baton/core';
import { partsOf } from './mail-parts';
import { readableText } from './text-of-html';
import { simpleParser, type AddressObject, type Attachment } from 'mailparser';

/** An incoming message as the classifier takes it, and what the screens show of it. */
export interface ParsedMail extends IncomingMessage {
  messageId: string;
  parts: MailParts;
}

/** Text kept of a message: what a person writes is far shorter. */
const MAX_TEXT = 100_000;
/** Letters kept of a subject and a name (RFC 5322 2.1.1 has 998 to a line), of an address and a Message-ID. */
const MAX_LINE = 1000;
const MAX_ADDRESS = 320;
/** Parts of one kind that are looked at; a report has one of each. */
const MAX_PARTS = 20;

/** Reports that are sent on, and sent on again, are looked into as deep. */
const MOST_DEPTH = 3;
const MESSAGE = /^message\/(?:rfc822|global)$/i;

const storable = (text: string, most: number): string => storableText(text.slice(0, most));

/** Parses raw MIME; what cannot be read is empty, and everything can be stored. */
export async function parseMail(raw: Uint8Array, depth = 0): Promise<ParsedMail> {
  const mail = await simpleParser(Buffer.from(raw), {
    keepDeliveryStatus: true,
    skipTextToHtml: true,
    skipHtmlToText: true,
    skipImageLinks: true,
  });
  const headers: Record<string, string> = {};
  for (const { key: written, line } of mail.headerLines) {
    const key = storable(written, MAX_LINE);
    const value = storable(line.slice(line.indexOf(':') + 1).trim(), MAX_TEXT);
    headers[key] = key in headers ? `${headers[key]}\n${value}` : value;
  }
  const enclosed = (type: RegExp) =>
    mail.attachments
      .filter((a) => type.test(a.contentType))
      .slice(0, MAX_PARTS)
      .map(textOf);
  const from = (mail.from as AddressObject | undefined)?.value[0];
  const inner = await reportSentOn(mail.attachments, depth);
  return {
    headers,
    from: storable(from?.address ?? '', MAX_ADDRESS),
    fromName: storable(from?.name || from?.address || '', MAX_LINE),
    subject: storable(mail.subject ?? '', MAX_LINE),
    text: storable(readableText(mail.text ?? '', mail.html), MAX_TEXT),
    messageId: storable((mail.messageId ?? '').replace(/^<|>$/g, ''), MAX_LINE),
    parts: partsOf(mail),
    to: addressesOf(mail.to)
      .slice(0, MAX_PARTS)
      .map((a) => storable(a, MAX_ADDRESS)),
    deliveryReports: inner?.deliveryReports ?? enclosed(/^message\/(?:global-)?delivery-status$/i),
    feedbackReports: inner?.feedbackReports ?? enclosed(/^message\/feedback-report$/i),
    enclosed:
      inner?.enclosed ??
      enclosed(/^(?:message\/(?:rfc822|global|rfc822-headers|global-headers)|text\/rfc822-headers)$/i),
    calendars: enclosed(/^(?:text\/calendar|application\/ics)$/i),
  };
}

/** The report (RFC 6522) that a message without one encloses, as somebody sends it on; null where it encloses none. */
async function reportSentOn(attachments: readonly Attachment[], depth: number): Promise<ParsedMail | null> {
  if (depth >= MOST_DEPTH || attachments.some((a) => REPORT.test(a.contentType))) return null;
  const within = attachments.find(
    (a) =>
      MESSAGE.test(a.contentType) &&
      /^content-type:\s*multipart\/report/im.test(a.content.toString('latin1', 0, 20_000)),
  );
  if (!within) return null;
  const inner = await parseMail(within.content, depth + 1);
  return inner.deliveryReports.length + inner.feedbackReports.length > 0 ? inner : null;
}

const REPORT = /^message\/(?:(?:global-)?delivery-status|feedback-report|(?:global-)?disposition-notification)$/i;

/** Who wrote a message to how many, and what it answers. */
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
  /** Where answers go, in small letters. */
  replyTo: string;
  /** Message-IDs of the thread before it, without brackets, the nearest last (RFC 5322, 3.6.4). */
  references: string[];
}

/** Reads the head of a message. */
export async function parseHead(raw: Uint8Array): Promise<MailHead> {
  const { messageId, from, to, cc, bcc, subject, replyTo, references, inReplyTo } = await simpleParser(
    Buffer.from(raw),
  );
  const recipients = new Set([to, cc, bcc].flatMap(addressesOf));
  return {
    messageId: storable((messageId ?? '').replace(/^<|>$/g, ''), MAX_LINE),
    from: addressesOf(from)[0] ?? '',
    recipients: Math.max(1, recipients.size),
    to: addressesOf(to)
      .slice(0, MAX_PARTS)
      .map((a) => storable(a, MAX_ADDRESS)),
    subject: storable(subject ?? '', MAX_LINE),
    replyTo: storable(addressesOf(replyTo)[0] ?? addressesOf(from)[0] ?? '', MAX_ADDRESS),
    references: idsIn([references ?? [], inReplyTo ?? ''].flat()),
  };
}

/** As many Message-IDs of a thread as a header field of usual length has. */
const MOST_REFERENCES = 50;

function idsIn(fields: readonly string[]): string[] {
  const ids = fields.flatMap((field) =>
    [...field.matchAll(/<([^<>\s]{1,998})>/g)].map((m) => storable(m[1] ?? '', MAX_LINE)),
  );
  return [...new Set(ids)].slice(-MOST_REFERENCES);
}

/** In small letters, those of groups with them. */
const addressesOf = (field: AddressObject | AddressObject[] | undefined): string[] =>
  [field ?? []]
    .flat()
    .flatMap((f) => f.value.flatMap((a) => a.group ?? [a]))
    .map((a) => a.address?.toLowerCase() ?? '')
    .filter((a) => a !== '');

const textOf = (a: Attachment) => storable(a.content.toString('utf8', 0, 4 * MAX_TEXT), MAX_TEXT);
