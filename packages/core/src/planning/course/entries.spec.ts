import { describe, expect, it } from 'vitest';
import { campaign, mailbox, workspace } from '../../testing/plan-inputs';
import { dayNumber } from '../../time/days';
import { findEntries, meanOffset } from './entries';
import { noPlacements } from '../placements/placements';
import type { PlanInput } from '../workspace/plan-input';

const entriesOf = (input: PlanInput) => findEntries(noPlacements(input), input.domainCap);

describe('who waits to start', () => {
  it('stands together by campaign, with those who are under way or held left out', () => {
    const input = workspace([3, 2, 4], { campaigns: [campaign(), campaign({ held: true }), campaign({ weight: 2 })] });
    input.recipients.nextStep[0] = 1;
    input.recipients.dueDay[0] = dayNumber('2026-10-20');
    const found = entriesOf(input);
    expect(found.map(({ campaign: c, people, weight }) => [c, people, weight])).toEqual([
      [0, [1, 2], 1],
      [2, [5, 6, 7, 8], 2],
    ]);
  });

  it('counts units, those bound to each mailbox, and from which day how many may start', () => {
    const mailboxes = [mailbox(), mailbox()];
    const input = workspace([4], { mailboxes, campaigns: [campaign({ mailboxes: [0, 1] })] });
    input.recipients.units = [1, 3, 1, 2];
    input.recipients.boundMailbox = [-1, 1, -1, 1];
    input.recipients.notBefore[3] = dayNumber('2026-10-22');
    const [entry] = entriesOf(input);
    expect(entry).toMatchObject({ units: 7, begins: 0, bound: new Map([[1, 5]]) });
    expect([...entry!.available.subarray(0, 5)]).toEqual([5, 5, 5, 7, 7]);
  });

  it('has a way of its own where a daily limit is narrower than its share, and only there', () => {
    // Fifty a day, and half of that each: a limit of 10 binds, one of 40 does not.
    const limited = (dailyLimit: number) =>
      entriesOf(workspace([500, 500], { campaigns: [campaign({ dailyLimit }), campaign()] })).map(({ own }) => own);
    expect(limited(10)).toEqual([{ messages: 10, of: 'all mailboxes' }, null]);
    expect(limited(40)).toEqual([null, null]);
  });

  it('has a way of its own where many share a domain that takes few a day', () => {
    const input = workspace([200], { domainCap: 2 });
    input.recipients.domain = input.recipients.domain.map((d) => (d < 100 ? 0 : d));
    const found = entriesOf(input);
    expect(found.map(({ people, own }) => [people.length, own])).toEqual([
      [100, null],
      [100, { messages: 2, of: 'each mailbox' }],
    ]);
  });
});

describe('the mean offset', () => {
  it('is over all messages, those of more people counting more', () => {
    const steps = (...delays: number[]) => delays.map((delay) => ({ delay, tolerance: 0 }));
    expect(meanOffset([{ steps: steps(0, 3, 5), units: 10 }])).toBeCloseTo(11 / 3);
    expect(
      meanOffset([
        { steps: steps(0), units: 6 },
        { steps: steps(0, 6), units: 3 },
      ]),
    ).toBeCloseTo(18 / 12);
    expect(meanOffset([])).toBe(0);
  });
});
