import { eventRule } from '../campaigns/recipient-events';
import { incomingEvent, type BounceKind, type IncomingKind } from './incoming-kinds';

/** How sure it is to whom of those written to a message belongs; `unsure` where a person has to say. */
export type MatchSureness = 'sure' | 'unsure';

/** A message of ours to which one that came in may belong, with what speaks for it. */
export interface MatchCandidate {
  /** It refers to it: by Message-ID, or by a signed link that it quotes. */
  isNamed: boolean;
  /** Address of the person it went to. */
  address: string;
  subject: string;
  /** Epoch ms UTC. */
  sentAt: number;
}

/** What is known of a message that came in. */
export interface ToMatch {
  kind: IncomingKind;
  concerns: readonly string[];
  from: string;
  subject: string;
  /** Whether a domain is that of many people who have nothing to do with each other. */
  isShared: (domain: string) => boolean;
}

export interface Match<C> {
  to: C;
  sureness: MatchSureness;
  /** In words, for a sentence that begins with "because". */
  because: string;
}

/**
 * The message of ours to which one that came in belongs: the one it names; else the last one to the address that it is about;
 * else, of what people write, the last one with its subject or to somebody of the same company. What rests on subject or
 * company alone is unsure.
 *
 * @param candidates of these mailboxes, the newest first
 * @returns null where none fits
 */
export function matchOf<C extends MatchCandidate>(mail: ToMatch, candidates: readonly C[]): Match<C> | null {
  const named = candidates.find((c) => c.isNamed);
  if (named) return { to: named, sureness: 'sure', because: 'it refers to this message' };
  for (const address of mail.concerns) {
    const to = candidates.find((c) => c.address === address);
    if (to) return { to, sureness: 'sure', because: `it comes from, or is about, ${address}` };
  }
  // Reports and programs that name nobody we wrote to are about somebody else.
  if (!isByPerson(mail.kind)) return null;
  const title = bareSubject(mail.subject);
  const domain = domainOf(mail.from);
  const isColleague = (c: C) => domain !== '' && !mail.isShared(domain) && domainOf(c.address) === domain;
  const alike = candidates.filter((c) => title !== '' && bareSubject(c.subject) === title);
  const colleague = alike.find(isColleague);
  if (colleague)
    return {
      to: colleague,
      sureness: 'unsure',
      because: `it comes from ${mail.from}, with the subject of the message to ${colleague.address}`,
    };
  // A subject that many have had tells nothing.
  if (alike.length > 0 && new Set(alike.map((c) => c.address)).size === 1) {
    const to = alike[0] as C;
    return {
      to,
      sureness: 'unsure',
      because: `it comes from ${mail.from}, with the subject of the message to ${to.address}`,
    };
  }
  const to = candidates.find(isColleague);
  return to ? { to, sureness: 'unsure', because: `it comes from ${mail.from}, a colleague of ${to.address}` } : null;
}

const BY_PEOPLE: ReadonlySet<IncomingKind> = new Set<IncomingKind>([
  'reply',
  'calendar',
  'unsubscribe',
  'left',
  'address_changed',
]);

/** Whether people write messages of this kind, rather than programs. */
export const isByPerson = (kind: IncomingKind): boolean => BY_PEOPLE.has(kind);

/** In small letters. */
export const domainOf = (address: string): string => address.slice(address.lastIndexOf('@') + 1).toLowerCase();

const PREFIX =
  /^\s*(?:(?:re|aw|sv|antw|rv|r|ynt|odp|vs|ref|fwd?|wg|tr|doorst|enc|res|automatic reply|out of office)\s*(?:\[\d+\])?\s*[:：]\s*|\[(?:external|extern|ext)\]\s*)+/iu;

/** A subject without what replies put before it, as subjects are compared. */
export const bareSubject = (subject: string): string =>
  subject.replace(PREFIX, '').replace(/\s+/g, ' ').trim().toLowerCase();

/**
 * What happens to the recipient. Where it is not sure that it is theirs, what follows ends with them: nothing more is sent
 * until a person has said, and nobody is suppressed.
 */
export function eventOfMatch(kind: IncomingKind, bounce: BounceKind | null, sureness: MatchSureness) {
  const event = incomingEvent(kind, bounce);
  if (event === null || sureness === 'sure') return event;
  return eventRule(event).suppresses !== null ? 'reply' : event;
}
