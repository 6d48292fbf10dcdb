import { say, type Shown } from '../look/language';

/** What the activity says on screen. */
export const activityTexts = {
  activity: {
    what: 'What',
    everything: 'Everything',
    search: 'Search',
    searchHint: 'An address, a campaign, a mailbox',
    when: 'When',
    who: 'Who',
    campaign: 'Campaign',
    mailbox: 'Mailbox',
    ofMailbox: 'mailbox',
    firstMessage: 'first message',
    followUp: (n: Shown) => say`follow-up ${n}`,
    nothing:
      'Nothing has happened yet. What Baton sends, reads and decides by itself is listed here, the newest first.',
    nothingFound: 'Nothing of this kind.',
    showOlder: 'Show older',
    noOlder: 'These are the newest 2,000; search to find older ones.',
  },
};
