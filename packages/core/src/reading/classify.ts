import { absenceIn } from './absence/return-date';
import { acknowledgementReason } from './acknowledgement';
import { addressOf } from './address-of';
import { automaticReasons, saysAway } from './auto-reply';
import { asBounce } from './bounce/bounce';
import { calendarAnswer, type CalendarAnswer } from './calendar-answer';
import { challengeReason } from './challenge';
import { asComplaint } from './complaint';
import { addressChangedWords } from './departure/address-changed';
import { leftWords } from './departure/left';
import { newContactIn, type NewContact } from './departure/new-contact';
import type { BlockedFor, BounceKind, IncomingKind } from './incoming-kinds';
import { fieldOf, type IncomingMessage } from './incoming-message';
import { inShort } from './in-short';
import { noiseReason } from './noise';
import { ownWords } from './own-words';
import { receiptReason } from './receipt';
import { suggestOutcome, type Suggested } from './suggestion';
import { leaves, wantsOut } from './wants-out';

/**
 * How sure the kind is: `sure` by a standard's own marks or plain words, `likely` by several signs, `unsure` where a person
 * should look.
 */
export type Sureness = 'sure' | 'likely' | 'unsure';

export interface Classified {
  kind: IncomingKind;
  sureness: Sureness;
  /** Of a bounce. */
  bounce: BounceKind | null;
  /** Of a bounce that is `blocked`: what the server objects to. */
  blockedFor: BlockedFor | null;
  /** Of an answer to, or by, an invitation. */
  calendar: CalendarAnswer | null;
  /** Of a reply: what it seems to come to. */
  suggests: Suggested | null;
  /** Addresses that it is about: of a bounce or complaint those that it names; else the sender. */
  concerns: string[];
  /** Of a bounce: its enhanced status code (RFC 3463), else its reply code. */
  code: string | null;
  /** Of a bounce: what the server said. */
  serverWords: string | null;
  /** Of an auto-reply: ISO date on which the person is back, where it says so. */
  backOn: string | null;
  /** Of an auto-reply: ISO date that it names as the last of the absence. */
  awayUntil: string | null;
  /** Whom to write to instead, or where the person is to be reached now. */
  contact: NewContact | null;
  /** Its own words, see `ownWords`. */
  own: string;
  /** Message-IDs without brackets that it answers or reports, likeliest first. */
  answers: string[];
  /** Why, in words. */
  because: string[];
}

/** What is kept of a message beside its kind and the reasons. */
export type IncomingDetails = Partial<Omit<Classified, 'kind' | 'because' | 'own' | 'answers'>>;

export function detailsOf({ kind: _k, because: _b, own: _o, answers: _a, ...details }: Classified): IncomingDetails {
  return details;
}

type Found = Partial<Classified> & Pick<Classified, 'kind' | 'because'>;

/**
 * Says what an incoming message is and which messages it belongs to. Each kind has a detector of its own; the first that
 * applies counts, so that what a standard marks comes before what only words say. docs/reading.md has the table.
 *
 * @param receivedMs when it came in, epoch ms UTC: what a date without a year is reckoned from
 */
export function classify(message: IncomingMessage, receivedMs: number): Classified {
  const own = ownWords(message.text);
  const sender = addressOf(message.from);
  return {
    ...{ sureness: 'sure', bounce: null, blockedFor: null, calendar: null, suggests: null },
    ...{ code: null, serverWords: null, backOn: null, awayUntil: null, contact: null, own },
    concerns: sender === null ? [] : [sender],
    answers: answeredIds(message),
    ...(byReport(message, own) ?? byWords(message, own, receivedMs)),
  };
}

/** What servers and programs say about messages. */
function byReport(message: IncomingMessage, own: string): Found | null {
  const complaint = asComplaint(message);
  if (complaint) {
    const { concerns, isSure, because } = complaint;
    return { kind: 'complaint', own: '', sureness: isSure ? 'sure' : 'likely', concerns, because: [because] };
  }
  const bounce = asBounce(message);
  if (bounce) {
    const { isSure, ...found } = bounce;
    return { ...found, kind: 'bounce', own: '', sureness: isSure ? 'sure' : 'likely' };
  }
  const receipt = receiptReason(message);
  if (receipt !== null) return { kind: 'receipt', own: '', because: [receipt] };
  const challenge = challengeReason(message, own);
  if (challenge !== null) return { kind: 'challenge', sureness: 'likely', because: [challenge] };
  const calendar = calendarAnswer({ ...message, own });
  if (calendar !== null)
    return { kind: 'calendar', calendar, because: ['it answers or makes an invitation to an appointment (RFC 5546)'] };
  return null;
}

