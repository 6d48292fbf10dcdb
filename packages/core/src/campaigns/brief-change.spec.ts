import { describe, expect, it } from 'vitest';
import { usualTerms } from './step-terms';
import { briefChanges, reachWords, type BriefSaid, type ChangeReach, type StepSaid } from './brief-change';

const step = (number: number, name: string, over: Partial<StepSaid> = {}): StepSaid => ({
  ...{ number, name: `“${name}”`, messages: name, isRenewed: false },
  ...usualTerms(1),
  ...over,
});
const BRIEF: BriefSaid = {
  ...{
    name: 'Vineyards',
    audience: 'North coast',
    audienceIds: '1',
    senderColumn: null,
    keepsSender: false,
    mailboxes: ['ines@x.example'],
  },
  steps: [step(0, 'Kelp'), step(1, 'Reminder')],
  ...{ startDate: '2026-11-30', startMinute: null, endDate: null, endMinute: null },
  ...{ window: { weekdays: [1, 2, 3, 4, 5], from: 540, to: 990 }, windowZone: 'recipient' },
  ...{ dailyLimit: null, share: 1, leaveOutBlank: false, leaveOutDoubtful: null, enrolNew: false },
  ...{ replyEndsHere: false, holdsColleagues: false, needsLines: false, allowsOthers: false, notWithinDays: null },
  stopsLosers: false,
  ...{ mostPerCompany: null, releasedByHand: false, firstGroup: null, groupWait: 1, groupByHand: false, variants: [] },
  ...{ watchesOpens: 'none', watchesClicks: 'none', watchesPlaces: false },
};
const said = (change: Partial<BriefSaid>) => briefChanges(BRIEF, { ...BRIEF, ...change }, 'day_month');

describe('what is different in a brief', () => {
  it('is nothing where nothing is, and is not told by names, which several may have', () => {
    expect(said({})).toEqual([]);
    expect(said({ audienceIds: '2' })).toEqual(['It is for North coast, instead of North coast.']);
  });

  it.each<[Partial<BriefSaid>, string]>([
    [{ name: 'Vines' }, 'It is called Vines.'],
    [{ startMinute: 840 }, 'First messages leave from Monday 30 November at 14:00, instead of Monday 30 November.'],
    [{ endDate: '2026-12-11', endMinute: 1020 }, 'Nothing leaves after Friday 11 December at 17:00.'],
    [{ senderColumn: 'Owner' }, 'Each person hears from the mailbox named in Owner.'],
    [{ keepsSender: true }, 'People written to before hear from the same mailbox again.'],
    [{ watchesClicks: 'all' }, 'Clicks are counted in every message, opens are not.'],
    [{ enrolNew: true }, 'Whoever joins them later is taken in.'],
    [{ leaveOutBlank: true }, 'People with a blank field are left out.'],
    [{ leaveOutDoubtful: true }, 'People whose address a verifier doubts are left out.'],
    [{ leaveOutDoubtful: false }, 'People whose address a verifier doubts are written to.'],
    [{ stopsLosers: true }, 'A variant that clearly gets fewer replies is stopped.'],
    [{ needsLines: true }, 'Nothing leaves to anybody whose personal line has not been approved.'],
    [{ allowsOthers: true }, 'People of other campaigns that run may join it.'],
    [{ notWithinDays: 30 }, 'Whoever was written to in the last 30 days is left out.'],
    [{ mostPerCompany: 2 }, 'At most 2 people of one company are written to.'],
    [{ replyEndsHere: true }, 'A reply ends only this campaign.'],
    [{ holdsColleagues: true }, 'Colleagues of somebody who replies wait.'],
    [{ releasedByHand: true }, 'Each day’s messages wait until somebody lets them go.'],
    [{ firstGroup: 20 }, '20 people come first; the others begin 1 working day later.'],
    [{ firstGroup: 1, groupByHand: true }, '1 person comes first; the others wait until somebody lets them go.'],
    [{ dailyLimit: 90 }, 'It sends at most 90 a day, instead of as many a day as the quotas allow.'],
    [{ share: 3 }, 'For each one that another campaign starts it starts 3, instead of 1.'],
    [{ windowZone: 'workspace' }, 'These hours are in the workspace’s time zone.'],
    [{ startDate: '2026-12-01' }, 'First messages leave from Tuesday 1 December, instead of Monday 30 November.'],
    [{ variants: [50, 50] }, 'Whoever joins from now on gets variants in shares of 50 to 50.'],
    [
      { mailboxes: ['tomas@x.example'] },
      'It sends from tomas@x.example too; no one new is written to from ines@x.example.',
    ],
    [
      { window: { weekdays: [1, 2], from: 600, to: 990 } },
      'It sends on Mon and Tue from 10:00 to 16:30, instead of weekdays from 9:00 to 16:30.',
    ],
  ])('says of %j: %s', (change, words) => expect(said(change)).toEqual([words]));

  it('names messages by their place', () => {
    const [first, reminder] = BRIEF.steps as [StepSaid, StepSaid];
    const steps = (...list: StepSaid[]) => said({ steps: list });
    expect(steps(first, { ...reminder, delay: 5 })).toEqual([
      'Follow-up 1 leaves 5 working days after the message before it, instead of 3.',
    ]);
    expect(steps(first)).toEqual(['Follow-up 1, “Reminder”, is taken out.']);
    expect(steps(first, step(-1, 'New'), reminder)).toEqual([
      'Follow-up 1 is new: “New”, 3 working days after the message before it.',
    ]);
    expect(steps(reminder, first)).toEqual(['The messages come in another order: “Reminder” and “Kelp”.']);
    expect(steps({ ...first, isRenewed: true }, { ...reminder, startsThread: true })).toEqual([
      'The first message, “Kelp”, goes out with the text that it has now.',
      'Follow-up 1 goes out in a thread of its own.',
    ]);
  });
});

