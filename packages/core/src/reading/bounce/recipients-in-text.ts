import { addressOf } from '../address-of';

/** How reports in free form name those whom a message did not reach, in order of how plainly they do. */
const LISTED: readonly RegExp[] = [
  /(?:original|final)-recipient:\s*(?:rfc822;\s*)?<?([^\s<>;,]+@[^\s<>;,]+)>?/gi,
  /\bRCPT TO:\s*<([^\s<>]+@[^\s<>]+)>/gi,
  /^\s*<([^\s<>]+@[^\s<>]+)>\s*(?::|\(|\.{3}|-|$)/gm,
  /^[\s*•-]*["'“]?(?:mailto:)?([^\s<>:,;"'“”（），。：；、【】「」()[\]]+@[^\s<>:,;"'“”（），。：；、【】「」()[\]]+)["'”]?\s*(?::|\(|-|$)/gm,
];
/** Where none is listed, the first that is spoken of. */
const SPOKEN_OF: readonly RegExp[] = [
  /\b(?:recipients?|empfänger|destinataires?|destinatari[oa]s?|ontvanger|to|an|à|para|address(?:es)?|user|mailbox|account)\b[^\n@]{0,60}?[<\s"'“:([]([^\s<>"'“”（），。：；、【】「」(),;:[\]]+@[^\s<>"'“”（），。：；、【】「」(),;:[\]]+)/gi,
  /<([^<>\s]+@[^<>\s]+)>/g,
  /([^\s<>"'“”（），。：；、【】「」(),;:[\]=]+@[^\s<>"'“”（），。：；、【】「」(),;:[\]]+)/g,
];
const MOST = 50;

/**
 * Those whom a report in free form says that a message did not reach; the whole text is looked through for one way of naming.
 *
 * @param isOurs whether an address is on the side of the report or of its reader
 */
export function recipientsIn(text: string, isOurs: (address: string) => boolean): string[] {
  for (const form of [...LISTED, ...SPOKEN_OF]) {
    const found = [...text.matchAll(form)]
      .slice(0, MOST)
      .map((m) => addressOf((m[1] as string).replace(/[.…]+$/, '')))
      .filter((a): a is string => a !== null && !isOurs(a) && !HELPERS.test(a));
    if (found.length > 0) return LISTED.includes(form) ? [...new Set(found)] : found.slice(0, 1);
  }
  return [];
}

/** Whom to ask about a report. */
const HELPERS = /^(?:mailer-daemon|postmaster|abuse|support|help(?:desk)?)@/;
