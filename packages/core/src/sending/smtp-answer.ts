import { needsUtf8 } from '../people/address/address';
import { varied } from '../random/seeded';
import { MINUTE_MS } from '../time/clock';

/** What an SMTP answer or a broken connection means for the message. */
export type SendVerdict =
  /** Taken by the server. */
  | 'accepted'
  /** Not taken, may be later: a 4xx answer, or a connection lost before the body went out. */
  | 'transient'
  /** Never will be: a 5xx answer about this recipient or message. */
  | 'permanent'
  /** The mailbox has sent too much: nothing more from it for a while. */
  | 'too_much'
  /** The mailbox itself is refused: wrong password, account closed. */
  | 'mailbox_refused'
  /** Its provider takes nothing from it for now, whoever it is for: it rests. */
  | 'mailbox_rests'
  /** Its server cannot be reached, or puts it off: nothing of it is about any recipient. */
  | 'mailbox_later'
  /** The body went out and no answer came: sent or not, nobody knows. */
  | 'unknown';

/** How a try to hand over one message ended. */
export interface SendOutcome {
  /** SMTP reply code, or null when the connection broke without one. */
  code: number | null;
  /** The server's words, one line. */
  answer: string;
  /** At which command it ended. */
  stage: 'connect' | 'auth' | 'mail' | 'rcpt' | 'data' | 'body';
  /** Whether any of the body was handed to the connection. */
  bodyStarted: boolean;
  /** Whether copies were taken although the recipient was not: they must not go out again. */
  copiesTaken?: boolean;
}

/**
 * Decides whether a failure to send is transient or permanent (RFC 5321 4.2.1, RFC 3463), and whom it is about: what is
 * refused before a recipient was named is about the mailbox or its provider, but for a message that is too large
 * (RFC 1870, 6.1). Answers that mean *too much* are known by their enhanced code (X.7.28 of RFC 7372's registry, X.4.5,
 * X.5.3-like limits) or their words, since servers agree on no one code.
 */
export function judgeAnswer(outcome: SendOutcome): SendVerdict {
  const { code, answer, stage, bodyStarted } = outcome;
  if (code !== null && code >= 200 && code < 300) return 'accepted';
  const isBeforeRecipient = stage === 'connect' || stage === 'auth' || stage === 'mail';
  if (code === null) return bodyStarted ? 'unknown' : isBeforeRecipient ? 'mailbox_later' : 'transient';
  if (
    /\b[45]\.(?:7\.28|4\.5)\b/.test(answer) ||
    /(?:sending|hourly|daily|rate|message|recipient)s? (?:limit|quota)|too many (?:messages|recipients|emails)|limit exceeded|throttl/i.test(
      answer,
    )
  ) {
    return 'too_much';
  }
  if (stage === 'auth' || code === 530 || code === 534 || code === 535)
    return code < 500 ? 'mailbox_later' : 'mailbox_refused';
  if (isBeforeRecipient && !isOfSize(outcome)) return code < 500 ? 'mailbox_later' : 'mailbox_rests';
  return code < 500 ? 'transient' : 'permanent';
}

/** A message that is larger than the server takes is told of with its sender already (RFC 1870, 6.1; RFC 3463, X.3.4). */
const isOfSize = ({ stage, code, answer }: SendOutcome): boolean =>
  stage === 'mail' && (/\b5\.3\.4\b/.test(answer) || (code === 552 && /size|large|big/i.test(answer)));

/**
 * Whether a permanent refusal says that the address is no good, or that this message or sender is not wanted
 * (RFC 5321 3.6.2; RFC 3463: class X.7 is security and policy). Of an address with letters beyond ASCII before the @ it
 * says nothing: the provider may not know these (RFC 6531, 3.5).
 */
export function isBadAddress(outcome: SendOutcome, address: string): boolean {
  return outcome.stage === 'rcpt' && !needsUtf8(address) && !/\b5\.7\.\d/.test(outcome.answer);
}

/** Pauses between tries of a deferred message grow, as RFC 5321 4.5.4.1 advises, up to four hours. */
const RETRY_MINUTES = [10, 30, 60, 120, 240];

/** A message that was deferred this often is given up. */
export const MAX_TRIES = 8;

/**
 * How long a deferred message waits, varied by a third.
 *
 * @param tries how often it has been tried, 1 or more
 * @param chance 0 to 1
 * @returns milliseconds
 */
export function retryPauseMs(tries: number, chance: number): number {
  const minutes = RETRY_MINUTES[Math.min(tries, RETRY_MINUTES.length) - 1] as number;
  return varied(minutes * MINUTE_MS, chance);
}
