export type MarkState = 'sent' | 'to_come' | 'failed' | 'answered' | 'unsure';

export interface TodayLane {
  mailboxId: number;
  address: string;
  senderName: string;
  /** Open spans of today as instants. */
  windows: { startMs: number; endMs: number }[];
  marks: { at: number; state: MarkState; campaignId: number; followUp: boolean }[];
  sent: number;
  quota: number;
  /** Why nothing is sent from it, in words; '' when it sends. */
  note: string;
}

/** How a need is settled where it stands. */
export type NeedSettles =
  /** An answer gets an outcome. */
  | { kind: 'outcome'; id: number }
  /** A day's messages of a mailbox are let go. */
  | { kind: 'batch'; day: string; mailboxId: number }
  /** Somebody says whether it left. */
  | { kind: 'delivery' | 'letter'; id: number };

export interface Need {
  /** By which it is put off; '' for one that cannot be. */
  key: string;
  settles?: NeedSettles;
  /** Until which day somebody has put it off; absent where nobody has. */
  putOffUntil?: string;
  kind: 'answer' | 'answer_failed' | 'unmatched' | 'resting' | 'problem' | 'unconfirmed' | 'fix' | 'held';
  title: string;
  detail: string;
  /** What to press, and where that leads; '' where nothing in Baton helps. */
  action: string;
  link: string;
  /** The access that one sign-in at the provider gives anew. */
  grantId?: number;
  /** How many it stands for where that is more than itself. */
  count?: number;
}

/** What leads from an empty workspace to its first campaign, in order. */
export interface FirstStep {
  kind: 'settings' | 'mailbox' | 'people' | 'message' | 'campaign';
  isDone: boolean;
}

/** What needs a person is put off until a day to come, or comes back: null. */
export interface PutOffRequest {
  key: string;
  until: string | null;
}

export interface TodayView {
  dayStartMs: number;
  dayEndMs: number;
  zone: string;
  sent: number;
  planned: number;
  lastAt: number | null;
  answeredSinceYesterday: number;
  waiting: number;
  resting: number;
  nextDay: string | null;
  lanes: TodayLane[];
  /** Everything that waits for a person, with what was put off; what drafts lack is asked for apart, since it takes longer. */
  needs: Need[];
  week: { label: string; now: number; before: number }[];
  /** None once a campaign has been started. */
  firstSteps: FirstStep[];
}
