import { parseAddress } from '../people/address/address';
import type { BounceKind, IncomingKind } from './incoming-kinds';
import { readDeliveryReport, type ReportedRecipient } from './delivery-report';

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
  if (bounce) return { ...base, ...bounce };
  const about = addressOf(message.from);
  const auto = autoReplyReasons(message);
  if (auto.length > 0)
    return { ...base, kind: 'auto_reply', about, backOn: backDate(message.text, receivedMs), because: auto };
  const own = withoutQuotation(message.text);
  const wants = wantsOut(message.subject, own);
  if (wants) return { ...base, kind: 'unsubscribe', about, because: [wants] };
  if (answers.length > 0) return { ...base, kind: 'reply', about, because: ['it answers a message by its Message-ID'] };
  return { ...base, kind: 'other', about, because: ['it answers no message by its Message-ID'] };
}

function asBounce(message: IncomingMessage): Pick<Classified, 'kind' | 'bounce' | 'about' | 'because'> | null {
  const reported = message.deliveryReports.flatMap(readDeliveryReport);
  const failed = reported.find((r) => r.action === 'failed') ?? reported.find((r) => r.action === 'delayed');
  if (failed) {
    const bounce = failed.action === 'delayed' ? 'delayed' : severity(failed);
    return {
      kind: 'bounce',
      bounce,
      about: addressOf(failed.address),
      because: [
        `it carries a delivery report (RFC 3464): ${failed.action} ${failed.status} ${failed.diagnostic}`.trim(),
      ],
    };
  }
  if (reported.length > 0) return null;
  const daemon = /^(?:mailer-daemon|postmaster|mail-daemon|noreply-bounce)@/i.test(addressOf(message.from) ?? '');
  const said =
    /undeliver|delivery (?:status notification|fail|has failed)|returned (?:mail|to sender)|could not be delivered|failure notice|unzustellbar|non remis|no entregado/i.test(
      message.subject,
    );
  const empty = message.headers['return-path']?.trim() === '<>';
  if (!(daemon && (said || empty)) && !(said && empty)) return null;
  const code = /\b([245])\.(\d{1,3})\.(\d{1,3})\b/.exec(message.text)?.[0] ?? '';
  const about =
    /<([^<>\s]+@[^<>\s]+)>/.exec(message.text)?.[1] ?? /[^\s<>"]+@[^\s<>",;:]+/.exec(message.text)?.[0] ?? null;
  return {
    kind: 'bounce',
    bounce: severity({ status: code, diagnostic: message.text.slice(0, 4000) }),
    about: about && addressOf(about),
    because: [
      `it comes from ${daemon ? 'a mail daemon' : 'an empty return path'} and its words say that a message came back`,
    ],
  };
}

/** Hard: the address is no good. Blocked: the server would not have this mail or sender. Soft: may pass. */
function severity(r: Pick<ReportedRecipient, 'status' | 'diagnostic'>): BounceKind {
  if (
    /^[45]\.7\./.test(r.status) ||
    /\b(?:spam|blocked|blacklist|blocklist|policy|reputation|dmarc)\b/i.test(r.diagnostic)
  )
    return 'blocked';
  if (/^\d\.2\.[12]$/.test(r.status) || /mailbox (?:is )?full|over ?quota|quota exceeded/i.test(r.diagnostic))
    return r.status === '5.2.1' ? 'hard' : 'soft';
  if (
    r.status.startsWith('5') ||
    /\b55[0-4]\b|no such (?:user|mailbox)|user unknown|unknown user|does not exist|unknown recipient/i.test(
      r.diagnostic,
    )
  )
    return 'hard';
  return 'soft';
}

function complainant(message: IncomingMessage): string | null {
  const report = message.feedbackReports.join('\n');
  const rcpt = /^(?:original-rcpt-to|removal-recipient):\s*(.+)$/im.exec(report)?.[1];
  const to = message.enclosed.map((e) => /^to:\s*(.+)$/im.exec(e)?.[1]).find((t) => t);
  return rcpt || to ? addressOf((rcpt ?? to) as string) : null;
}

