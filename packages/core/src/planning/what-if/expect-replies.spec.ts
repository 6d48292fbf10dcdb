import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { brokenPromises } from '../../testing/check-plan';
import { anyWorkspace, campaign, mailbox, workspace } from '../../testing/plan-inputs';
import { expectReplies } from './expect-replies';
import { planSends } from '../plan-sends';

const three = [
  { delay: 0, tolerance: 0 },
  { delay: 3, tolerance: 2 },
  { delay: 4, tolerance: 2 },
];

describe('expectReplies', () => {
  it('without any answers is the same work', () => {
    const input = workspace([40, 20], { campaigns: [campaign({ steps: three }), campaign()] });
    const expected = expectReplies(input, () => 0);
    expect(expected.madeFrom).toEqual([0, 1]);
    expect(planSends(expected.input)).toEqual(planSends(input));
  });

  it('drops what people who answer would have got, as many as the rate says', () => {
    const input = workspace([2000], {
      mailboxes: [mailbox({ capacity: { quota: 200 } })],
      campaigns: [campaign({ steps: three })],
    });
    const messages = (rate: number) => {
      const { input: fewer } = expectReplies(input, () => rate);
      return planSends(fewer, 'quick').columns.recipient.length;
    };
    expect(messages(1)).toBe(2000);
    // 1 + 0.8 + 0.64 messages each.
    expect(messages(0.2) / 2000).toBeGreaterThan(2.36);
    expect(messages(0.2) / 2000).toBeLessThan(2.52);
  });

  it('takes answers to what has been sent already, and shares weight and limit', () => {
    const input = workspace([100], { campaigns: [campaign({ steps: three, weight: 2, dailyLimit: 20 })] });
    input.recipients.nextStep.fill(1, 0, 50);
    input.recipients.boundMailbox.fill(0, 0, 50);
    input.recipients.dueDay.fill(20747, 0, 50);
    const { input: all } = expectReplies(input, () => 1);
    // Those in progress have answered the first message; the others answer it when they get it.
    expect(all.recipients.count).toBe(50);
    const { input: some, madeFrom } = expectReplies(input, () => 0.3);
    expect(new Set(madeFrom)).toEqual(new Set([0]));
    expect(some.campaigns.reduce((sum, c) => sum + c.weight, 0)).toBeCloseTo(2);
    expect(some.campaigns.every((c) => (c.dailyLimit ?? 0) < 20)).toBe(true);
  });

  it('makes work whose plans keep every promise', () => {
    fc.assert(
      fc.property(anyWorkspace, fc.double({ min: 0, max: 1, noNaN: true }), (input, rate) => {
        const expected = expectReplies(input, () => rate).input;
        expect(brokenPromises(expected, planSends(expected, 'quick'))).toEqual([]);
      }),
      { numRuns: 40 },
    );
  }, 60_000);
});
