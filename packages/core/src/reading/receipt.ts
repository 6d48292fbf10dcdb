import { inShort } from './in-short';
import type { IncomingMessage } from './incoming-message';
import { readDeliveryReport } from './bounce/delivery-report';

/** How mail programs call them. */
const SUBJECT =
  /^\s*(?:(?:read|read receipt|receipt|return receipt(?: \(displayed\))?|not read|deleted|gelesen|lesebestätigung|lu|confirmation de lecture|accusé de lecture|leído|confirmación de lectura|letto|conferma di lettura|gelezen|leesbevestiging|lida?|confirmação de leitura|läst|läskvitto|læst|kvittering|lest|luettu|lukukuittaus|przeczytan[eo]|potwierdzenie|přečteno|prečítané|elolvasva|прочитано|отчет о прочтении|okundu|開封確認|已读|읽음)\s*[:：(-])/iu;
/** What they say. */
const TEXT =
  /\b(?:was|has been) (?:read|displayed|opened|deleted without being read)\b|return receipt|read receipt|no guarantee that the (?:message|content) has been|wurde (?:am .{0,60} )?(?:gelesen|angezeigt|geöffnet)|a été (?:lu|affiché|ouvert)|(?:fue|ha sido) (?:leíd|abiert|mostrad)|è stat[oa] (?:lett|visualizzat|apert)|(?:is|werd) (?:op .{0,60} )?(?:gelezen|weergegeven)|foi (?:lid|exibid|abert)|(?:har|blev|ble) (?:lästs|læst|lest|vist)|on luettu|został[ao]? (?:przeczytan|wyświetlon)|byl[ao]? (?:přečten|zobrazen)|прочитано|開封されました|已被阅读/iu;

/** They are written by programs, and short. */
const MOST_LETTERS = 1500;

/**
 * Why a message is taken for a receipt: a mail program says that a message was displayed or deleted (RFC 8098), or a server
 * that it was handed on (RFC 3464). Null for anything else. It is no answer, whatever it refers to.
 */
export function receiptReason({ headers, subject, text, deliveryReports }: IncomingMessage): string | null {
  if (/report-type\s*=\s*"?disposition-notification/i.test(headers['content-type'] ?? ''))
    return 'it carries a report of what became of a message in a mail program (RFC 8098)';
  const reported = deliveryReports.flatMap(readDeliveryReport);
  if (reported.length > 0 && reported.every((r) => /^(?:delivered|relayed|expanded)$/.test(r.action)))
    return 'it carries a report that a message was delivered (RFC 3464)';
  if (text.length <= MOST_LETTERS && SUBJECT.test(subject) && TEXT.test(text))
    return `its subject begins “${inShort(subject)}”, and it says that a message was read`;
  return null;
}
