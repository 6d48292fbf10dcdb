import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { brokenPromises } from '../../testing/check-plan';
import { anyWorkspace, campaign, mailbox, workspace } from '../../testing/plan-inputs';
import { isoDate } from '../../time/days';
import { planSends } from '../plan-sends';
import type { DeliveryColumns, Plan, PlanInput } from '../workspace/plan-input';

/** Messages of a plan as text, by person and step. */
const messagesOf = (plan: Plan) =>
  new Map(plan.deliveries.map((d) => [`${d.recipient}/${d.step}`, `${d.mailbox} ${d.day} ${d.instant}`]));

/** How many messages of the new plan are not where they were. */
function moved(before: Plan, after: Plan): number {
  const old = messagesOf(before);
  return [...messagesOf(after)].filter(([key, at]) => old.has(key) && old.get(key) !== at).length;
}

/** The plan without somebody's messages, as it is when they have answered. */
function without({ columns }: Plan, person: number): DeliveryColumns {
  const kept = [...columns.recipient.keys()].filter((k) => columns.recipient[k] !== person);
  return {
    recipient: Int32Array.from(kept, (k) => columns.recipient[k]!),
    step: Int32Array.from(kept, (k) => columns.step[k]!),
    mailbox: Int32Array.from(kept, (k) => columns.mailbox[k]!),
    day: Int32Array.from(kept, (k) => columns.day[k]!),
    instant: Float64Array.from(kept, (k) => columns.instant[k]!),
  };
}

/** A workspace after something has happened to one of its mailboxes and to its people. */
const changed = (input: PlanInput): fc.Arbitrary<PlanInput> =>
  fc
    .record({
      which: fc.nat({ max: input.mailboxes.length - 1 }),
      rest: fc.option(fc.integer({ min: 0, max: 9 })),
      quota: fc.option(fc.integer({ min: 0, max: 40 })),
      pace: fc.option(fc.constantFrom(30, 300, 1200)),
      later: fc.integer({ min: 0, max: 3000 }),
      limit: fc.option(fc.integer({ min: 1, max: 20 })),
    })
    .map(({ which, rest, quota, pace, later, limit }) => ({
      ...input,
      now: input.now + later * 60_000,
      mailboxes: input.mailboxes.map((m, i) =>
        i === which
          ? {
              ...m,
              ...(rest === null ? {} : { restUntil: isoDate(Math.floor(input.now / 86_400_000) + rest) }),
              ...(quota === null ? {} : { capacity: { quota } }),
              ...(pace === null ? {} : { paceSeconds: pace }),
              ...(limit === null ? {} : { providerLimit24h: limit }),
            }
          : m,
      ),
    }));

const three = [
  { delay: 0, tolerance: 0 },
  { delay: 3, tolerance: 2 },
  { delay: 4, tolerance: 2 },
];
const fourMailboxes = (people: number) =>
  workspace([people], {
    mailboxes: [0, 1, 2, 3].map(() => mailbox({ capacity: { quota: 40 } })),
    campaigns: [campaign({ steps: three, mailboxes: [0, 1, 2, 3] })],
  });

