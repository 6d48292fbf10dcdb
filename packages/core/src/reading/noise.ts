import { addressOf } from './address-of';
import { isOtherFeedback } from './complaint';
import type { IncomingMessage } from './incoming-message';

/** Programs that report to administrators. */
const REPORTER =
  /^(?:cron|root|daemon|nagios|monitor(?:ing)?|alerts?|notifications?|backup|logwatch|dmarc(?:[-_.]?(?:report|noreply|aggregate)\w*)?|noreply-dmarc\S*|newsletter|news|marketing|promo(?:tions)?|digest|mailman|majordomo|listserv|sympa|security|account(?:s)?-?security)(?:[+._-][^@]*)?@/i;
const NO_REPLY =
  /^(?:no-?reply|do-?not-?reply|donotreply|noresponder|nicht-?antworten|ne-?pas-?repondre)(?:[+._-][^@]*)?@/i;
const SUBJECT =
  /^(?:cron <|report domain:|\[?dmarc\]? |dmarc (?:aggregate )?report|security (?:alert|notification|warning|code)|(?:new )?sign-?in (?:from|attempt|to)|new (?:login|device)|your (?:verification|security|login) code|(?:your )?(?:weekly|daily|monthly) (?:digest|report|summary|newsletter)|newsletter|welcome to|confirm your (?:subscription|e-?mail)|(?:your )?(?:invoice|receipt|order|subscription|payment)\b|quarantine (?:summary|digest|report|notification)|spam (?:digest|quarantine|summary)|(?:storage|mailbox) (?:almost|nearly) full|moderator request|.{0,60} (?:unsubscription|subscription) (?:notification|request)|backup (?:of|report|succeeded|failed)|scheduled maintenance|system (?:alert|notification|maintenance)|password (?:reset|expir)|sicherheits(?:warnung|hinweis)|ihre rechnung|votre facture|su factura|anmeldung von)/i;
const WITH_TEXT =
  /\b(?:view (?:this (?:e-?mail|newsletter) )?in (?:your |a )?browser|you are receiving this (?:e-?mail|message) because|manage (?:your )?(?:preferences|subscriptions?)|sie erhalten diesen newsletter|vous recevez ce(?:t|tte)? (?:e-?mail|newsletter|lettre))\b/i;

/**
 * Why a message is none that anybody wrote to us: of a mailing list, a newsletter, or a program that reports to administrators.
 * Null for anything else; what answers something is never noise.
 */
export function noiseReason(message: IncomingMessage): string | null {
  if (isOtherFeedback(message)) return 'it is feedback about a check of ours, and nobody’s complaint';
  const { from, headers, subject, text } = message;
  if (headers['in-reply-to'] || headers['references'] || /^\s*(?:re|aw|sv|antw|odp|rv|vs)\s*:/i.test(subject))
    return null;
  const address = addressOf(from) ?? from;
  const isReporter = REPORTER.test(address);
  const title = SUBJECT.exec(subject.trim())?.[0];
  if (title && (isReporter || NO_REPLY.test(address) || isAutomatic(headers)))
    return `its subject begins “${title}”, and it comes from a program`;
  const list = ['list-id', 'list-unsubscribe', 'list-post', 'x-mailing-list', 'feedback-id', 'x-campaign-id'].find(
    (name) => headers[name],
  );
  if (list) return `it has the header ${list}: it went to a list`;
  if (
    /^\s*(?:bulk|list|junk)\b/i.test(headers['precedence'] ?? '') &&
    !/auto-(?:replied|reply)/i.test(headers['auto-submitted'] ?? '')
  )
    return WITH_TEXT.test(text) || isReporter ? 'its header Precedence says that it went to many' : null;
  if (/^\s*auto-generated/i.test(headers['auto-submitted'] ?? '') && isReporter)
    return 'a program wrote it by itself (RFC 3834)';
  return WITH_TEXT.test(text) && (isReporter || NO_REPLY.test(address)) ? 'it is a newsletter' : null;
}

const isAutomatic = (headers: IncomingMessage['headers']): boolean =>
  /^\s*auto-generated/i.test(headers['auto-submitted'] ?? '') ||
  /^\s*(?:bulk|list|junk)/i.test(headers['precedence'] ?? '');
