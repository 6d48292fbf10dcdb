import { say, type Shown } from '../../look/language';

/** What people, person says on screen. */
export const peoplePersonTexts = {
  personPage: {
    exportEverythingAboutThem: 'Export everything about them',
    eraseForGood: 'Erase for good?',
    erase: 'Erase',
    campaigns: 'Campaigns',
    view: 'view',
    notInAnyCampaignYet: 'Not in any campaign yet.',
    history: 'History',
    undo: 'Undo',
    notes: 'Notes',
    newestOf: (shown: number, all: number) => say`the newest ${shown} of ${all}; the export has all of them`,
    newestFirst: 'newest first',
    openTheThread: 'open the thread',
    nothingYet: 'Nothing yet.',
    onTheSuppressionList: 'On the suppression list',
    from: (mailbox: Shown) => say`from ${mailbox}`,
    firstMessage: 'first message',
    followUp: (step: Shown) => say`follow-up ${step}`,
    noTimeYet: 'no time yet',
    everythingAboutHasBeenErased: (address: Shown) => say`Everything about ${address} has been erased.`,
  },
  personProof: {
    fromTo: (from: Shown, to: Shown) => say`From ${from} to ${to}`,
    itLeftAsTheRows: (sentSubject: Shown) =>
      say`It left as “${sentSubject}”; the row’s values have changed since, and this is what they make of it now.`,
    close: 'Close',
  },
};
