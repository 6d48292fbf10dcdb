import type { Queryable } from '../store/database';
import { askForPlan } from '../store/workspace-rows';

/** Asks for a new plan, in which what need not move stays; the next duty makes it. */
export async function wantPlan(db: Queryable, nowMs: number): Promise<void> {
  await askForPlan(db, nowMs, false);
}

/** Asks for a plan made from scratch, as after a person's decision about quotas, campaigns or time. */
export async function wantFreshPlan(db: Queryable, nowMs: number): Promise<void> {
  await askForPlan(db, nowMs, true);
}