describe('what a change does', () => {
  const NOTHING: ChangeReach = {
    ...{ joins: 0, goes: 0, goesOn: 0, isDone: 0, past: [], had: [], blanks: [], bound: 0, moved: 0, elsewhere: 0 },
    ...{ more: 0, fewer: 0, late: 0, ends: [], notPlaced: [] },
  };
  const words = (reach: Partial<ChangeReach>) => reachWords({ ...NOTHING, ...reach }, 'day_month');

  it('is said in sentences, of one and of many', () => {
    expect(words({})).toEqual([]);
    expect(words({ joins: 1, goes: 1, goesOn: 1, isDone: 1, bound: 1, moved: 1, elsewhere: 1, late: 1 })).toEqual([
      '1 person is taken in.',
      '1 person who waits for the first message gets none.',
      '1 person who had had every message goes on with it.',
      'For 1 person nothing more follows.',
      '1 person in a thread with a mailbox that goes stays with it.',
      '1 message moves to another day.',
      '1 message leaves from another mailbox.',
      '1 follow-up is late.',
    ]);
    expect(words({ goes: 1200, more: 2, fewer: 3 })).toEqual([
      '1,200 people who wait for the first message get none.',
      '2 messages more are to come.',
      '3 messages are not sent any more.',
    ]);
    expect(words({ past: [{ place: 1, people: 2 }], had: [{ place: 0, people: 1 }] })).toEqual([
      '2 people have come past follow-up 1 and will not get it.',
      '1 person has had the first message as it was.',
    ]);
    expect(words({ blanks: [{ fields: 'region', people: 2 }], notPlaced: [{ reason: 'no room', people: 1 }] })).toEqual(
      ['2 people have no value for region: it ends for them there.', '1 person cannot be planned: no room.'],
    );
    const ends = [
      { name: 'Vineyards', before: '2026-12-10', after: '2026-12-14' },
      { name: 'Orchards', before: '2026-12-01', after: '2026-12-01' },
      { name: 'Centres', before: '2026-12-01', after: null },
    ];
    expect(words({ ends })).toEqual([
      'Vineyards ends on Monday 14 December, instead of Thursday 10 December.',
      'Orchards ends on Tuesday 1 December.',
    ]);
  });
});
