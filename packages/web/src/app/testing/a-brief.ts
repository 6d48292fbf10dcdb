import type { BriefStep, BriefView } from '@baton/contract';
import { usualTerms } from '@baton/core';

/** A message of a campaign, which has left to nobody. */
export const aStep = (
  over: Partial<BriefStep> & Pick<BriefStep, 'number' | 'messageId' | 'messageName'>,
): BriefStep => ({
  ...{
    others: [],
    otherNames: [],
    ifClicked: null,
    ifClickedName: null,
    ...usualTerms(0),
  },
  ...{ renews: false, isOlder: false, sent: 0 },
  ...over,
});

/** A draft of two messages. */
export const aBrief = (over: Partial<BriefView> = {}): BriefView => ({
  ...{
    id: 4,
    name: 'Vineyards',
    state: 'draft',
    revision: 0,
    startedAt: null,
    standing: [],
    lastChange: null,
    states: {},
  },
  ...{ listId: 1, listName: 'North-coast vineyards', segmentId: null, segmentWords: null },
  ...{ usesPicked: false, picked: null, proposed: [] },
  ...{ alsoParts: [], exceptParts: [], alsoWords: [], exceptWords: [] },
  steps: [
    aStep({ number: 0, messageId: 1, messageName: 'Kelp for your vines?' }),
    aStep({ number: 1, messageId: 2, messageName: 'A short reminder', delay: 3, tolerance: 2 }),
  ],
  ...{ mailboxIds: [1], mailboxes: [{ id: 1, address: 'ines@tidewaterkelp.example' }], dailyLimit: 90, share: 1 },
  ...{ senderKey: null, senderColumn: null, keepsSender: false },
  ...{ startDate: '2026-11-30', startMinute: null, endDate: null, endMinute: null },
  ...{ window: { weekdays: [1, 2, 3, 4, 5], from: 540, to: 990 }, windowZone: 'recipient' },
  ...{ leaveOutBlank: false, leaveOutDoubtful: null, allowsOthers: false, notWithinDays: null, mostPerCompany: null },
  ...{ releasedByHand: false, firstGroup: null, groupWait: 1, groupByHand: false, enrolNew: false },
  ...{ replyEndsHere: false, holdsColleagues: false, variants: [], stopsLosers: false, needsLines: false },
  ...{ watchesOpens: 'none', watchesClicks: 'none', watchesPlaces: false, canWatch: true },
  forecast: {
    people: 312,
    leftOut: [
      {
        code: 'suppressed',
        reason: 'on the suppression list',
        settledBy: 'remove it',
        people: 14,
        who: ['a@x.example'],
      },
    ],
    messages: 624,
    firstDay: '2026-11-30',
    lastStartDay: '2026-12-03',
    lastDay: '2026-12-15',
    late: 0,
    notPlaced: [],
    cut: 0,
    ownTimes: { people: 0, later: 0, who: [] },
    obstacles: [],
    loads: [{ mailboxId: 1, day: '2026-11-30', first: 30, followUps: 0 }],
  },
  ...over,
});
