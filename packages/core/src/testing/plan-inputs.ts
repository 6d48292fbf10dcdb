import fc from 'fast-check';
import { dayNumber, isoDate } from '../time/days';
import { MINUTE_MS } from '../time/clock';
import { weekdayWindows } from '../time/window';
import type { PlanCampaign, PlanInput, PlanMailbox } from '../planning/workspace/plan-input';

const NOW = Date.UTC(2026, 9, 19, 7, 0, 0);
const TODAY = dayNumber('2026-10-19');

export const mailbox = (over: Partial<PlanMailbox> = {}): PlanMailbox => ({
  zone: 'Europe/Berlin',
  windows: weekdayWindows(540, 1020),
  capacity: { quota: 50 },
  daysOff: [],
  paceSeconds: 60,
  providerLimit24h: null,
  alreadyUsed: [],
  restUntil: null,
  held: false,
  ...over,
});

export const campaign = (over: Partial<PlanCampaign> = {}): PlanCampaign => ({
  steps: [
    { delay: 0, tolerance: 0 },
    { delay: 3, tolerance: 2 },
  ],
  weight: 1,
  dailyLimit: null,
  startDate: '2026-10-19',
  held: false,
  recipientWindow: null,
  mailboxes: [0],
  ...over,
});

/** A workspace in which each campaign has `people` newcomers, all in one zone and at domains of their own. */
export function workspace(people: number[], over: Partial<PlanInput> = {}): PlanInput {
  const owner = people.flatMap((n, c) => Array<number>(n).fill(c));
  const fill = (value: number) => owner.map(() => value);
  return {
    seed: 1,
    now: NOW,
    horizonDays: 200,
    calendar: { weekdays: [1, 2, 3, 4, 5], holidays: [] },
    domainCap: null,
    mailboxes: [mailbox()],
    campaigns: people.map(() => campaign()),
    zones: ['Europe/Berlin'],
    recipients: {
      count: owner.length,
      campaign: owner,
      zone: fill(0),
      domain: owner.map((_, i) => i),
      notBefore: fill(-1),
      units: fill(1),
      boundMailbox: fill(-1),
      nextStep: fill(0),
      dueDay: fill(-1),
    },
    ...over,
  };
}

const zoneNames = ['Europe/Berlin', 'America/New_York', 'Australia/Sydney', 'UTC'];

const anyMailbox: fc.Arbitrary<PlanMailbox> = fc
  .record({
    zone: fc.constantFrom(...zoneNames),
    from: fc.integer({ min: 0, max: 1200 }),
    length: fc.integer({ min: 30, max: 600 }),
    quota: fc.integer({ min: 0, max: 40 }),
    ramp: fc.option(
      fc.record({
        day: fc.integer({ min: TODAY - 10, max: TODAY + 3 }),
        first: fc.integer({ min: 0, max: 5 }),
        add: fc.integer({ min: 1, max: 5 }),
        every: fc.integer({ min: 1, max: 3 }),
      }),
    ),
    daysOff: fc.array(
      fc.integer({ min: 0, max: 20 }).map((d) => isoDate(TODAY + d)),
      { maxLength: 3 },
    ),
    paceSeconds: fc.constantFrom(0, 30, 90, 600),
    providerLimit24h: fc.option(fc.integer({ min: 3, max: 60 })),
    used: fc.array(fc.record({ ago: fc.integer({ min: 1, max: 1500 }), units: fc.integer({ min: 1, max: 3 }) }), {
      maxLength: 4,
    }),
    rest: fc.option(fc.integer({ min: 0, max: 6 })),
    held: fc.integer({ min: 0, max: 9 }).map((n) => n === 0),
  })
  .map((m) => ({
    zone: m.zone,
    windows: weekdayWindows(m.from, Math.min(1440, m.from + m.length)),
    capacity: { quota: m.quota, ramp: m.ramp },
    daysOff: m.daysOff,
    paceSeconds: m.paceSeconds,
    providerLimit24h: m.providerLimit24h,
    alreadyUsed: m.used.map((u) => ({ instant: NOW - u.ago * 60_000, units: u.units })),
    restUntil: m.rest === null ? null : isoDate(TODAY + m.rest),
    held: m.held,
  }));

/** An instant so many days from now, on the minute; half of them none. */
const anyInstant = (min: number, max: number): fc.Arbitrary<number | null> =>
  fc.option(
    fc.integer({ min: min * 1440, max: max * 1440 }).map((minutes) => NOW + minutes * MINUTE_MS),
    { freq: 2 },
  );

