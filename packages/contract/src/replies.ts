import type { IncomingDetails, IncomingHeading, IncomingKind, MatchSureness } from '@baton/core';

/** What is listed: messages under one heading, those that a person has still to decide about, those of nobody, or all. */
export type ReplyFilter = IncomingHeading | 'without_outcome' | 'later' | 'unmatched' | 'all';

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
  /** Colleagues to whom messages are assigned. */
  colleagues: string[];
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
  /** How many colleagues of the person are held because of it. */
  heldColleagues: number;
  /** What it was taken for before a person said that it was misread. */
  readAs: IncomingKind | null;
  /** How sure it is whose it is; null where it is nobody's. */
  match: MatchSureness | null;
  /** The person whose it is. */
  person: string | null;
  outcome: Outcome | null;
  /** Name of the colleague who sees to it; '' for nobody. */
  assignedTo: string;
  /** ISO date on which it comes back; null for none. */
  remindOn: string | null;
  /** Whether somebody of ours has written to them since. */
  isAnswered: boolean;
  mailbox: string;
  campaignId: number | null;
  campaign: string;
}

/** A file that came with a message. */
export interface MailFile {
  name: string;
  /** As its sender says. */
  type: string;
  /** In bytes. */
  size: number;
  /** Whether it can be shown here: it begins as a picture does. */
  isPicture: boolean;
  /** Whether opening it may run a program. */
  canRun: boolean;
}

/** What a message holds beside its text. */
export interface MailParts {
  /** Whether it came as a page (HTML) too. */
  hasPage: boolean;
  /** Whether that page wants pictures from elsewhere. */
  hasRemotePictures: boolean;
  files: MailFile[];
}

/**
 * A letter by hand: being written; waiting for its moment, or for another try; being handed over; sent; refused; or
 * handed over without an answer.
 */
export type LetterState = 'draft' | 'waiting' | 'sending' | 'sent' | 'failed' | 'unconfirmed';

/** One message of a thread. */
export interface ThreadMessage {
  /** Unlike any other of its thread. */
  key: string;
  /** A message of a campaign, one that came in, or a letter by hand. */
  from: 'campaign' | 'them' | 'hand';
  /** Of one that came in: its id. */
  incomingId: number | null;
  /** Of a letter: its id and state. */
  letterId: number | null;
  state: LetterState;
  /** Why a letter has not left. */
  reason: string;
  at: number;
  who: string;
  mailbox: string;
  /** Of which campaign it was; '' for none. */
  campaign: string;
  subject: string;
  /** Its own words. */
  text: string;
  /** All that it says, where that is more: quotations, signature. '' where it is not. */
  whole: string;
  parts: MailParts;
}

/** What colleagues know of the person, and everything exchanged with them, oldest first. */
export interface ThreadView {
  messages: ThreadMessage[];
  /** Older ones that are not in `messages`. */
  others: number;
  notes: NoteView[];
  /** Null where the message is nobody's: then nothing is noted. */
  contactId: number | null;
  answer: AnswerView;
}

export interface NoteView {
  id: number;
  at: number;
  text: string;
}

/** The answer to a message, as far as it is written, and what goes with it. */
export interface AnswerView {
  /** Why none can be sent, in a sentence; null where one can. */
  obstacle: string | null;
  to: string;
  from: string;
  subject: string;
  text: string;
  quotes: boolean;
  signature: string;
  quotation: string;
  /** The one on its way, as long as it can be taken back. */
  leaving: { letterId: number; secondsLeft: number } | null;
}

/** What is kept of an answer while it is written. */
export interface AnswerDraft {
  subject: string;
  text: string;
  quotes: boolean;
}

/** So long an answer can be taken back; real time. */
export const TAKE_BACK_MS = 10_000;

/** Most characters of an answer, and of a note. */
export const MOST_ANSWER = 50_000;
export const MOST_NOTE = 5_000;

/** A text to put into answers. */
export interface SnippetView {
  id: number;
  name: string;
  /** With fields, as it is kept. */
  text: string;
  /** As it reads for the person of the message at hand; null where something is missing for them. */
  filled: string | null;
  /** What is missing, or wrong with it; '' for nothing. */
  problem: string;
}

/** What can be done to many messages at once; what is absent stays as it is. */
export interface ReplyChange {
  outcome?: Outcome | null;
  assignedTo?: string;
  /** ISO date; null for no reminder. */
  remindOn?: string | null;
}
