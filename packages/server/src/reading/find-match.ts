import {
  bareSubject,
  DAY_MS,
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
  /** The mailboxes into which it may have come. */
  mailboxIds: readonly number[];
  /** Whether it claims to come from a mailbox of ours: that alone is not believed. */
  isOurs: boolean;
  nowMs: number;
}

/** The message of ours to which one that came in belongs; core's `matchOf` decides, of what the outgoing log has. */
export async function findMatch(tx: Queryable, secrets: Secrets, toFind: ToFind): Promise<Found | null> {
  const { mail, classified, mailboxIds, isOurs, nowMs } = toFind;
  const from = mail.from.toLowerCase();
  const isShared = isSharedDomain;
  const match = (candidates: readonly Candidate[]) =>
    matchOf(
      { kind: classified.kind, concerns: classified.concerns, from, subject: mail.subject, isShared },
      candidates,
    );
  const named = [...(await candidatesOfIds(tx, classified.answers)), ...(await candidatesOfLinks(tx, secrets, mail))];
  if (named.length > 0) return match(named);
  if (isOurs) return null;
  const written = match(await candidatesTo(tx, classified.concerns, mailboxIds));
  if (written) return written;
  const since = nowMs - LOOK_BACK_MS;
  const domain = from.slice(from.lastIndexOf('@') + 1);
  const subject = bareSubject(mail.subject);
  return match([
    ...(subject === '' ? [] : await candidatesAlike(tx, { subject }, mailboxIds, since)),
    ...(domain === '' || isShared(domain) ? [] : await candidatesAlike(tx, { domain }, mailboxIds, since)),
  ]);
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
