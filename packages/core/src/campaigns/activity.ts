import { BOUNCE_EVENTS, type RecordedEventKind } from './recipient-events';

/** What of Baton's activity is looked at: a heading, and the events of people under it. */
export const ACTIVITY_GROUPS = {
  sent: { words: 'Sent', events: ['sent'] },
  answers: { words: 'Replies, auto-replies, departures', events: ['reply', 'auto_reply', 'left', 'address_changed'] },
  bounces: { words: 'Bounces', events: BOUNCE_EVENTS },
  left: { words: 'Unsubscribes and complaints', events: ['unsubscribe', 'opted_out', 'complaint'] },
  /** What people did about recipients, or chose beforehand. */
  by_hand: {
    words: 'Done by hand',
    events: ['ended_by_hand', 'ended_by_date', 'skipped', 'skipped_last', 'postponed', 'moved'],
  },
  /** What happened to mailboxes: connected, resting, held, shut out. */
  mailboxes: { words: 'Mailboxes', events: [] },
} as const satisfies Record<string, { words: string; events: readonly RecordedEventKind[] }>;

export type ActivityGroup = keyof typeof ACTIVITY_GROUPS;
export const ACTIVITY_GROUP_NAMES = Object.keys(ACTIVITY_GROUPS) as ActivityGroup[];
