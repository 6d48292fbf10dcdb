import type { ProofView } from './messages';
import type { NoteView } from './replies';
import type { CampaignState, DeliveryState, RecipientState, RecordedEventKind } from '@baton/core';

/** Everything held about one person. */
export interface PersonView {
  id: number;
  address: string;
  name: string;
  /** Why they are not being written to, or when they will be, in a sentence. */
  standing: string;
  suppression: { reason: string; source: string; createdAt: number } | null;
  lists: { id: number; name: string; fields: { name: string; value: string }[] }[];
  campaigns: {
    id: number;
    name: string;
    campaignState: CampaignState;
    state: RecipientState;
    reason: string;
    mailbox: string | null;
    messages: { step: number; state: DeliveryState; at: number | null; subject: string }[];
  }[];
  /** What happened, newest first: the latest of `historyTotal`. */
  history: PersonEvent[];
  historyTotal: number;
  /** What colleagues noted, newest first. */
  notes: NoteView[];
}

export interface PersonEvent {
  at: number;
  kind: RecordedEventKind;
  campaign: string;
  words: string;
  /** The reply's own page, where it came as a message. */
  incomingId: number | null;
  /** Whether what was done because of that message can be undone. */
  canUndo: boolean;
}

/** One message of a campaign to one person, as their row makes it. */
export interface PersonProof {
  from: string;
  to: string;
  subject: string;
  html: string;
  pictures: ProofView['pictures'];
  text: string;
  /** Under which subject it left; null while it has not. */
  sentSubject: string | null;
}
