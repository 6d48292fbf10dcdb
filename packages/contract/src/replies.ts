import type { IncomingKind } from '@baton/core';

/** What is listed: messages under one heading, those that still need an outcome, or all. */
export type ReplyFilter = IncomingKind | 'without_outcome' | 'all';

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
  outcome: Outcome | null;
  mailbox: string;
  campaignId: number;
  campaign: string;
}

export interface ThreadMessage {
  direction: 'out' | 'in';
  at: number;
  who: string;
  subject: string;
  text: string;
}
