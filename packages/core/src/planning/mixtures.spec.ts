import { describe, expect, it } from 'vitest';
import { mailbox, workspace } from '../testing/plan-inputs';
import { foreseeMixtures } from './mixtures';
import type { Pattern } from './patterns';
import { PlanDays } from './plan-days';

const days = new PlanDays(workspace([0], { mailboxes: [mailbox(), mailbox()], horizonDays: 20 }));
const each = (units: number) => new Float64Array(days.count).fill(units);

/** People who may start from a day on, in these mailboxes. */
const pattern = (units: number, mailboxes: number[], over: Partial<Pattern> = {}): Pattern => {
  const begins = over.begins ?? 0;
  const available = each(units).fill(0, 0, begins);
  const steps = [{ delay: 0, tolerance: 0 }];
  return { entries: [], mailboxes, steps, begins, weight: 1, units, available, own: null, ...over };
};
/** The part of each pattern in a mailbox, day by day, where each mailbox starts 100 a day. */
const parts = (patterns: Pattern[], m: number) =>
  foreseeMixtures(days, patterns, [each(100), each(100)], [each(100), each(100)])[m]!.part.map((part) => [...part]);

describe('who is foreseen to start', () => {
  it('is divided by weight while all have the same mailboxes, to the last of one', () => {
    const [a, b] = parts([pattern(600, [0, 1], { weight: 3 }), pattern(4000, [0, 1])], 0);
    expect(a!.slice(0, 6)).toEqual([0.75, 0.75, 0.75, 0.75, 0, 0]);
    expect(b!.slice(0, 6)).toEqual([0.25, 0.25, 0.25, 0.25, 1, 1]);
  });

  it('is whoever has started least, counted over all mailboxes', () => {
    // On the first day both get half of the first mailbox, and the second is the other's alone.
    const [bound] = parts([pattern(4000, [0]), pattern(4000, [0, 1])], 0);
    expect(bound!.slice(0, 4)).toEqual([0.5, 1, 1, 1]);
  });

  it('joins where the others are, when it begins later', () => {
    const [, late] = parts([pattern(9000, [0, 1]), pattern(9000, [0, 1], { begins: 5 })], 0);
    expect(late!.slice(0, 8)).toEqual([0, 0, 0, 0, 0, 0.5, 0.5, 0.5]);
  });

  it('is the one pattern where there is one', () => {
    expect(parts([pattern(50, [1])], 1)).toEqual([[...each(1)]]);
  });
});
