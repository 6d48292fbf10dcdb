import { describe, expect, it } from 'vitest';
import { campaign, mailbox, workspace } from '../../testing/plan-inputs';
import { daysNeeded } from './days-needed';

describe('how far ahead a plan looks', () => {
  const mailboxes = [10, 90, 90].map((quota) => mailbox({ capacity: { quota } }));
  const needed = (people: number[], own: number[][]) =>
    daysNeeded(workspace(people, { mailboxes, campaigns: own.map((m) => campaign({ mailboxes: m })) }));

  it('is as long as the mailboxes that a campaign may use take, not all there are', () => {
    // 200 people by 2 messages, and half as many again: 60 weekdays of 10 from a Monday on; or 4 of 190, and 5 of delay.
    expect(needed([200], [[0]]) - needed([200], [[0, 1, 2]])).toBe(82 - 5);
  });

  it('sees that campaigns crowd into the same mailboxes', () => {
    expect(needed([100, 100], [[0], [0]])).toBe(needed([200], [[0]]));
    expect(needed([100, 100], [[0], [0, 1]])).toBe(needed([100], [[0]]));
  });

  it('counts those who are bound to a mailbox with it', () => {
    const input = workspace([200], { mailboxes, campaigns: [campaign({ mailboxes: [0, 1, 2] })] });
    const free = daysNeeded(input);
    input.recipients.boundMailbox = new Array<number>(200).fill(0);
    expect(daysNeeded({ ...input, campaigns: [campaign({ mailboxes: [0] })] }) - free).toBe(82 - 5);
  });

  it('does not wait for mailboxes that never send, nor for campaigns that are held', () => {
    const little = needed([10], [[1, 2]]);
    const shut = [mailbox({ capacity: { quota: 0 } }), ...mailboxes.slice(1)];
    const campaigns = [campaign({ mailboxes: [1, 2] }), campaign({ mailboxes: [0] })];
    expect(daysNeeded(workspace([10, 500], { mailboxes: shut, campaigns }))).toBeLessThan(little + 20);
    const held = [campaigns[0]!, campaign({ mailboxes: [0], held: true })];
    expect(daysNeeded(workspace([10, 500], { mailboxes, campaigns: held }))).toBeLessThan(little + 20);
  });
});
