import { addressOf } from './address-of';
import { fieldOf, type IncomingMessage } from './incoming-message';

export interface Complaint {
  /** Who complained, where the report says so. */
  concerns: string[];
  isSure: boolean;
  because: string;
}

/** Who passes complaints on. */
const DESK =
  /^(?:abuse|fbl|feedback(?:loop)?|complaints?|spam(?:-?(?:report|feedback|complaints?))?|scomp|staff|junk|arf)(?:[+._-][^@]*)?@/i;
const SUBJECT =
  /\b(?:(?:e-?mail|spam|abuse|junk(?: mail)?) (?:feedback|abuse|complaint|report)(?: report)?|complaint about (?:a |your )?(?:message|e-?mail)|feedback loop|abuse (?:complaint|report|notification)|reported as (?:spam|junk))\b|spam-?beschwerde|plainte (?:pour )?spam|queja de spam/i;
const TEXT =
  /\b(?:this is an? (?:e-?mail )?(?:abuse|spam|feedback|complaint) report|(?:was|has been|were) (?:reported|marked|flagged) (?:as|for) (?:being )?(?:spam|junk|unsolicited|abuse)(?: by| from)?|(?:a |the |our |one of our )?(?:user|customer|recipient|subscriber|member)s? (?:has |have )?(?:complained|reported|marked|flagged|clicked)|received (?:a |the following )?(?:spam |abuse )?complaint)\b/i;

/** Feedback that says something else than that somebody was bothered (RFC 5965 7.3, RFC 6591). */
const NO_COMPLAINT = /^feedback-type:\s*(?:not-spam|auth-failure|dmarc)\b/im;

/** Whether a message says that somebody reported one of ours as spam, by a report (RFC 5965) or in words. */
export function asComplaint(message: IncomingMessage): Complaint | null {
  const report = message.feedbackReports.join('\n');
  if (report !== '')
    return NO_COMPLAINT.test(report)
      ? null
      : { concerns: complainants(message, report), isSure: true, because: 'it carries a feedback report (RFC 5965)' };
  const { from, subject, text } = message;
  if (!DESK.test(addressOf(from) ?? '') || !(SUBJECT.test(subject) || TEXT.test(text.slice(0, 3000)))) return null;
  return {
    concerns: complainants(message, text),
    isSure: SUBJECT.test(subject) && TEXT.test(text),
    because: 'a provider’s desk passes on that a message was reported as spam',
  };
}

/** Whether it says that a message was wrongly taken for spam, or failed a check: nothing for the person it went to. */
export const isOtherFeedback = (message: IncomingMessage): boolean =>
  message.feedbackReports.some((report) => NO_COMPLAINT.test(report));

function complainants({ enclosed, to }: IncomingMessage, report: string): string[] {
  const named = [
    fieldOf(report, '(?:original-rcpt-to|removal-recipient|original-recipient|recipient)'),
    ...enclosed.map((e) => fieldOf(e, 'to')),
    fieldOf(report, 'to'),
  ];
  for (const name of named) {
    const address = name === null ? null : addressOf(name.split(',')[0] as string);
    if (address && !to.includes(address)) return [address];
  }
  return [];
}
