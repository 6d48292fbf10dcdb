import { isWatched, type MessageContent, type MessageWatches, type Watching } from '@baton/core';
import type { Secrets } from '../security/secrets';

/** What the links of messages are made of. */
export interface LinkParts {
  secrets: Secrets;
  /** What they begin with; '' where nobody else reaches this machine. */
  publicAddress: string;
}

/** How one recipient of one campaign leaves. */
export interface WayOut {
  /** The link in the message: to a page, or to a message to the mailbox where there is no page. */
  link: string;
  /** Addresses of List-Unsubscribe (RFC 2369, 3.2), the best first. */
  header: string[];
}

/** The signed ways by which one recipient of one campaign leaves. @param mailbox from which it is sent, and which is read */
export function wayOut({ secrets, publicAddress }: LinkParts, enrolmentId: number, mailbox: string): WayOut {
  const signed = secrets.sign(`u:${enrolmentId}`);
  const byMail = leaveByMail(mailbox, signed);
  if (publicAddress === '') return { link: byMail, header: [byMail] };
  const page = `${publicAddress}/u/${signed}`;
  return { link: page, header: [page, byMail] };
}

/** Stands where a recipient's own links will be: a proof must not let anybody leave. */
export function proofWayOut(publicAddress: string, mailbox: string): WayOut {
  const link = publicAddress === '' ? leaveByMail(mailbox, 'proof') : `${publicAddress}/u/proof`;
  return { link, header: [link] };
}

/** A message by which somebody leaves (RFC 6068, 2). */
const leaveByMail = (mailbox: string, signed: string): string =>
  `mailto:${mailbox.split('@').map(encodeURIComponent).join('@')}?subject=${encodeURIComponent(`Unsubscribe ${signed}`)}`;

/** The enrolment that a message with this subject ends, or null where it is no such message. */
export function enrolmentOfSubject(secrets: Secrets, subject: string): number | null {
  const [, signed = ''] = /\bUnsubscribe\s+([\w-]+\.[\w-]+)/i.exec(subject) ?? [];
  return enrolmentOfLink(secrets, signed);
}

/** The signed link under which one recipient sees one message in a browser; '' where nobody could open it. */
export function browserUrl({ secrets, publicAddress }: LinkParts, enrolmentId: number, step: number): string {
  return publicAddress === '' ? '' : `${publicAddress}/m/${secrets.sign(`m:${enrolmentId}:${step}`)}`;
}

/** The message a link to see it was made for, or null for a link that Baton did not make. */
export function messageOfLink(secrets: Secrets, signed: string): { enrolmentId: number; step: number } | null {
  const m = /^m:(\d+):(\d+)$/.exec(secrets.verify(signed) ?? '');
  return m ? { enrolmentId: Number(m[1]), step: Number(m[2]) } : null;
}

/** The enrolment a link was made for, or null for a link that Baton did not make. */
export function enrolmentOfLink(secrets: Secrets, signed: string): number | null {
  const m = /^u:(\d+)$/.exec(secrets.verify(signed) ?? '');
  return m ? Number(m[1]) : null;
}

/** What the public pages answer to the question whether they are this Baton's. */
export const hereAnswer = (secrets: Secrets, nonce: string): string => secrets.sign(`here:${nonce}`);

/** A request that one of the links below makes. */
export interface SignalLink {
  deliveryId: number;
  /** Where it leads; '' for a picture and for the link that nobody sees. */
  url: string;
  /** How many links of the message can be counted. */
  links: number;
}

/**
 * What is put into one message so that opens and clicks can be counted; null where nothing is: it was not chosen for messages of
 * this form, or nobody could reach this machine.
 */
export function watchingOf(
  { secrets, publicAddress }: LinkParts,
  deliveryId: number,
  { watchesOpens, watchesClicks }: MessageWatches,
  format: MessageContent['format'],
): Watching | null {
  const [opens, clicks] = [isWatched(watchesOpens, format), isWatched(watchesClicks, format)];
  if (publicAddress === '' || !(opens || clicks)) return null;
  const sealed = (of: Omit<SignalLink, 'deliveryId'>) =>
    secrets.sealForLink(JSON.stringify([deliveryId, of.links, of.url]));
  const ours = `${publicAddress}/`;
  return {
    // A click on the way out, or on Baton's own pages, is none on the message.
    link: (url, links) => (clicks && !url.startsWith(ours) ? `${publicAddress}/c/${sealed({ url, links })}` : null),
    picture: opens ? `${publicAddress}/o/${sealed({ url: '', links: 0 })}.gif` : null,
    hidden: clicks ? `${publicAddress}/c/${sealed({ url: '', links: 0 })}` : null,
  };
}

/** What a link of a message stands for, or null for one that Baton did not make. */
export function signalOfLink(secrets: Secrets, sealed: string): SignalLink | null {
  const opened = secrets.openLink(sealed);
  if (opened === null) return null;
  const [deliveryId, links, url] = JSON.parse(opened) as [number, number, string];
  return { deliveryId, links, url };
}
