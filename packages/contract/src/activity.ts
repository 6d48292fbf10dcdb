import type { RecordedEventKind } from '@baton/core';

/** One thing that Baton did, or that it noticed. */
export interface ActivityEntry {
  /** Names it for good. */
  key: string;
  at: number;
  /** Null for what happened to a mailbox, which `detail` then says in words. */
  kind: RecordedEventKind | null;
  detail: string;
  /** Of a message: 0 for the first. */
  step: number | null;
  person: { id: number; address: string } | null;
  campaign: { id: number; name: string } | null;
  mailbox: { id: number; address: string } | null;
}

/** The newest first. */
export interface ActivityList {
  entries: ActivityEntry[];
  /** Whether there are older ones. */
  hasMore: boolean;
}