describe('a plan made from an earlier one', () => {
  it('keeps every promise, whatever has changed since', () => {
    fc.assert(
      fc.property(
        anyWorkspace.chain((input) => fc.tuple(fc.constant(input), changed(input))),
        ([input, now]) => {
          const earlier = planSends(input, 'quick');
          expect(brokenPromises(now, planSends(now, 'quick', earlier.columns))).toEqual([]);
        },
      ),
      { numRuns: 120 },
    );
  }, 60_000);

  it('places whoever the earlier one placed, as long as nothing has changed', () => {
    fc.assert(
      fc.property(anyWorkspace, (input) => {
        const before = planSends(input, 'quick');
        const after = planSends(input, 'quick', before.columns);
        expect(after.notPlaced.length).toBeLessThanOrEqual(before.notPlaced.length);
        // Only starts that can be earlier, and what follows them, may move.
        expect(moved(before, after)).toBeLessThanOrEqual(Math.max(6, 0.1 * before.columns.recipient.length));
      }),
      { numRuns: 60 },
    );
  }, 60_000);

  it('moves next to nothing when one person has answered', () => {
    const input = fourMailboxes(2000);
    const before = planSends(input, 'full');
    const answered = { ...input, recipients: { ...input.recipients, nextStep: input.recipients.nextStep.slice() } };
    answered.recipients.nextStep[700] = 3;
    const after = planSends(answered, 'quick', without(before, 700));
    expect(after.deliveries.some((d) => d.recipient === 700)).toBe(false);
    // One of the last starters may take the room of the one who answered, with their three messages.
    expect(moved(before, after)).toBeLessThanOrEqual(12);
    expect(after.columns.recipient).toHaveLength(3 * 1999);
  });

  it('moves only what a resting mailbox cannot send', () => {
    const input = fourMailboxes(600);
    const before = planSends(input, 'full');
    const resting = { ...input, mailboxes: input.mailboxes.slice() };
    resting.mailboxes[2] = { ...resting.mailboxes[2]!, restUntil: '2026-10-23' };
    const after = planSends(resting, 'quick', before.columns);
    expect(brokenPromises(resting, after)).toEqual([]);
    const old = messagesOf(before);
    const stays = before.deliveries.filter((d) => d.mailbox !== 2);
    const now = messagesOf(after);
    const gone = stays.filter((d) => now.get(`${d.recipient}/${d.step}`) !== old.get(`${d.recipient}/${d.step}`));
    expect(gone.length).toBeLessThan(0.05 * stays.length);
    const inTheRest = before.deliveries.filter((d) => d.mailbox === 2 && d.step === 0 && isoDate(d.day) < '2026-10-23');
    expect(inTheRest.length).toBeGreaterThan(20);
    for (const d of inTheRest) expect(now.get(`${d.recipient}/0`)).not.toBe(old.get(`${d.recipient}/0`));
  });

  it('puts the follow-ups of people in progress before starts that were there first', () => {
    const input = workspace([40], { mailboxes: [mailbox({ capacity: { quota: 10 } })] });
    const before = planSends(input, 'quick');
    const today = before.columns.day[0]!;
    // Ten others have been due since Thursday, with two days of tolerance, and Monday is full of starts.
    for (let p = 30; p < 40; p++) {
      input.recipients.nextStep[p] = 1;
      input.recipients.boundMailbox[p] = 0;
      input.recipients.dueDay[p] = today - 4;
    }
    const after = planSends(input, 'quick', without(before, -1));
    const onTime = after.deliveries.filter((d) => d.recipient >= 30 && d.day === today);
    expect(onTime).toHaveLength(10);
  });

  it('moves a message to the day that is asked for, and those after it with it, or leaves it', () => {
    const input = workspace([30], {
      mailboxes: [mailbox({ capacity: { quota: 12 } })],
      campaigns: [campaign({ steps: three })],
    });
    const before = planSends(input, 'quick');
    const [first] = before.deliveries;
    const recipient = first!.recipient;
    const asked = (day: number) => planSends(input, 'quick', { ...before.columns, move: { recipient, step: 0, day } });
    const later = asked(first!.day + 3);
    expect(later.deliveries.find((d) => d.recipient === recipient && d.step === 0)?.day).toBe(first!.day + 3);
    expect(brokenPromises(input, later)).toEqual([]);
    expect(moved(before, later)).toBeLessThanOrEqual(9);
    // A Sunday: it stays.
    expect(messagesOf(asked(first!.day + 6)).get(`${recipient}/0`)).toBe(messagesOf(before).get(`${recipient}/0`));
  });

  it('keeps the instants of a day that gets one message more', () => {
    const input = workspace([11], { campaigns: [campaign({ steps: [{ delay: 0, tolerance: 0 }] })] });
    const before = planSends(input, 'quick');
    const after = planSends(input, 'quick', without(before, 4));
    expect(moved(before, after)).toBeLessThanOrEqual(1);
    expect(after.deliveries).toHaveLength(11);
  });
});
