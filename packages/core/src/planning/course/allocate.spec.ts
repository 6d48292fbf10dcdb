import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { entry } from '../../testing/entries';
import { workspace } from '../../testing/plan-inputs';
import { allocate, dayTaken } from './allocate';
import type { Entry } from './entries';
import { findGroups, type Group } from './groups';
import { PlanDays } from '../workspace/plan-days';

/** Every day is a working day here. */
const days = new PlanDays(
  workspace([0], { horizonDays: 400, calendar: { weekdays: [1, 2, 3, 4, 5, 6, 7], holidays: [] } }),
);
const flat = (units: number) => new Float64Array(days.count).fill(units);

/** The units of each entry in each mailbox, where those of a group are named by its first. */
function shares(entries: Entry[], capacity: number[]): { groups: Group[]; of: (e: number, m: number) => number } {
  const groups = findGroups(entries, capacity.map(flat));
  const units = allocate(
    days,
    entries,
    groups,
    groups.map(() => 0),
  );
  const of = (e: number, m: number) => {
    const g = groups.findIndex((group) => group.mailboxes[0] === m);
    return units[g]?.[groups[g]!.entries.indexOf(e)] ?? 0;
  };
  return { groups, of };
}

describe('who goes through which mailboxes', () => {
  it('leaves to the others what these alone can use', () => {
    // Together they take 1,500 of each of the first two; the third is for the small one, who needs no other.
    const { of } = shares([entry(days, 3000, [0, 1]), entry(days, 1000, [1, 2])], [100, 100, 100]);
    expect(of(0, 0)).toBeCloseTo(1500, 0);
    expect(of(0, 1)).toBeCloseTo(1500, 0);
    expect(of(1, 2)).toBeCloseTo(1000, 0);
  });

  it('keeps those who are bound to a mailbox in it, and the others out of it where it is full', () => {
    const entries = [entry(days, 1000, [0, 1], { bound: new Map([[0, 600]]) })];
    const { of } = shares(entries, [100, 100]);
    expect(of(0, 0)).toBeCloseTo(600, 0);
    expect(of(0, 1)).toBeCloseTo(400, 0);
    const few = shares([entry(days, 1000, [0, 1], { bound: new Map([[0, 100]]) })], [100, 100]);
    expect(few.of(0, 0)).toBeCloseTo(500, 0);
  });

  it('lets one use what stands empty until another begins', () => {
    // For ten days both mailboxes are the first one's; then the second needs its own, and the first has enough with the other.
    const late = entry(days, 2000, [1], { begins: 10 });
    const { of } = shares([entry(days, 3000, [0, 1]), late], [100, 100]);
    expect(of(1, 1)).toBe(2000);
    expect(of(0, 1)).toBeCloseTo(1000, 0);
    expect(of(0, 0)).toBeCloseTo(2000, 0);
  });

  it('is over as soon as the narrowest set of them and its mailboxes allow', () => {
    const any = fc.record({
      units: fc.integer({ min: 10, max: 900 }),
      steps: fc.integer({ min: 1, max: 3 }),
      mailboxes: fc.uniqueArray(fc.integer({ min: 0, max: 3 }), { minLength: 1 }),
      weight: fc.integer({ min: 1, max: 4 }),
    });
    const capacities = fc.array(fc.integer({ min: 20, max: 90 }), { minLength: 4, maxLength: 4 });
    fc.assert(
      fc.property(fc.array(any, { minLength: 1, maxLength: 4 }), capacities, (list, capacity) => {
        const entries = list.map(({ units, steps, mailboxes, weight }) =>
          entry(days, units, mailboxes, {
            weight,
            steps: Array.from({ length: steps }, () => ({ delay: 0, tolerance: 9 })),
          }),
        );
        const { groups } = shares(entries, capacity);
        const found = allocate(
          days,
          entries,
          groups,
          groups.map(() => 0),
        );
        // Everybody goes somewhere.
        entries.forEach(({ units }, e) => {
          const sum = groups.reduce((all, { entries: own }, g) => all + (found[g]![own.indexOf(e)] ?? 0), 0);
          expect(sum).toBeCloseTo(units, 3);
        });
        const ends = groups.map((group, g) =>
          dayTaken(
            days,
            group,
            group.entries.reduce((sum, e, at) => sum + found[g]![at]! * entries[e]!.steps.length, 0),
          ),
        );
        // Hall's condition: a set of entries takes as long as its mailboxes need for all its messages.
        let least = 0;
        for (let set = 1; set < 1 << entries.length; set++) {
          const own = entries.filter((_, e) => set & (1 << e));
          const work = own.reduce((sum, { units, steps }) => sum + units * steps.length, 0);
          const eligible = new Set(own.flatMap(({ mailboxes }) => mailboxes));
          least = Math.max(least, work / [...eligible].reduce((sum, m) => sum + capacity[m]!, 0));
        }
        expect(Math.max(...ends)).toBeLessThanOrEqual(least + 1.01);
        expect(Math.max(...ends)).toBeGreaterThan(least - 0.01);
      }),
    );
  });
});
