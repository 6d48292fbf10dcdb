import type { IncomingKind } from '@baton/core';

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