/** Hours of one message, within or beside those of its campaign; half of them none. */
const anyHours = fc.option(
  fc
    .record({ from: fc.integer({ min: 300, max: 1000 }), length: fc.integer({ min: 20, max: 500 }) })
    .map(({ from, length }) => ({ from, to: from + length })),
  { freq: 2, nil: null },
);

const anyCampaign = (mailboxes: number): fc.Arbitrary<PlanCampaign> =>
  fc.record({
    steps: fc
      .tuple(
        anyHours,
        fc.array(
          fc.record({
            delay: fc.integer({ min: 1, max: 6 }),
            tolerance: fc.integer({ min: 0, max: 3 }),
            hours: anyHours,
            endInstant: fc.option(anyInstant(2, 20), { freq: 2, nil: null }),
          }),
          { maxLength: 2 },
        ),
      )
      .map(([hours, more]) => [{ delay: 0, tolerance: 0, hours }, ...more]),
    weight: fc.integer({ min: 1, max: 5 }),
    dailyLimit: fc.option(fc.integer({ min: 1, max: 30 })),
    alreadySent: fc.array(fc.record({ day: fc.constant(TODAY), messages: fc.integer({ min: 0, max: 12 }) }), {
      maxLength: 1,
    }),
    startDate: fc.integer({ min: -3, max: 10 }).map((d) => isoDate(TODAY + d)),
    startInstant: anyInstant(-1, 8),
    endInstant: anyInstant(2, 60),
    held: fc.integer({ min: 0, max: 9 }).map((n) => n === 0),
    recipientWindow: fc.option(
      fc.record({
        weekdays: fc.constantFrom([1, 2, 3, 4, 5], [2, 4], [6, 7, 1]),
        from: fc.integer({ min: 300, max: 700 }),
        to: fc.integer({ min: 720, max: 1300 }),
      }),
    ),
    mailboxes: fc.uniqueArray(fc.integer({ min: 0, max: mailboxes - 1 }), { minLength: 1 }),
  });

/** Workspaces of all kinds: ramps, rests, zones over the autumn clock changes, limits, people in progress. */
export const anyWorkspace: fc.Arbitrary<PlanInput> = fc
  .record({
    mailboxes: fc.array(anyMailbox, { minLength: 1, maxLength: 4 }),
    domainCap: fc.option(fc.integer({ min: 1, max: 5 })),
    seed: fc.nat(),
  })
  .chain(({ mailboxes, domainCap, seed }) =>
    fc.array(anyCampaign(mailboxes.length), { minLength: 1, maxLength: 3 }).chain((campaigns) => {
      const person = fc.nat({ max: campaigns.length - 1 }).chain((c) => {
        const steps = (campaigns[c] as PlanCampaign).steps.length;
        return fc.record({
          campaign: fc.constant(c),
          zone: fc.nat({ max: zoneNames.length - 1 }),
          domain: fc.nat({ max: 8 }),
          at: anyInstant(-2, 12).map((at) => at ?? -1),
          notBefore: fc.option(fc.integer({ min: TODAY - 2, max: TODAY + 12 }), { nil: -1 }),
          units: fc.constantFrom(1, 1, 1, 2, 3),
          nextStep: fc.nat({ max: steps - 1 }),
          due: fc.integer({ min: TODAY - 5, max: TODAY + 8 }),
          mailbox: fc.constantFrom(...(campaigns[c] as PlanCampaign).mailboxes),
          isBound: fc.integer({ min: 0, max: 4 }).map((n) => n === 0),
        });
      });
      return fc.array(person, { maxLength: 60 }).map((people): PlanInput => ({
        seed,
        now: NOW,
        horizonDays: 60,
        calendar: { weekdays: [1, 2, 3, 4, 5], holidays: ['2026-10-26'] },
        domainCap,
        mailboxes,
        campaigns,
        zones: zoneNames,
        recipients: {
          count: people.length,
          campaign: people.map((p) => p.campaign),
          zone: people.map((p) => p.zone),
          domain: people.map((p) => p.domain),
          notBefore: people.map((p) => p.notBefore),
          units: people.map((p) => p.units),
          boundMailbox: people.map((p) => (p.nextStep > 0 || p.isBound ? p.mailbox : -1)),
          nextStep: people.map((p) => p.nextStep),
          dueDay: people.map((p) => (p.nextStep > 0 ? p.due : -1)),
          at: people.map((p) => p.at),
        },
      }));
    }),
  );
