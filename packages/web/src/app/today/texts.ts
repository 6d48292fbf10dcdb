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
  needRow: {
    reply: 'Reply',
    unmatched: 'Unknown',
    answerFailed: 'Not sent',
    resting: 'Resting',
    problem: 'Problem',
    unsure: 'Unsure',
    fix: 'Fix',
    held: 'Held',
    setOutcome: 'Set outcome',
    outcomeSet: (who: Shown, outcome: Shown) => say`${who}: ${outcome}.`,
    undo: 'Undo',
    release: 'Release',
    itLeft: 'It was sent',
    itDidNot: 'It was not',
    putOff: 'Put off',
    putOffOf: (title: Shown) => say`Put off: ${title}`,
    putOffUntil: (day: Shown) => say`put off until ${day}`,
    bringBack: 'Bring back',
  },
  today: {
    firstSteps: 'To your first campaign',
    done: 'done',
    steps: {
      settings: {
        title: 'Say who you are',
        detail:
          'The workspace’s name, its time zone and the postal address that messages show; and whether people leave by a page of yours or by mail.',
        action: 'Open the settings',
        link: '/settings',
      },
      mailbox: {
        title: 'Connect a mailbox',
        detail:
          'Baton signs in, sends a message to the mailbox itself and reads it back before it trusts the connection.',
        action: 'Connect a mailbox',
        link: '/mailboxes/new',
      },
      people: {
        title: 'Bring in the people',
        detail: 'Any file with addresses in it; what is doubtful is asked, and nobody is written to yet.',
        action: 'Import a list',
        link: '/people/import',
      },
      message: {
        title: 'Write a message',
        detail: 'See it as any of them will get it, and send a test to yourself.',
        action: 'Write a message',
        link: '/messages/new',
      },
      campaign: {
        title: 'Read the brief and start',
        detail: 'It says who gets what, from where and until when, and what still stands in the way.',
        action: 'Draft a campaign',
        link: '/campaigns',
      },
    },
    needsYou: 'Needs you',
    nothingNeedsYou: 'Nothing needs you.',
    showPutOff: (n: number) => plural(n, { one: 'Show 1 that was put off', other: say`Show ${n} that were put off` }),
    hidePutOff: 'Hide what was put off',
    thisWeekSoFar: 'This week so far',
    vsTheSameDaysLast: 'vs the same days last week',
    measure: 'Measure',
    thisWeek: 'This week',
    lastWeek: 'Last week',
    nothingHasBeenSent: 'Nothing has been sent from here yet.',
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
