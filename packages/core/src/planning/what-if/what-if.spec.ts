import { describe, expect, it } from 'vitest';
import { campaign, mailbox, workspace } from '../../testing/plan-inputs';
import { dayNumber } from '../../time/days';
import { ceilingsOf } from '../workspace/ceilings';
import { planSends } from '../plan-sends';
import { applyChanges, changeKey, faultOfChange, withChange } from './changes';
import type { PlanChange } from './kinds';

const ids = { mailboxes: [11, 12], campaigns: [21] };
const input = () => {
  const made = workspace([60], {
    mailboxes: [mailbox({ capacity: { quota: 10 } }), mailbox({ capacity: { quota: 10 } })],
    campaigns: [campaign({ mailboxes: [0] })],
  });
  made.recipients.nextStep[5] = 1;
  made.recipients.boundMailbox[5] = 0;
  made.recipients.dueDay[5] = dayNumber('2026-10-22');
  return made;
};
const lastDay = (changes: PlanChange[]) => planSends(applyChanges(input(), ids, changes)).campaigns[0]?.lastDay ?? 0;

describe('what if', () => {
  it('ends earlier with more quota or one more mailbox, later with less, and leaves the input as it is', () => {
    const before = input();
    const copy = structuredClone(before);
    applyChanges(before, ids, [
      { kind: 'quota', mailbox: 11, to: 3 },
      { kind: 'spacing', campaign: 21, step: 1, to: 9 },
      { kind: 'use', campaign: 21, mailbox: 12, to: true },
    ]);
    expect(before).toEqual(copy);
    const now = lastDay([]);
    expect(lastDay([{ kind: 'quota', mailbox: 11, to: 30 }])).toBeLessThan(now);
    expect(lastDay([{ kind: 'use', campaign: 21, mailbox: 12, to: true }])).toBeLessThan(now);
    expect(lastDay([{ kind: 'quota', mailbox: 11, to: 5 }])).toBeGreaterThan(now);
    expect(lastDay([{ kind: 'limit', campaign: 21, to: 2 }])).toBeGreaterThan(now);
    expect(lastDay([{ kind: 'start', campaign: 21, to: '2026-11-02' }])).toBeGreaterThan(now);
  });

  it('takes a campaign’s first hour along when its start is moved, either way', () => {
    const at = Date.UTC(2026, 9, 26, 14);
    const hours = workspace([5], { campaigns: [campaign({ startDate: '2026-10-26', startInstant: at })] });
    const firstOf = (to: string) =>
      Math.min(
        ...planSends(
          applyChanges(hours, { mailboxes: [11], campaigns: [21] }, [{ kind: 'start', campaign: 21, to }]),
        ).deliveries.map((d) => d.instant),
      );
    for (const day of [20, 28]) {
      const first = firstOf(`2026-10-${day}`);
      expect(first).toBeGreaterThanOrEqual(Date.UTC(2026, 9, day, 14));
      expect(first).toBeLessThan(Date.UTC(2026, 9, day, 17));
    }
  });

  it('lets a campaign that shares its mailbox start sooner for a larger share, and the other later', () => {
    const shared = workspace([80, 80], { campaigns: [campaign(), campaign()] });
    const lastStarts = (share: number) =>
      planSends(
        applyChanges(shared, { mailboxes: [11], campaigns: [21, 22] }, [{ kind: 'share', campaign: 22, to: share }]),
      ).campaigns.map((c) => c.lastStartDay!);
    const [first, second] = lastStarts(4) as [number, number];
    expect(second).toBeLessThan(first);
    expect(second).toBeLessThanOrEqual(lastStarts(1)[1]!);
  });

  it('gives hours and pace to the mailbox that is meant', () => {
    const changed = applyChanges(input(), ids, [
      { kind: 'window', mailbox: 12, to: [600, 660] },
      { kind: 'pace', mailbox: 12, to: 600 },
    ]);
    expect(changed.mailboxes[1]?.windows).toEqual([
      [[600, 660]],
      [[600, 660]],
      [[600, 660]],
      [[600, 660]],
      [[600, 660]],
      [],
      [],
    ]);
    expect([changed.mailboxes[0]?.paceSeconds, changed.mailboxes[1]?.paceSeconds]).toEqual([60, 600]);
  });

  it('lets people in progress wait as many working days more or less', () => {
    const later = applyChanges(input(), ids, [{ kind: 'spacing', campaign: 21, step: 1, to: 5 }]);
    expect(later.recipients.dueDay[5]).toBe(dayNumber('2026-10-26'));
    const sooner = applyChanges(input(), ids, [{ kind: 'spacing', campaign: 21, step: 1, to: 1 }]);
    expect(sooner.recipients.dueDay[5]).toBe(dayNumber('2026-10-20'));
    expect(later.recipients.dueDay[6]).toBe(-1);
    // Whoever is away until their follow-up is due waits for that day as before.
    const away = input();
    away.recipients.notBefore[5] = away.recipients.dueDay[5]!;
    const same = applyChanges(away, ids, [{ kind: 'spacing', campaign: 21, step: 1, to: 5 }]);
    expect(same.recipients.dueDay[5]).toBe(away.recipients.dueDay[5]);
  });

  it('changes nothing for what is not in the plan', () => {
    const changes: PlanChange[] = [
      { kind: 'quota', mailbox: 99, to: 1 },
      { kind: 'start', campaign: 99, to: '2026-12-01' },
      { kind: 'use', campaign: 21, mailbox: 99, to: true },
      { kind: 'spacing', campaign: 21, step: 7, to: 2 },
    ];
    expect(applyChanges(input(), ids, changes)).toEqual(input());
  });

  it('keeps one change of each thing', () => {
    const one = withChange([], { kind: 'quota', mailbox: 11, to: 3 });
    const two = withChange(one, { kind: 'quota', mailbox: 12, to: 4 });
    expect(withChange(two, { kind: 'quota', mailbox: 11, to: 9 })).toEqual([
      { kind: 'quota', mailbox: 11, to: 9 },
      { kind: 'quota', mailbox: 12, to: 4 },
    ]);
    expect(changeKey({ kind: 'spacing', campaign: 1, step: 2, to: 3 })).not.toBe(
      changeKey({ kind: 'spacing', campaign: 1, step: 1, to: 3 }),
    );
  });

  it.each<[PlanChange, string]>([
    [{ kind: 'quota', mailbox: 1, to: -1 }, 'whole number'],
    [{ kind: 'quota', mailbox: 1, to: NaN }, 'whole number'],
    [{ kind: 'pace', mailbox: 1, to: 1e6 }, 'seconds'],
    [{ kind: 'window', mailbox: 1, to: [900, 600] }, 'ends after it begins'],
    [{ kind: 'start', campaign: 1, to: '2026-10-01' }, 'from today on'],
    [{ kind: 'start', campaign: 1, to: 'soon' }, 'from today on'],
    [{ kind: 'spacing', campaign: 1, step: 1, to: 0 }, 'working days'],
    [{ kind: 'limit', campaign: 1, to: 0 }, 'at least 1'],
    [{ kind: 'share', campaign: 1, to: 0 }, 'from 1 to 9'],
    [{ kind: 'share', campaign: 1, to: 2.5 }, 'from 1 to 9'],
    [{ kind: 'replies', to: 1.2 }, '0 to 100'],
  ])('says what is wrong with %j', (change, words) => {
    expect(faultOfChange(change, '2026-10-19')).toContain(words);
  });

  it('knows what each mailbox may on each day, and when it is closed', () => {
    const { base, units } = ceilingsOf(
      workspace([1], {
        mailboxes: [
          mailbox({ capacity: { quota: 20, ramp: { day: dayNumber('2026-10-19'), first: 4, add: 2, every: 1 } } }),
        ],
      }),
    );
    expect(base).toBe(dayNumber('2026-10-19'));
    expect([...(units[0] ?? [])].slice(0, 8)).toEqual([4, 6, 8, 10, 12, -1, -1, 14]);
  });
});
