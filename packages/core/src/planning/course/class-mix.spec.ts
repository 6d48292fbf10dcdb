import { describe, expect, it } from 'vitest';
import { entry } from '../../testing/entries';
import { mailbox, workspace } from '../../testing/plan-inputs';
import type { Entry } from './entries';
import { findGroups } from './groups';
import { forecastClassMix } from './class-mix';
import { PlanDays } from '../workspace/plan-days';

const days = new PlanDays(workspace([0], { mailboxes: [mailbox(), mailbox()], horizonDays: 20 }));
const each = (units: number) => new Float64Array(days.count).fill(units);
const waiting = (units: number, mailboxes: number[], over: Partial<Entry> = {}): Entry =>
  entry(days, units, mailboxes, over);
const LATER = [
  { delay: 0, tolerance: 0 },
  { delay: 3, tolerance: 1 },
];

/** The part of each class in each group, day by day, where each mailbox starts 100 a day and each entry is split so. */
function parts(entries: Entry[], units: number[][]): number[][][] {
  const groups = findGroups(entries, [each(100), each(100)]);
  const starts = groups.map((group) => each(100 * group.mailboxes.length));
  const classes = forecastClassMix(days, entries, groups, units, starts, 3);
  return classes.map((own) => own.map(({ part }) => [...part]));
}

describe('who is foreseen to start', () => {
  it('is divided by weight while all have the same mailboxes, to the last of one', () => {
    const shared = [waiting(600, [0, 1], { weight: 3 }), waiting(4000, [0, 1], { steps: LATER })];
    const [[a, b]] = parts(shared, [[600, 4000]]) as [[number[], number[]]];
    expect(a.slice(0, 6)).toEqual([0.75, 0.75, 0.75, 0.75, 0, 0]);
    expect(b.slice(0, 6)).toEqual([0.25, 0.25, 0.25, 0.25, 1, 1]);
  });

  it('is whoever has started least, counted over all mailboxes', () => {
    // The second mailbox is one entry's alone: as long as the other waits, the first is nearly the other's.
    const [alone, shared] = parts([waiting(800, [0]), waiting(4000, [0, 1], { steps: LATER })], [[2000], [800, 2000]]);
    expect(alone!.map((part) => part[0])).toEqual([1]);
    expect(shared![0]![0]).toBeGreaterThan(0.9);
    expect(shared![0]![12]).toBe(0);
  });

  it('joins where the others are, when it begins later', () => {
    const entries = [waiting(9000, [0, 1]), waiting(9000, [0, 1], { steps: LATER, begins: 5 })];
    const [[, late]] = parts(entries, [[9000, 9000]]) as [[number[], number[]]];
    expect(late.slice(0, 8)).toEqual([0, 0, 0, 0, 0, 0.5, 0.5, 0.5]);
  });

  it('is of few classes, of sequences much alike, where there are many', () => {
    const lasting = (delay: number) => [
      { delay: 0, tolerance: 0 },
      { delay, tolerance: 1 },
    ];
    const entries = [3, 9, 4, 8].map((delay) => waiting(1000, [0], { steps: lasting(delay) }));
    const groups = findGroups([...entries, waiting(10, [0])], [each(100)]);
    const [classes] = forecastClassMix(
      days,
      [...entries, waiting(10, [0])],
      groups,
      [[1000, 1000, 1000, 1000, 10]],
      null,
      3,
    );
    expect(classes!.map(({ entries: own }) => own)).toEqual([[0, 2], [1, 3], [4]]);
  });

  it('is of one class where all have the same sequence, whoever of them it is', () => {
    const classes = parts([waiting(50, [1]), waiting(900, [1], { weight: 2, begins: 3 })], [[50, 900]]);
    expect(classes).toEqual([[[...each(1)]]]);
  });
});
