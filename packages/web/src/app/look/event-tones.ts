import type { RecordedEventKind } from '@baton/core';

/** How what happened to a person is marked. */
export const EVENT_TONES: Readonly<Record<RecordedEventKind, string>> = {
  sent: 'sea',
  reply: 'good',
  clicked: 'sea',
  auto_reply: '',
  left: '',
  address_changed: '',
  hard_bounce: 'bad',
  colleague_replied: '',
  returned: 'bad',
  returned_late: 'bad',
  soft_bounce: 'bad',
  blocked: 'bad',
  unsubscribe: 'bad',
  opted_out: 'bad',
  complaint: 'bad',
  ended_by_hand: '',
  ended_by_date: '',
  skipped: '',
  skipped_last: '',
  postponed: '',
  moved: '',
};
