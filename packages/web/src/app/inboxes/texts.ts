import { say, type Shown } from '../look/language';

/** What inboxes says on screen. */
export const inboxesTexts = {
  inboxes: {
    accepted: (accepted: Shown, refused: Shown, bouncedLater: Shown, answers: Shown, unsubscribes: Shown) =>
      say`The simulator accepted ${accepted} messages, refused ${refused} and returned ${bouncedLater} later; ${answers} got a reply, ${unsubscribes} led to an unsubscribe.`,
    searchByPersonOrBehaviour: 'Search by person or behaviour',
    searchPeople: 'Search people',
    unread: (unread: Shown) => say`${unread} unread`,
    nobodyHasReceivedAnythingYet: 'Nobody has received anything yet.',
    inbox: 'Inbox',
    setOutOfOffice: '; set out of office',
    backInTheOffice: 'Back in the office',
    outOfOfficeForA: 'Out of office for a week',
    copyTo: (join: Shown) => say` · copy to ${join}`,
    from: (from: Shown, receivedAt: Shown, value: Shown) => say`from ${from} · ${receivedAt}${value}`,
    showAsHtml: 'Show as HTML',
    showAsPlainText: 'Show as plain text',
    reply: 'Reply',
    replyAsThisPerson: 'Reply as this person',
    useTheUnsubscribeLink: 'Use the unsubscribe link',
    oneClickUnsubscribe: 'One-click unsubscribe',
    markAsSpam: 'Mark as spam',
    theInboxIsEmpty: 'The inbox is empty.',
    replySentBatonFindsIt: 'Reply sent. Baton finds it when it next reads the mailbox.',
    theLinkWasOpenedAnd: 'The link was opened and its button pressed.',
    theMailProgramsButtonWas: 'The mail program’s button was pressed.',
    markedAsSpamTheReport: 'Marked as spam; the report is on its way.',
    backAgain: 'Back again.',
    outOfOfficeUntilEvery: (until: Shown) => say`Out of office until ${until}: every message gets an automatic reply.`,
  },
};
