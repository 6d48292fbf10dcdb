import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { brokenPromises } from '../testing/check-plan';
import { anyWorkspace, campaign, mailbox, workspace } from '../testing/plan-inputs';
import { dayNumber } from '../time/days';
import { workingCalendar } from '../time/working-calendar';
import { planSends } from './plan-sends';

const working = workingCalendar([1, 2, 3, 4, 5], []);

describe('planSends', () => {
  it('keeps every promise on workspaces of all kinds', () => {
    fc.assert(
      fc.property(anyWorkspace, (input) => {
        expect(brokenPromises(input, planSends(input))).toEqual([]);
      }),
      { numRuns: 150 },
    );
  }, 60_000);

  it('gives the same plan for the same input', () => {
    fc.assert(
      fc.property(anyWorkspace, (input) => {
        expect(planSends(input)).toEqual(planSends(structuredClone(input)));
      }),
      { numRuns: 20 },
    );
  });

  it('leaves room for follow-ups: none late, and far sooner than filling days greedily', () => {
    const steps = [
      { delay: 0, tolerance: 0 },
      { delay: 3, tolerance: 2 },
      { delay: 4, tolerance: 2 },
    ];
    const input = workspace([1500], {
      mailboxes: [mailbox({ capacity: { quota: 100 } })],
      campaigns: [campaign({ steps })],
    });
    const plan = planSends(input);
    expect(plan.notPlaced).toEqual([]);
    expect(plan.campaigns[0]?.late).toBe(0);
    const days = working.between(dayNumber('2026-10-18'), plan.campaigns[0]?.lastDay as number);
    expect(days).toBeLessThanOrEqual(45 * 1.25);
  });

  it('shares the starts of competing campaigns by weight', () => {
    const plan = planSends(workspace([300, 300], { campaigns: [campaign({ weight: 3 }), campaign({ weight: 1 })] }));
    const starts = plan.deliveries
      .filter((d) => d.step === 0)
      .slice(0, 200)
      .map((d) => (d.recipient < 300 ? 0 : 1));
    const first = starts.filter((c) => c === 0).length;
    expect(first / (200 - first)).toBeGreaterThan(2.4);
    expect(first / (200 - first)).toBeLessThan(3.6);
  });

  it('spreads a day over the whole window with uneven gaps', () => {
    const plan = planSends(workspace([40], { campaigns: [campaign({ steps: [{ delay: 0, tolerance: 0 }] })] }));
    const instants = plan.deliveries.map((d) => d.instant);
    const gaps = instants.slice(1).map((t, i) => t - (instants[i] as number));
    expect((instants.at(-1) as number) - (instants[0] as number)).toBeGreaterThan(7 * 3_600_000);
    expect(new Set(gaps.map((g) => Math.round(g / 1000))).size).toBeGreaterThan(20);
  });

  it.each([
    ['every mailbox is held', { mailboxes: [mailbox({ held: true })] }, 'every mailbox of the campaign is held'],
    ['the quota is 0', { mailboxes: [mailbox({ capacity: { quota: 0 } })] }, 'may send on any day'],
    [
      'hours never meet',
      {
        mailboxes: [mailbox({ windows: [[[540, 600]], [], [], [], [], [], []] })],
        campaigns: [campaign({ recipientWindow: { weekdays: [1], from: 900, to: 960 } })],
      },
      'never meet',
    ],
    ['the horizon is short', { horizonDays: 1 }, 'no room within 1 days'],
  ])('says why nobody can be placed when %s', (_, over, words) => {
    const plan = planSends(workspace([3], over));
    expect(plan.deliveries).toEqual([]);
    expect(plan.notPlaced).toHaveLength(3);
    expect(plan.notPlaced[0]?.reason).toContain(words);
  });

  it('takes nobody at all', () =>
    expect(planSends(workspace([0]))).toEqual({
      deliveries: [],
      notPlaced: [],
      campaigns: [{ firstDay: null, lastStartDay: null, lastDay: null, late: 0 }],
    }));
});
