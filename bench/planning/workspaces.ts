import {
  dayNumber,
  isoDate,
  seededRandom,
  weekdayWindows,
  type PlanCampaign,
  type PlanInput,
  type PlanMailbox,
} from '@baton/core';
import { campaign as plainCampaign, mailbox as plainMailbox } from '../../packages/core/src/testing/plan-inputs';

const NOW = Date.UTC(2026, 10, 2, 6);
const TODAY = dayNumber('2026-11-02');

const mailbox = (over: Partial<PlanMailbox> = {}): PlanMailbox =>
  plainMailbox({ zone: 'Europe/Dublin', capacity: { quota: 100 }, ...over });
const many = (n: number, make: (i: number) => PlanMailbox): PlanMailbox[] =>
  Array.from({ length: n }, (_, i) => make(i));
const steps = (...pairs: [delay: number, tolerance: number][]) =>
  [[0, 0] as const, ...pairs].map(([delay, tolerance]) => ({ delay, tolerance }));
const campaign = (mailboxes: number, over: Partial<PlanCampaign> = {}): PlanCampaign =>
  plainCampaign({
    steps: steps([3, 2], [5, 2]),
    startDate: '2026-11-02',
    mailboxes: Array.from({ length: mailboxes }, (_, i) => i),
    ...over,
  });

/** What differs from person to person; everything has a plain default. */
interface Person {
  campaign: number;
  zone?: number;
  domain?: number;
  notBefore?: number;
  units?: number;
  mailbox?: number;
  nextStep?: number;
  dueDay?: number;
}
const each = (n: number, make: (i: number) => Person): Person[] => Array.from({ length: n }, (_, i) => make(i));

function build(
  mailboxes: PlanMailbox[],
  campaigns: PlanCampaign[],
  people: Person[],
  over: Partial<PlanInput> = {},
): PlanInput {
  const column = (read: (p: Person, i: number) => number | undefined, other: number) =>
    people.map((p, i) => read(p, i) ?? other);
  return {
    seed: 7,
    now: NOW,
    horizonDays: 700,
    calendar: { weekdays: [1, 2, 3, 4, 5], holidays: ['2026-12-25', '2026-12-28', '2027-01-01'] },
    domainCap: null,
    mailboxes,
    campaigns,
    zones: ['Europe/Dublin', 'America/New_York', 'Asia/Tokyo', 'Europe/Athens'],
    recipients: {
      count: people.length,
      campaign: column((p) => p.campaign, 0),
      zone: column((p) => p.zone, 0),
      domain: people.map((p, i) => p.domain ?? 1000 + (i % 40_000)),
      notBefore: column((p) => p.notBefore, -1),
      units: column((p) => p.units, 1),
      boundMailbox: column((p) => p.mailbox, -1),
      nextStep: column((p) => p.nextStep, 0),
      dueDay: column((p) => p.dueDay, -1),
    },
    ...over,
  };
}

const ramp = (first: number, add: number, every: number, quota: number, ago = 0) => ({
  capacity: { quota, ramp: { day: TODAY - ago, first, add, every } },
});
const HOURS = { weekdays: [1, 2, 3, 4, 5], from: 540, to: 1080 };
const ALL_WEEK = Array.from({ length: 7 }, () => [[480, 1200] as [number, number]]);

