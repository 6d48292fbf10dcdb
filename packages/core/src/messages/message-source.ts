import { layoutMjml, layoutText, type LayoutMjml } from './layout-mjml';
import type { MessageContent } from './message-content';
import { addressSource, escapedText, richHtml } from './rich-html';
import { richText, type AddressText } from './rich-text';
import { FONTS, PLAIN_THEME } from './theme';

/** A message as Liquid: what is left to do for each recipient is to put the values in. */
export interface MessageSource {
  subject: string;
  preview: string;
  /** A whole HTML page. */
  html: string;
  text: string;
  senderName: string;
  replyTo: string;
  cc: string;
  bcc: string;
  /** Of files named by a value. */
  attachmentNames: string[];
  /** Of the library, for all. */
  attachmentIds: number[];
}

/** The MJML of a message that is set in a layout; null for a letter. */
export function messageMjml(content: MessageContent): LayoutMjml | null {
  return content.format === 'layout' && content.layout
    ? layoutMjml(content.layout, content.body, content.preview)
    : null;
}

/** The plain part that follows the text. @param address see {@link richText} */
export function followingText(content: MessageContent, address?: AddressText): string {
  return content.format === 'layout' && content.layout
    ? layoutText(content.layout, content.body, address)
    : richText(content.body, address);
}

/** A link's address for plain text, its values encoded for their place as they are in HTML. */
const plainAddress: AddressText = (href) => addressSource(href, (text) => text) ?? '';

/** A message as plain text, for reading and comparing: its headers and its plain part. */
export function contentText(content: MessageContent): string {
  const { subject, preview, senderName, replyTo, cc, bcc } = content;
  const heads = { Subject: subject, Preview: preview, From: senderName, 'Replies to': replyTo, Cc: cc, Bcc: bcc };
  const lines = Object.entries(heads).flatMap(([name, text]) => (text === '' ? [] : [`${name}: ${text}`]));
  return [...lines, '', followingText(content)].join('\n');
}

/**
 * A message as Liquid.
 *
 * @param layoutHtml the page that {@link messageMjml} makes; null for a letter
 */
export function messageSource(content: MessageContent, layoutHtml: string | null): MessageSource {
  const { subject, preview, senderName, replyTo, cc, bcc, attachments } = content;
  return {
    subject,
    preview,
    html: layoutHtml ?? letterPage(content),
    text: content.plain ?? followingText(content, plainAddress),
    senderName,
    replyTo,
    cc,
    bcc,
    attachmentNames: attachments.flatMap((a) => (a.kind === 'named' ? [a.name] : [])),
    attachmentIds: attachments.flatMap((a) => (a.kind === 'asset' ? [a.assetId] : [])),
  };
}

/** Shown in lists of messages, not in the message. */
const HIDDEN = 'display:none;max-height:0;overflow:hidden;opacity:0';

function letterPage({ body, preview }: MessageContent): string {
  const { ink, size, font } = PLAIN_THEME;
  const shown = preview === '' ? '' : `<div style="${HIDDEN}">${escapedText(preview)}</div>\n`;
  return `<!doctype html>
<html><head><meta http-equiv="Content-Type" content="text/html; charset=UTF-8"><meta name="viewport" content="width=device-width, initial-scale=1"></head>
<body style="margin:0;padding:16px;font-family:${FONTS[font]};font-size:${size}px;line-height:1.5;color:${ink}">
${shown}${richHtml(body, PLAIN_THEME)}
</body></html>`;
}
