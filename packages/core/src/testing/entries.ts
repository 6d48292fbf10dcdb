import type { Entry } from '../planning/course/entries';
import type { PlanDays } from '../planning/workspace/plan-days';

/** People who may start from a day on, in these mailboxes, one message each. */
export function entry(days: PlanDays, units: number, mailboxes: number[], over: Partial<Entry> = {}): Entry {
  const begins = over.begins ?? 0;
  const available = new Float64Array(days.count).fill(units).fill(0, 0, begins);
  const steps = [{ delay: 0, tolerance: 0 }];
  const who = { campaign: 0, people: [], weight: 1, bound: new Map<number, number>(), own: null };
  return { ...who, steps, mailboxes, begins, units, available, ...over };
}
