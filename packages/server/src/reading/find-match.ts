import {
  bareSubject,
  DAY_MS,
  domainOf,
  isByPerson,
  matchOf,
  type Classified,
  type IncomingMessage,
  type Match,
  type MatchSureness,
} from '@baton/core';
import type { Secrets } from '../security/secrets';
import { enrolmentOfLink } from '../sending/signed-links';
import type { Queryable } from '../store/database';
import {
  candidatesAlike,
  candidatesOfEnrolment,
  candidatesOfIds,
  candidatesTo,
  type Candidate,
} from '../store/reading/candidate-rows';
import { enrolmentsOfLetters } from '../store/reading/letter-rows';
import { isSharedDomain } from './shared-domains';

/** Whose a message that came in is. */
export type Found = Match<Candidate> & { sureness: MatchSureness };

/** An answer without reference is looked for among the messages of so many days. */
const LOOK_BACK_MS = 60 * DAY_MS;
/** Links of one message that are looked at. */
const MOST_LINKS = 50;

export interface ToFind {
  mail: IncomingMessage;
  classified: Classified;
  /** Whether it claims to come from a mailbox of ours: that alone is not believed. */
  isOurs: boolean;
}

/**
 * The message of ours to which each of some that came in belongs; core's `matchOf` decides, of what the outgoing log has.
 *
 * @param among.mailboxIds the mailboxes into which they may have come
 */
export async function findMatches(
  tx: Queryable,
  secrets: Secrets,
  toFind: readonly ToFind[],
  among: { mailboxIds: readonly number[]; nowMs: number },
): Promise<(Found | null)[]> {
  const ids = [...new Set(toFind.flatMap(({ classified }) => classified.answers))];
  const byId = await candidatesOfIds(tx, ids);
  for (const [id, enrolmentId] of await enrolmentsOfLetters(
    tx,
    ids.filter((id) => !byId.has(id)),
  )) {
    const [last] = await candidatesOfEnrolment(tx, enrolmentId);
    if (last) byId.set(id, last);
  }
  const keys = [...new Set(toFind.flatMap(({ classified }) => classified.concerns))];
  const written = await candidatesTo(tx, keys, among.mailboxIds);
  const found: (Found | null)[] = [];
  for (const one of toFind) found.push(await findMatch(tx, secrets, one, { ...among, byId, written }));
  return found;
}

async function findMatch(
  tx: Queryable,
  secrets: Secrets,
  { mail, classified, isOurs }: ToFind,
  log: { mailboxIds: readonly number[]; nowMs: number; byId: ReadonlyMap<string, Candidate>; written: Candidate[] },
): Promise<Found | null> {
  const from = mail.from.toLowerCase();
  const { kind, concerns } = classified;
  const about = { kind, concerns, from, subject: mail.subject, isShared: isSharedDomain };
  const referred = classified.answers.map((id) => log.byId.get(id)).find((c) => c !== undefined);
  const named = referred ? [referred] : await candidatesOfLinks(tx, secrets, mail);
  if (named.length > 0) return matchOf(about, named);
  if (isOurs) return null;
  const direct = matchOf(
    about,
    log.written.filter((c) => concerns.includes(c.address)),
  );
  if (direct || !isByPerson(kind)) return direct;
  const domain = domainOf(from);
  const alike = { domain: isSharedDomain(domain) ? '' : domain, subject: bareSubject(mail.subject) };
  return matchOf(about, await candidatesAlike(tx, alike, log.mailboxIds, log.nowMs - LOOK_BACK_MS));
}

/** Messages whose signed links it quotes. */
async function candidatesOfLinks(tx: Queryable, secrets: Secrets, mail: IncomingMessage): Promise<Candidate[]> {
  for (const text of [mail.text, ...mail.enclosed]) {
    const links = [...text.matchAll(/\/u\/([\w-]+\.[\w-]+)/g)].slice(0, MOST_LINKS);
    for (const [, signed = ''] of links) {
      const enrolmentId = enrolmentOfLink(secrets, signed);
      const found = enrolmentId === null ? [] : await candidatesOfEnrolment(tx, enrolmentId);
      if (found.length > 0) return found;
    }
  }
  return [];
}