/** Workspaces of all kinds; those in docs/planning.md. */
export const WORKSPACES: readonly { name: string; about: string; make: () => PlanInput }[] = [
  {
    name: 'one small mailbox',
    about: '90 people, 15 a day, three messages',
    make: () =>
      build(
        [mailbox({ capacity: { quota: 15 } })],
        [campaign(1)],
        each(90, () => ({ campaign: 0 })),
      ),
  },
  {
    name: 'exact delays that tile badly',
    about: '5,000 people, 100 a day, delays of exactly 3 and 4 days',
    make: () =>
      build(
        [mailbox()],
        [campaign(1, { steps: steps([3, 0], [4, 0]) })],
        each(5000, () => ({ campaign: 0 })),
      ),
  },
  {
    name: 'tolerant delays',
    about: 'the same with two days of tolerance',
    make: () =>
      build(
        [mailbox()],
        [campaign(1, { steps: steps([3, 2], [4, 2]) })],
        each(5000, () => ({ campaign: 0 })),
      ),
  },
  {
    name: 'one mailbox ramping',
    about: '3,000 people, from 10 a day by 5 every other day to 150',
    make: () =>
      build(
        [mailbox(ramp(10, 5, 2, 150))],
        [campaign(1, { steps: steps([3, 1], [4, 1]) })],
        each(3000, () => ({ campaign: 0 })),
      ),
  },
  {
    name: 'twelve mailboxes at different points of their ramps',
    about: '12,000 people; half the mailboxes young, half grown',
    make: () =>
      build(
        many(12, (i) => mailbox(i < 6 ? ramp(5 + i, 3, 1 + (i % 3), 80, i) : { capacity: { quota: 40 + 10 * i } })),
        [campaign(12, { steps: steps([3, 2], [5, 3]) })],
        each(12_000, () => ({ campaign: 0 })),
      ),
  },
  {
    name: 'mixed calendars',
    about: 'mailboxes that send Monday to Friday, all week, or Tuesday and Thursday only, and days off',
    make: () =>
      build(
        many(9, (i) =>
          mailbox({
            capacity: { quota: 60 },
            windows: [weekdayWindows(540, 1020), ALL_WEEK, ALL_WEEK.map((w, d) => (d === 1 || d === 3 ? w : []))][
              i % 3
            ]!,
            daysOff: i % 2 ? ['2026-11-11', '2026-11-12'] : [],
          }),
        ),
        [campaign(9, { steps: steps([4, 3], [6, 4]) })],
        each(8000, () => ({ campaign: 0 })),
      ),
  },
  {
    name: 'five messages',
    about: '6,000 people, delays 2, 4, 7 and 10 with a day or two of tolerance',
    make: () =>
      build(
        many(6, () => mailbox({ capacity: { quota: 80 } })),
        [campaign(6, { steps: steps([2, 1], [4, 1], [7, 2], [10, 2]) })],
        each(6000, () => ({ campaign: 0 })),
      ),
  },
  {
    name: 'weights 3 to 1',
    about: 'two campaigns of 4,000 share ten mailboxes',
    make: () =>
      build(
        many(10, () => mailbox({ capacity: { quota: 50 } })),
        [campaign(10, { weight: 3 }), campaign(10, { steps: steps([2, 1]) })],
        each(8000, (i) => ({ campaign: i % 2 })),
      ),
  },
  {
    name: 'a small late campaign behind a huge one',
    about: '20,000 people under way when 300 more join three weeks later',
    make: () =>
      build(
        many(10, () => mailbox()),
        [campaign(10), campaign(10, { startDate: '2026-11-23', steps: steps([4, 2]) })],
        each(20_300, (i) => ({ campaign: i < 20_000 ? 0 : 1 })),
      ),
  },
  {
    name: 'a backlog of due follow-ups',
    about: '1,500 follow-ups due or overdue, 4,000 people waiting behind them',
    make: () =>
      build(
        many(5, () => mailbox()),
        [campaign(5, { steps: steps([3, 2], [4, 2]) })],
        each(5500, (i) =>
          i < 1500
            ? { campaign: 0, mailbox: i % 5, nextStep: 1 + (i % 2), dueDay: TODAY - 4 + (i % 9) }
            : { campaign: 0 },
        ),
      ),
  },
  {
    name: 'units of three',
    about: '2,400 people of whom every third has two copies',
    make: () =>
      build(
        many(4, () => mailbox({ capacity: { quota: 50 } })),
        [campaign(4)],
        each(2400, (i) => ({ campaign: 0, units: i % 3 === 0 ? 3 : 1 })),
      ),
  },
  {
    name: 'domain caps',
    about: 'a third of 6,000 people share four domains that take 6 a day from a mailbox',
    make: () =>
      build(
        many(8, () => mailbox({ capacity: { quota: 70 } })),
        [campaign(8)],
        each(6000, (i) => ({ campaign: 0, ...(i % 3 === 0 && { domain: (i / 3) % 4 }) })),
        { domainCap: 6 },
      ),
  },
  {
    name: 'provider limits across midnight',
    about: 'evening windows, limits of 100 in any 24 hours with quotas of 100',
    make: () =>
      build(
        many(4, () => mailbox({ windows: ALL_WEEK.map(() => [[1080, 1380]]), providerLimit24h: 100, paceSeconds: 90 })),
        [campaign(4, { steps: steps([3, 2], [4, 3]) })],
        each(6000, () => ({ campaign: 0 })),
      ),
  },
  {
    name: 'small quotas',
    about: '400 people from eight mailboxes of 3 to 10 a day',
    make: () =>
      build(
        many(8, (i) => mailbox({ capacity: { quota: 3 + i } })),
        [campaign(8, { steps: steps([3, 1], [4, 1]) })],
        each(400, () => ({ campaign: 0 })),
      ),
  },
  {
    name: 'recipients in four zones',
    about: 'their own hours, 9 to 18, from mailboxes in Dublin',
    make: () =>
      build(
        many(6, () => mailbox({ capacity: { quota: 80 }, windows: weekdayWindows(480, 1260) })),
        [campaign(6, { recipientWindow: HOURS })],
        each(4000, (i) => ({ campaign: 0, zone: [0, 0, 1, 3][i % 4]! })),
      ),
  },
  {
    name: 'dates to wait for',
    about: 'a third of 5,000 people may not be written to before dates over two months',
    make: () =>
      build(
        many(5, () => mailbox({ capacity: { quota: 80 } })),
        [campaign(5)],
        each(5000, (i) => ({ campaign: 0, ...(i % 3 === 0 && { notBefore: TODAY + 7 * (i % 9) }) })),
      ),
  },
  {
    name: 'a daily limit of the campaign',
    about: 'two campaigns, one held to 120 messages a day over all mailboxes',
    make: () =>
      build(
        many(6, () => mailbox({ capacity: { quota: 60 } })),
        [campaign(6, { dailyLimit: 120, steps: steps([3, 1], [4, 1]) }), campaign(6)],
        each(6000, (i) => ({ campaign: i % 3 === 0 ? 0 : 1 })),
      ),
  },
  {
    name: 'a mailbox rests, another is young',
    about: 'rests for two weeks, a holiday week, ramps',
    make: () =>
      build(
        [
          mailbox({ restUntil: isoDate(TODAY + 14) }),
          mailbox(ramp(8, 4, 1, 100)),
          mailbox({ daysOff: ['2026-11-16', '2026-11-17', '2026-11-18', '2026-11-19', '2026-11-20'] }),
          mailbox(),
        ],
        [campaign(4, { steps: steps([3, 2], [5, 2]) })],
        each(6000, () => ({ campaign: 0 })),
      ),
  },
  {
    name: 'campaigns with some mailboxes in common',
    about: '3,000 people may use the first two of three mailboxes, 1,000 the last two',
    make: () =>
      build(
        many(3, () => mailbox()),
        [campaign(3, { mailboxes: [0, 1] }), campaign(3, { mailboxes: [1, 2] })],
        each(4000, (i) => ({ campaign: i % 4 ? 0 : 1 })),
      ),
  },
  {
    name: 'three campaigns across six mailboxes',
    about: 'each may use other ones, the young ones too; one begins three weeks later',
    make: () =>
      build(
        many(6, (i) => mailbox(i < 2 ? ramp(5, 4, 1, 90) : {})),
        [
          campaign(6, { mailboxes: [0, 1, 2, 3] }),
          campaign(6, { mailboxes: [2, 3, 4, 5], steps: steps([2, 1]) }),
          campaign(6, { mailboxes: [1, 5], startDate: '2026-11-23', steps: steps([4, 1], [5, 2]) }),
        ],
        each(8000, (i) => ({ campaign: i % 8 === 0 ? 2 : i % 2 })),
      ),
  },
  {
    name: 'bound to a mailbox',
    about: '5,000 people, the last 1,500 bound to one of four mailboxes',
    make: () =>
      build(
        many(4, () => mailbox()),
        [campaign(4)],
        each(5000, (i) => ({ campaign: 0, ...(i >= 3500 && { mailbox: 0 }) })),
      ),
  },
  {
    name: 'two hundred mailboxes',
    about: '40,000 people, quotas of 20 to 60',
    make: () => {
      const random = seededRandom(11);
      return build(
        many(200, () => mailbox({ capacity: { quota: 20 + Math.floor(random() * 41) } })),
        [campaign(200)],
        each(40_000, () => ({ campaign: 0 })),
      );
    },
  },
  {
    name: 'a hundred thousand people',
    about: 'three messages, twenty mailboxes of 500 a day',
    make: () => threeMessages(100_000),
  },
];

/** People by three messages by twenty mailboxes that take a month or so. */
export function threeMessages(people: number): PlanInput {
  return build(
    many(20, () =>
      mailbox({ capacity: { quota: Math.max(10, people / 200) }, paceSeconds: Math.min(45, 45 * (100_000 / people)) }),
    ),
    [campaign(20)],
    each(people, () => ({ campaign: 0 })),
  );
}