function autoReplyReasons(message: IncomingMessage): string[] {
  const h = message.headers;
  const out: string[] = [];
  const submitted = h['auto-submitted']?.trim().toLowerCase();
  if (submitted && submitted !== 'no') out.push(`its header Auto-Submitted says ${submitted} (RFC 3834)`);
  for (const name of ['x-autoreply', 'x-autorespond', 'x-auto-response-suppress']) {
    if (h[name] && (name !== 'x-auto-response-suppress' || /^(?:auto|automat)/i.test(message.subject)))
      out.push(`it has the header ${name}`);
  }
  if (/^(?:auto_reply|auto-reply)$/i.test(h['precedence']?.trim() ?? '')) out.push('its header Precedence says so');
  if (
    /^\s*(?:out of (?:the )?office|automatic reply|auto(?:matic)?[- ]?reply|abwesenheitsnotiz|automatische antwort|réponse automatique|respuesta automática|risposta automatica)\b/iu.test(
      message.subject,
    )
  ) {
    out.push(`its subject begins “${message.subject.slice(0, 40)}”`);
  }
  return out;
}

const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];

function backDate(text: string, receivedMs: number): string | null {
  const iso = /\b(20\d\d)-(\d\d)-(\d\d)\b/.exec(text);
  if (iso) return iso[0];
  const m =
    /\b(?:[Bb]ack|[Rr]eturn(?:ing)?|again|[Uu]ntil|[Tt]ill|[Ff]rom)\b[^.\n]{0,40}?\b(\d{1,2})(?:st|nd|rd|th)?\s+([A-Z][a-z]{2,8})\b(?:\s+(20\d\d))?/.exec(
      text,
    );
  const month = MONTHS.indexOf((m?.[2] ?? '').slice(0, 3).toLowerCase());
  if (!m || month < 0) return null;
  const received = new Date(receivedMs);
  let year = m[3] ? Number(m[3]) : received.getUTCFullYear();
  if (!m[3] && Date.UTC(year, month, Number(m[1])) < receivedMs - 60 * 86_400_000) year++;
  const date = new Date(Date.UTC(year, month, Number(m[1])));
  return date.getUTCMonth() === month ? date.toISOString().slice(0, 10) : null;
}

/** The reply's own words: the text before the quotation. */
export function withoutQuotation(text: string): string {
  const lines = text.replaceAll('\r\n', '\n').split('\n');
  const end = lines.findIndex(
    (l, i) =>
      /^>/.test(l) ||
      /^(?:On|Am|Le|El|Il) .{5,120}(?:wrote|schrieb|a écrit|escribió|ha scritto)\s?:$/.test(l) ||
      /^-{2,} ?(?:Original Message|Ursprüngliche Nachricht)/i.test(l) ||
      (/^(?:From|Von|De):/.test(l) && /^(?:Sent|Date|Gesendet|To):/.test(lines[i + 1] ?? '')),
  );
  return (end < 0 ? lines : lines.slice(0, end)).join('\n').trim();
}

const WANTS_OUT =
  /\b(?:unsubscribe|opt[- ]?out|remove (?:me|us|my|this)|take (?:me|us) off|stop (?:writing|e-?mailing|contacting|sending)|do not (?:contact|e-?mail|write)|don['’]t (?:contact|e-?mail|write)|no more (?:e-?mails|mails|messages)|leave (?:me|us) (?:alone|in peace))\b|\babmelden\b|\baustragen\b|\bdésinscri|\bdarme de baja\b|\bcancellatemi\b/iu;

function wantsOut(subject: string, own: string): string | null {
  if (/^\s*(?:unsubscribe|stop|opt[- ]?out)\s*[.!]?\s*$/i.test(subject)) return `its subject is “${subject.trim()}”`;
  if (/^\s*stop\s*[.!]*\s*$/i.test(own)) return 'all it says is “stop”';
  const m = WANTS_OUT.exec(own.slice(0, 2000));
  return m ? `it says “${m[0]}”` : null;
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

function addressOf(text: string): string | null {
  const parsed = parseAddress(text);
  return parsed.ok ? parsed.value.key : null;
}
