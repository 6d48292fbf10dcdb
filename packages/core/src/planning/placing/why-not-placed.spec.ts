import { describe, expect, it } from 'vitest';
import { campaign, mailbox, workspace } from '../../testing/plan-inputs';
import { dayNumber } from '../../time/days';
import { weekdayWindows } from '../../time/window';
import { noPlacements } from '../placements/placements';
import type { PlanInput, PlanMailbox } from '../workspace/plan-input';
import { planSends } from '../plan-sends';
import { WhyNotPlaced } from './why-not-placed';

const WEEKDAYS = [1, 2, 3, 4, 5];

/** One person of a campaign that writes from some mailboxes, between some minutes of their own day. */
function onePerson(mailboxes: PlanMailbox[], zone = 'Europe/Berlin', hours?: [from: number, to: number]): PlanInput {
  const window = hours ? { weekdays: WEEKDAYS, from: hours[0], to: hours[1] } : null;
  const single = campaign({
    steps: [{ delay: 0, tolerance: 0 }],
    recipientWindow: window,
    mailboxes: mailboxes.map((_, m) => m),
  });
  return workspace([1], { mailboxes, campaigns: [single], zones: [zone], horizonDays: 30 });
}
const forGood = (input: PlanInput) => new WhyNotPlaced(input, noPlacements(input)).forGood(0);

describe('a reason that no longer look ahead would change', () => {
  it.each<[string, Partial<PlanMailbox>[], string]>([
    ['quotas of 0', [{ capacity: { quota: 0 } }], 'may send on any day'],
    ['weeks without hours', [{ windows: [[], [], [], [], [], [], []] }, { held: true }], 'may send on any day'],
    ['more addresses than any quota', [{ capacity: { quota: 3 } }, { capacity: { days: [1, 2] } }], 'to 4 addresses'],
    ['more addresses than the provider’s limit', [{ providerLimit24h: 3 }], 'to 4 addresses'],
  ])('is found for %s', (_, overs, words) => {
    const input = onePerson(overs.map((over) => mailbox(over)));
    input.recipients.units[0] = 4;
    expect(forGood(input)).toContain(words);
  });

  it('is found for hours that never meet, in none of the mailboxes', () => {
    const morning = mailbox({ windows: weekdayWindows(540, 600) });
    expect(forGood(onePerson([morning, morning], 'Europe/Berlin', [900, 960]))).toContain('never meet');
    expect(forGood(onePerson([morning, mailbox()], 'Europe/Berlin', [900, 960]))).toBeNull();
  });

  it('is none where a mailbox rests, climbs or has days off for as long as the plan looks ahead', () => {
    const off = Array.from({ length: 31 }, (_, i) => new Date(Date.UTC(2026, 9, 19 + i)).toISOString().slice(0, 10));
    const ramp = { day: dayNumber('2026-10-19'), first: 1, add: 1, every: 100 };
    for (const over of [{ restUntil: '2028-01-03' }, { daysOff: off }, { capacity: { quota: 50, ramp } }]) {
      const input = onePerson([mailbox(over)], 'Europe/Berlin', [900, 960]);
      input.recipients.units[0] = 4;
      expect(forGood(input)).toBeNull();
      expect(planSends(input).notPlaced).toHaveLength(1);
    }
  });

  it('is none where hours meet only while clocks are changed in one zone and not yet in the other', () => {
    // 9:00 in Chicago is 16:00 in Berlin, and 15:00 from 25 October to 1 November.
    const input = onePerson([mailbox({ windows: weekdayWindows(900, 930) })], 'America/Chicago', [540, 570]);
    expect(forGood(input)).toBeNull();
    const plan = planSends(input);
    expect(plan.notPlaced).toEqual([]);
    expect(plan.campaigns[0]?.firstDay).toBe(dayNumber('2026-10-26'));
  });
});
