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
  type Alike,
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
  const open: number[] = [];
  for (const [i, one] of toFind.entries()) {
    const match = await findNamed(tx, secrets, one, byId);
    found.push(match ?? (one.isOurs ? null : matchOf(about(one), writtenTo(one, written))));
    if (found[i] === null && !one.isOurs && isByPerson(one.classified.kind)) open.push(i);
  }
  const openOnes = open.map((i) => toFind[i] as ToFind);
  const alike = await candidatesAlike(tx, openOnes.map(alikeTo), among.mailboxIds, among.nowMs - LOOK_BACK_MS);
  for (const [at, i] of open.entries()) found[i] = matchOf(about(openOnes[at] as ToFind), alike[at] ?? []);
  return found;
}

const about = ({ mail, classified: { kind, concerns } }: ToFind) => ({
  ...{ kind, concerns, from: mail.from.toLowerCase(), subject: mail.subject, isShared: isSharedDomain },
});

const writtenTo = ({ classified: { concerns } }: ToFind, written: readonly Candidate[]) =>
  written.filter((c) => concerns.includes(c.address));

/** What an answer without reference has in common with a message of ours: its subject, or the company it comes from. */
function alikeTo({ mail }: ToFind): Alike {
  const domain = domainOf(mail.from);
  return { domain: isSharedDomain(domain) ? '' : domain, subject: bareSubject(mail.subject) };
}

/** The message that one that came in names. */
async function findNamed(
  tx: Queryable,
  secrets: Secrets,
  one: ToFind,
  byId: ReadonlyMap<string, Candidate>,
): Promise<Found | null> {
  const referred = one.classified.answers.map((id) => byId.get(id)).find((c) => c !== undefined);
  const named = referred ? [referred] : await candidatesOfLinks(tx, secrets, one.mail);
  return named.length > 0 ? matchOf(about(one), named) : null;
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
