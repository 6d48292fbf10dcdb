import type { IncomingDetails, IncomingHeading, IncomingKind, MatchSureness } from '@baton/core';

/** What is listed: messages under one heading, those that a person has still to decide about, those of nobody, or all. */
export type ReplyFilter = IncomingHeading | 'without_outcome' | 'unmatched' | 'all';

/** What a person can say that a message is. */
export const SAYABLE_KINDS = [
  'reply',
  'auto_reply',
  'unsubscribe',
  'bounce',
  'left',
  'noise',
] as const satisfies IncomingKind[];
export type SayableKind = (typeof SAYABLE_KINDS)[number];

/** Messages that came in, newest first. */
export interface ReplyPage {
  replies: IncomingView[];
  /** How many the filter finds; more than are listed where the page ends before. */
  total: number;
  /** How many each filter finds. */
  counts: Partial<Record<ReplyFilter, number>>;
}

/** Most messages of one page. */
export const MOST_REPLIES = 1000;

export const OUTCOMES = ['interested', 'meeting', 'later', 'no', 'wrong_person'] as const;
export type Outcome = (typeof OUTCOMES)[number];

export interface IncomingView {
  id: number;
  kind: IncomingKind;
  receivedAt: number;
  fromName: string;
  fromKey: string;
  subject: string;
  /** The message's own words, without the quotation. */
  own: string;
  because: string;
  did: string;
  /** Whether what was done can be undone. */
  canUndo: boolean;
  details: IncomingDetails;
  /** What it was taken for before a person said that it was misread. */
  readAs: IncomingKind | null;
  /** How sure it is whose it is; null where it is nobody's. */
  match: MatchSureness | null;
  /** The person whose it is. */
  person: string | null;
  outcome: Outcome | null;
  mailbox: string;
  campaignId: number | null;
  campaign: string;
}

export interface ThreadMessage {
  direction: 'out' | 'in';
  at: number;
  who: string;
  subject: string;
  text: string;
}
