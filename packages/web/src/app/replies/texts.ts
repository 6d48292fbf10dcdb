import { say, type Shown } from '../look/language';

/** What replies says on screen. */
export const repliesTexts = {
  replies: {
    show: 'Show',
    everyReplyHasAnOutcome: 'Every reply has an outcome.',
    nothingHere: 'Nothing here.',
    showMore: (others: Shown) => say`Show more (${others})`,
    thread: 'Thread',
    to: (fromKey: Shown, campaign: Shown, mailbox: Shown) => say`${fromKey} · ${campaign} · to ${mailbox}`,
    because: (because: Shown) => say`Because ${because}.`,
    outcome: 'Outcome',
    repliesAutoRepliesBouncesAnd: 'Replies, auto-replies, bounces and unsubscribes appear here as they come in.',
    interested: 'Interested',
    meeting: 'Meeting',
    later: 'Later',
    no: 'No',
    wrongPerson: 'Wrong person',
    withoutOutcome: 'Without outcome',
    all: 'All',
  },
};