/** What people and their programs say of themselves. */
function byWords(message: IncomingMessage, own: string, receivedMs: number): Found {
  // Mail programs that leave a list for their user write nothing else, and say that they are programs.
  const leaving = leaves(message.subject);
  if (leaving !== null) return { kind: 'unsubscribe', because: [leaving] };
  const noise = noiseReason(message);
  if (noise !== null) return { kind: 'noise', sureness: 'likely', because: [noise] };
  const auto = automaticReasons(message, own, receivedMs);
  const departed = departure(message, own, auto.length > 0);
  if (departed) return { ...departed, because: [...auto, ...departed.because] };
  const absence = absenceIn(own, receivedMs);
  const acknowledges =
    auto.length > 0 && (saysAway(`${message.subject}\n${own}`) || absence.backOn !== null)
      ? null
      : acknowledgementReason(message, own, auto.length > 0);
  if (acknowledges !== null)
    return {
      kind: 'acknowledgement',
      sureness: auto.length > 0 ? 'sure' : 'likely',
      because: [...auto, acknowledges],
    };
  if (auto.length > 0) return { kind: 'auto_reply', ...absence, because: auto };
  const wants = wantsOut(message.subject, own);
  if (wants) return { kind: 'unsubscribe', because: [wants] };
  return asReply(message, own);
}

function asReply(message: IncomingMessage, own: string): Found {
  const suggests = suggestOutcome(own);
  const contact = suggests?.what === 'referral' ? newContactIn(own, knownAddresses(message)) : null;
  const about = { kind: 'reply', suggests, contact } as const;
  if (answeredIds(message).length > 0) return { ...about, because: ['it answers a message by its Message-ID'] };
  if (RE.test(message.subject)) return { ...about, sureness: 'likely', because: ['its subject is that of an answer'] };
  if (own.length < message.text.trim().length * 0.8)
    return { ...about, sureness: 'likely', because: ['it quotes what it answers'] };
  return { ...about, sureness: 'unsure', because: ['a person wrote it, and it refers to no message'] };
}

const RE = /^\s*(?:re|aw|sv|antw|rv|r|ynt|odp|vs|回复|答复|fwd?|wg|tr|doorst|enc|res)\s*(?:\[\d+\])?\s*[:：]/iu;

/** Somebody who left, or whose address is another. Written by hand, it is an answer unless it says little else. */
function departure(message: IncomingMessage, own: string, isAutomatic: boolean): Found | null {
  const isShort = own.length < (isAutomatic ? 3000 : 700) && (isAutomatic || !/[?？]/u.test(own));
  if (!isShort) return null;
  const known = knownAddresses(message);
  const whole = isAutomatic ? `${message.subject}. ${own}` : own;
  const left = leftWords(whole);
  if (left !== null)
    return {
      kind: 'left',
      sureness: isAutomatic ? 'sure' : 'likely',
      contact: newContactIn(own, known),
      because: [`it says “${inShort(left)}”`],
    };
  const changed = addressChangedWords(whole, known);
  if (changed === null) return null;
  return {
    kind: 'address_changed',
    sureness: isAutomatic ? 'sure' : 'likely',
    contact: newContactIn(own, known),
    because: [`it says “${inShort(changed)}”`],
  };
}

/** Addresses that stand in a message and are nobody new. */
const knownAddresses = ({ from, to }: IncomingMessage): string[] => {
  const sender = addressOf(from);
  return sender === null ? [...to] : [sender, ...to];
};

/** Message-IDs in a message's head, in what it encloses, and in the heads that reports quote. */
function answeredIds(message: IncomingMessage): string[] {
  const ids = (text: string | null | undefined) =>
    [...(text ?? '').matchAll(/<([^<>\s]+@[^<>\s]+)>/g)].map((m) => m[1] as string);
  const enclosed = message.enclosed.flatMap((e) => ids(fieldOf(e.slice(0, MOST_OF_HEAD), 'message-id')));
  const quoted = ids(fieldOf(message.text.slice(0, MOST_OF_HEAD), '(?:original-)?message-id'));
  return [
    ...new Set([
      ...ids(message.headers['in-reply-to']),
      ...ids(message.headers['references']).reverse(),
      ...enclosed,
      ...message.feedbackReports.flatMap((r) => ids(fieldOf(r, 'original-message-id'))),
      ...quoted,
    ]),
  ].slice(0, MOST_IDS);
}

/** Letters of a text in which the head of a message is looked for. */
const MOST_OF_HEAD = 50_000;
const MOST_IDS = 100;
