import { describe, expect, it } from 'vitest';
import { brokenPromises } from '../../testing/check-plan';
import { campaign, mailbox, workspace } from '../../testing/plan-inputs';
import { planSends } from '../plan-sends';
import type { PlanInput } from '../workspace/plan-input';

/** Of Berlin, on Tuesday 20 October 2026. */
const at = (hour: number, minute = 0, day = 20) => Date.UTC(2026, 9, day, hour - 2, minute);

/** A workspace in which the first of the people have instants of their own. */
function timed(people: number, instants: number[], over: Partial<PlanInput> = {}): PlanInput {
  const mailboxes = over.mailboxes ?? [mailbox()];
  const input = workspace([people], { campaigns: [campaign({ mailboxes: mailboxes.map((_, m) => m) })], ...over });
  input.recipients.at = input.recipients.campaign.map((_, p) => instants[p] ?? -1);
  return input;
}

const firstOf = (input: PlanInput, p: number, plan = planSends(input)) =>
  plan.deliveries.find((d) => d.recipient === p && d.step === 0);

describe('a first message with an instant of its own', () => {
  it('leaves at that instant on a day that is full to the last minute, and the others around it', () => {
    // Sixty minutes, sixty messages.
    const hour = mailbox({ windows: mailbox().windows.map(() => [[540, 600]]), capacity: { quota: 500 } });
    const input = timed(200, [at(9, 30), at(9, 30, 21), at(9, 45)], { mailboxes: [hour] });
    const plan = planSends(input);
    expect(brokenPromises(input, plan)).toEqual([]);
    expect([0, 1, 2].map((p) => firstOf(input, p, plan)?.instant)).toEqual([at(9, 30), at(9, 30, 21), at(9, 45)]);
  });

  it('leaves the pace apart where several want the same, in all mailboxes at once', () => {
    const input = timed(5, Array<number>(5).fill(at(11)), { mailboxes: [mailbox(), mailbox()] });
    const instants = planSends(input)
      .deliveries.filter((d) => d.step === 0)
      .map((d) => d.instant);
    expect(instants).toEqual([at(11), at(11), at(11, 1), at(11, 1), at(11, 2)]);
  });

  it('leaves at the first minute of the mailbox after it: at night, at weekends, once the quota is used', () => {
    const night = timed(2, [at(20), at(12, 0, 24)]);
    // The clocks go back on Sunday 25 October.
    expect([0, 1].map((p) => firstOf(night, p)?.instant)).toEqual([at(9, 0, 21), at(10, 0, 26)]);
    const few = timed(3, [at(10), at(11), at(12)], { mailboxes: [mailbox({ capacity: { quota: 2 } })] });
    expect([0, 1, 2].map((p) => firstOf(few, p)?.instant)).toEqual([at(10), at(11), at(9, 0, 21)]);
  });

  it('leaves in the mailbox that may send then', () => {
    const late = mailbox({ windows: mailbox().windows.map(() => [[780, 1020]]) });
    const input = timed(2, [at(10), at(16, 30)], { mailboxes: [late, mailbox()] });
    expect(firstOf(input, 0)).toMatchObject({ mailbox: 1, instant: at(10) });
  });

  it('leaves at once where the instant has passed', () => {
    const input = timed(1, [at(9, 0, 1)]);
    expect(firstOf(input, 0)?.instant).toBe(Math.max(input.now, at(9, 0, 19)));
  });

  it('is kept when planned again, and follows a changed instant of the same day', () => {
    const input = timed(40, [at(10), at(11)], { mailboxes: [mailbox(), mailbox()] });
    const first = planSends(input);
    const again = planSends(input, 'quick', first.columns);
    expect(again.deliveries).toEqual(first.deliveries);
    input.recipients.at = input.recipients.at?.map((a) => (a === at(11) ? at(15, 7) : a)) ?? [];
    const moved = planSends(input, 'quick', first.columns);
    expect(firstOf(input, 1, moved)?.instant).toBe(at(15, 7));
    expect(firstOf(input, 0, moved)).toEqual(firstOf(input, 0, first));
  });
});

describe('a campaign with an hour', () => {
  it('starts nobody before it, and spreads the rest of that day', () => {
    const input = workspace([30], {
      campaigns: [campaign({ startDate: '2026-10-20', startInstant: at(15) })],
    });
    const first = planSends(input).deliveries.filter((d) => d.step === 0);
    expect(brokenPromises(input, planSends(input))).toEqual([]);
    expect(first.every((d) => d.instant >= at(15) && d.instant < at(17))).toBe(true);
    expect(Math.max(...first.map((d) => d.instant))).toBeGreaterThan(at(16, 30));
  });

  it('has nothing in the plan from its end on, and says who would begin after it', () => {
    const input = workspace([300], {
      mailboxes: [mailbox({ capacity: { quota: 50 } })],
      campaigns: [campaign({ startDate: '2026-10-20', endInstant: at(12, 0, 23) })],
    });
    const plan = planSends(input);
    expect(brokenPromises(input, plan)).toEqual([]);
    expect(Math.max(...plan.deliveries.map((d) => d.instant))).toBeLessThan(at(12, 0, 23));
    expect(plan.notPlaced.length).toBeGreaterThan(0);
    expect(plan.notPlaced.every((n) => n.reason === 'the campaign ends before there is room for them')).toBe(true);
    expect(new Set([...plan.deliveries, ...plan.notPlaced].map((d) => d.recipient)).size).toBe(300);
    expect(plan.campaigns[0]?.lastDay).toBe(Math.max(...plan.deliveries.map((d) => d.day)));
  });
});
