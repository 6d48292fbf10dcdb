import { plural, say, type Shown } from '../look/language';

/** What today says on screen. */
export const todayTexts = {
  dayLanes: {
    todayByMailbox: 'Today by mailbox',
    sent: 'sent',
    followUp: 'follow-up',
    toCome: 'to come',
    replied: 'replied',
    failed: 'failed',
    countSent: (count: Shown) => say`${count} sent`,
    countToCome: (count: Shown) => say`${count} to come`,
    countFailed: (count: Shown) => say`${count} failed`,
    countAnswered: (count: Shown) => say`${count} answered`,
  },
  today: {
    connectAMailbox: 'Connect a mailbox',
    importAList: 'Import a list',
    writeAMessage: 'Write a message',
    needsYou: 'Needs you',
    nothingNeedsYou: 'Nothing needs you.',
    thisWeekSoFar: 'This week so far',
    vsTheSameDaysLast: 'vs the same days last week',
    measure: 'Measure',
    thisWeek: 'This week',
    lastWeek: 'Last week',
    reply: 'Reply',
    resting: 'Resting',
    cannotSignIn: 'Cannot sign in',
    unsure: 'Unsure',
    fix: 'Fix',
    held: 'Held',
    noMailboxIsConnectedYet:
      'No mailbox is connected yet. Connect one, import a list and write a message; then you can start a campaign.',
    mailboxesRest: (n: number) => plural(n, { one: 'One mailbox rests.', other: say`${n} mailboxes rest.` }),
    nothingIsPlanned: 'Nothing is planned.',
    nothingIsSentTodayThe: (dayWords: Shown) => say`Nothing is sent today; the next messages are sent on ${dayWords}.`,
    theNextAreSentOn: (dayWords: Shown) => say`; the next are sent on ${dayWords}`,
    allOfTodaysMessagesHave: (planned: number, next: string) =>
      plural(planned, {
        one: `Today’s one message has been sent${next}.`,
        other: say`All of today’s ${planned} messages have been sent${next}.`,
      }),
    ofTodaysMessagesHaveBeen: (sent: Shown, planned: Shown, time: Shown) =>
      say`${sent} of today’s ${planned} messages have been sent; the last is due at ${time}.`,
    people: (n: number) => plural(n, { one: 'One person', other: say`${n} people` }),
    whoRepliedWaiting: (n: number) =>
      plural(n, {
        one: 'One person who replied is waiting for you.',
        other: say`${n} people who replied are waiting for you.`,
      }),
    waitingForYou: (n: number) => plural(n, { one: ', 1 is waiting for you', other: say`, ${n} are waiting for you` }),
    repliedSinceYesterday: (people: string, waiting: string) => `${people} replied since yesterday${waiting}.`,
  },
};
