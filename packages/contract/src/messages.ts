import type { ContentFault, Layout, LineState, MessageCheck, MessageContent, Risk, RiskReason } from '@baton/core';

export interface MessageView {
  id: number;
  name: string;
  content: MessageContent;
  updatedAt: number;
  /** When somebody last read finished messages made from it; null for never. */
  proofsReadAt: number | null;
  changedSinceRead: boolean;
  /** Where it does not parse; null when it does. */
  fault: ContentFault | null;
  /** Campaigns that use it. */
  usedBy: string[];
}

export interface RemovedMessage {
  id: number;
  name: string;
  removedAt: number;
}

/** What a message was before. */
export interface MessageVersion {
  id: number;
  savedAt: number;
  content: MessageContent;
}

export interface MessageDraft {
  name: string;
  content: MessageContent;
}

/** For whom a finished message is asked: one person of a list, from a mailbox; null for the first there is. */
export interface ProofAsked {
  content: MessageContent;
  listId: number;
  /** 0-based place in the list. */
  index: number;
  mailboxId: number | null;
  /** Values of the person that are being typed and not yet kept, by field key. */
  typed?: Record<string, string>;
}

/** One finished message for one recipient of a list. */
export interface ProofView {
  index: number;
  total: number;
  from: string;
  to: string;
  replyTo: string;
  cc: string[];
  bcc: string[];
  subject: string;
  preview: string;
  text: string;
  html: string;
  attachments: { name: string; size: number | null }[];
  /** Pictures that come with it: their address in the HTML, and the asset; null for a file that is not there. */
  pictures: { cid: string; assetId: number | null }[];
  /** Blank fields without fallback: this proof could not leave. */
  blanks: string[];
  /** What else keeps it from leaving. */
  faults: string[];
}

/** One of the proofs that are worth reading first. */
export interface RiskyProof {
  index: number;
  who: string;
  reasons: RiskReason[];
}

/** A message looked over for a whole list. */
export interface Reading {
  total: number;
  worth: RiskyProof[];
  counts: Partial<Record<Risk, number>>;
  checks: MessageCheck[];
  /** Bytes that go with each message: HTML and text, pictures, files. */
  bytes: number;
}

export interface TestAsked extends ProofAsked {
  to: string[];
}

export interface AssetView {
  id: number;
  name: string;
  type: string;
  size: number;
  createdAt: number;
  /** Messages that use it. */
  usedBy: string[];
}

export interface LayoutView {
  /** null for one that ships with Baton. */
  id: number | null;
  name: string;
  layout: Layout;
}

/** A person's own line of a message, beside their row. */
export interface PersonalLine {
  rowId: number;
  address: string;
  fields: Record<string, string>;
  line: string;
  state: LineState;
}

export interface PersonalLines {
  /** Where the lines are kept; null while the list has no column for them. */
  column: { key: string; name: string } | null;
  counts: Record<PersonalLine['state'], number>;
  total: number;
  /** Of each person, in the list's order. */
  order: PersonalLine['state'][];
}
