import { planSends, seededRandom, weekdayWindows, type PlanInput } from '@baton/core';
import { best, print } from './row';

/** People, three messages each, from twenty mailboxes: one campaign, all new. */
function workspace(people: number): PlanInput {
  const fill = (value: number) => Array<number>(people).fill(value);
  const step = (delay: number) => ({ delay, tolerance: delay === 0 ? 0 : 2 });
  return {
    seed: 1,
    now: Date.UTC(2026, 10, 2, 7),
    horizonDays: 400,
    calendar: { weekdays: [1, 2, 3, 4, 5], holidays: [] },
    domainCap: null,
    mailboxes: Array.from({ length: 20 }, () => ({
      zone: 'Europe/Dublin',
      windows: weekdayWindows(540, 1020),
      capacity: { quota: Math.ceil(people / 600) },
      daysOff: [],
      paceSeconds: 60,
      providerLimit24h: null,
      alreadyUsed: [],
      restUntil: null,
      held: false,
    })),
    campaigns: [
      {
        steps: [step(0), step(3), step(5)],
        weight: 1,
        dailyLimit: null,
        startDate: '2026-11-02',
        held: false,
        recipientWindow: null,
        mailboxes: Array.from({ length: 20 }, (_, i) => i),
      },
    ],
    zones: ['Europe/Dublin'],
    recipients: {
      count: people,
      campaign: fill(0),
      zone: fill(0),
      domain: Array.from({ length: people }, (_, i) => i % 5000),
      notBefore: fill(-1),
      units: fill(1),
      boundMailbox: fill(-1),
      nextStep: fill(0),
      dueDay: fill(-1),
    },
  };
}

/** Planning to the instant against sorting as many random doubles as there are messages. */
export function planning(): void {
  const people = 20_000;
  const input = workspace(people);
  const random = seededRandom(3);
  const doubles = Float64Array.from({ length: people * 3 }, random);
  const sorting = best(5, () => void Float64Array.from(doubles).sort());
  let messages = 0;
  const planned = best(3, () => {
    messages = planSends(input).deliveries.length;
  });
  print({
    name: `plan ${people} people by 3 messages by 20 mailboxes, to the instant`,
    ratio: planned / sorting,
    goal: 60,
    unit: 'times sorting as many random doubles',
    messages,
  });
}
