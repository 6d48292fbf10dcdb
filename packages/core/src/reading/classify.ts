import { returnDate } from './absence/return-date';
import { addressOf } from './address-of';
import { autoReplyReasons } from './auto-reply';
import { asBounce } from './bounce';
import type { BounceKind, IncomingKind } from './incoming-kinds';
import { ownWords } from './own-words';
import { receiptReason } from './receipt';
import { wantsOut } from './wants-out';

/** A message that came in, as a MIME parser shows it. */
export interface IncomingMessage {
  /** Header values by name in lower case; several of one name joined by a line break. */
  headers: Readonly<Record<string, string>>;
  from: string;
  subject: string;
  /** The readable text, quotations included. */
  text: string;
  /** Texts of its message/delivery-status and message/feedback-report parts. */
  deliveryReports: readonly string[];
  feedbackReports: readonly string[];
  /** Message or header parts enclosed in it, as text. */
  enclosed: readonly string[];
}

export interface Classified {
  kind: IncomingKind;
  /** Of a bounce. */
  bounce: BounceKind | null;
  /** Of a bounce or complaint: whom it is about, where the message says so; else the sender. */
  about: string | null;
  /** Of an auto-reply: ISO date on which the person is back, where it says so. */
  backOn: string | null;
  /** Message-IDs without brackets that it answers or reports, likeliest first. */
  answers: string[];
  /** Why, in words. */
  because: string[];
}

/**
 * Says what an incoming message is and which messages it belongs to. Reports are known by their parts
 * (RFC 3464 bounces, RFC 5965 complaints) or, where a server follows no standard, by sender, subject and
 * words; auto-replies by RFC 3834 and its unofficial kin; what is left is a reply, and one that asks to be
 * left alone an unsubscribe request.
 *
 * @param receivedMs when it came in, epoch ms UTC: what a date without a year is reckoned from
 */
export function classify(message: IncomingMessage, receivedMs: number): Classified {
  const answers = answeredIds(message);
  const base = { bounce: null, backOn: null, answers };
  if (message.feedbackReports.length > 0) {
    return {
      ...base,
      kind: 'complaint',
      about: complainant(message),
      because: ['it carries a feedback report (RFC 5965)'],
    };
  }
  const bounce = asBounce(message);
  if (bounce) return { ...base, ...bounce, kind: 'bounce' };
  const about = addressOf(message.from);
  const receipt = receiptReason(message);
  if (receipt !== null) return { ...base, kind: 'receipt', about, because: [receipt] };
  const own = ownWords(message.text);
  const auto = autoReplyReasons(message, own, receivedMs);
  if (auto.length > 0)
    return { ...base, kind: 'auto_reply', about, backOn: returnDate(own, receivedMs), because: auto };
  const wants = wantsOut(message.subject, own);
  if (wants) return { ...base, kind: 'unsubscribe', about, because: [wants] };
  if (answers.length > 0) return { ...base, kind: 'reply', about, because: ['it answers a message by its Message-ID'] };
  return { ...base, kind: 'other', about, because: ['it answers no message by its Message-ID'] };
}

function complainant(message: IncomingMessage): string | null {
  const report = message.feedbackReports.join('\n');
  const rcpt = /^(?:original-rcpt-to|removal-recipient):\s*(.+)$/im.exec(report)?.[1];
  const to = message.enclosed.map((e) => /^to:\s*(.+)$/im.exec(e)?.[1]).find((t) => t);
  return rcpt || to ? addressOf((rcpt ?? to) as string) : null;
}

function answeredIds(message: IncomingMessage): string[] {
  const ids = (text: string | undefined) =>
    [...(text ?? '').matchAll(/<([^<>\s]+@[^<>\s]+)>/g)].map((m) => m[1] as string);
  const enclosed = message.enclosed.flatMap((e) =>
    ids(/^message-id:\s*(.+)$/im.exec(e.replace(/\r?\n[ \t]+/g, ' '))?.[1]),
  );
  return [
    ...new Set([...ids(message.headers['in-reply-to']), ...ids(message.headers['references']).reverse(), ...enclosed]),
  ];
}
