import { describe, expect, it } from 'vitest';
import { entry } from '../../testing/entries';
import { workspace } from '../../testing/plan-inputs';
import { findGroups, mergeGroups } from './groups';
import { PlanDays } from '../workspace/plan-days';

const days = new PlanDays(workspace([0], { horizonDays: 5 }));
const each = (units: number) => new Float64Array(days.count).fill(units);
const names = (groups: { mailboxes: number[] }[]) => groups.map(({ mailboxes }) => mailboxes);

describe('groups of mailboxes', () => {
  it('hold those that the same entries may use; where people are bound, one each', () => {
    const bound = new Map([[3, 5]]);
    const groups = findGroups(
      [entry(days, 50, [0, 1, 3, 4], { bound }), entry(days, 50, [1, 2])],
      Array(5).fill(each(9)),
    );
    expect(names(groups)).toEqual([[0, 4], [2], [3], [1]]);
    expect(groups[0]!.capacity[0]).toBe(18);
  });

  it('leave out a mailbox of somebody who is bound elsewhere, and one that takes nothing', () => {
    const all = entry(days, 50, [0, 1], { bound: new Map([[1, 50]]) });
    expect(names(findGroups([all], [each(9), each(9)]))).toEqual([[1]]);
    expect(findGroups([entry(days, 50, [0])], [each(0)])).toEqual([]);
  });

  it('are merged by their ends, those of the same entries, to as few as are wanted', () => {
    const bound = new Map([0, 1, 2, 3].map((m) => [m, 5]));
    const groups = findGroups([entry(days, 50, [0, 1, 2, 3], { bound }), entry(days, 9, [4])], Array(5).fill(each(9)));
    const ends = groups.map(({ mailboxes: [m] }) => [7, 3, 8, 2, 5][m!]!);
    const merged = mergeGroups(groups, ends, 4).map(({ group }) => group);
    expect(names(merged)).toEqual([[3, 1], [0, 2], [4]]);
  });

  it('are merged whoever may use them where there are far too many sets', () => {
    const entries = [0, 1, 2, 3].map((m) => entry(days, 50, [m]));
    const groups = findGroups(entries, Array(4).fill(each(9)));
    const [merged, ...others] = mergeGroups(groups, [4, 3, 2, 1], 1);
    expect(others).toEqual([]);
    expect(merged!.group.entries).toEqual([0, 1, 2, 3]);
    expect(names(mergeGroups(groups, [4, 3, 2, 1], 2).map(({ group }) => group))).toHaveLength(4);
  });
});
