import { letterHtml, letterText } from './letter-html';
import { compileTemplate, type Template } from './template';

/** A message ready for many recipients. */
export interface CompiledMessage {
  subject: Template;
  body: Template;
}

/** What stands beside a list's own columns in every message. */
export interface SenderValues {
  senderName: string;
  senderAddress: string;
  signature: string;
  unsubscribeLink: string;
  postalAddress: string;
}

/** One finished message, exactly as it will leave, for one recipient. */
export interface Proof {
  subject: string;
  text: string;
  html: string;
  /** Fields that were blank and had no fallback. Not empty: must not leave. */
  blanks: string[];
}

/** Names of the values in {@link SenderValues}, by field key. */
export const SENDER_FIELDS: Readonly<Record<string, keyof SenderValues>> = {
  sendername: 'senderName',
  senderaddress: 'senderAddress',
  signature: 'signature',
  unsubscribelink: 'unsubscribeLink',
  postaladdress: 'postalAddress',
};

/** @throws DomainError `template_invalid` naming subject or body, line and column */
export function compileMessage(message: { subject: string; body: string }): CompiledMessage {
  return { subject: compileTemplate(message.subject), body: compileTemplate(message.body) };
}

/**
 * Puts one recipient's values into a message.
 *
 * @param fields the recipient's row, by field key; a column of the same name wins over a sender value, but
 *   never over the unsubscribe link
 */
export function renderProof(
  message: CompiledMessage,
  fields: Readonly<Record<string, string>>,
  sender: SenderValues,
): Proof {
  const values: Record<string, string> = {};
  for (const [key, name] of Object.entries(SENDER_FIELDS)) values[key] = sender[name];
  Object.assign(values, fields, { unsubscribelink: sender.unsubscribeLink });
  const subject = message.subject.render(values);
  const body = message.body.render(values);
  return {
    subject: oneLine(subject.text),
    text: letterText(body.text),
    html: letterHtml(body.text),
    blanks: [...new Set([...subject.blanks, ...body.blanks])],
  };
}

/** A header's text: no line break can get in (RFC 5322 2.2). */
function oneLine(text: string): string {
  return text.replace(/[\r\n\t\v\f\u0085\u2028\u2029]+/g, ' ').trim();
}
