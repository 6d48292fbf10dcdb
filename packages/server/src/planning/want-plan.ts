import type { Queryable } from '../store/database';
import { updateWorkspace } from '../store/workspace-rows';

/** Asks for a new plan, in which what need not move stays; the next duty makes it. */
export async function wantPlan(db: Queryable, nowMs: number): Promise<void> {
  await updateWorkspace(db, { planWantedAt: nowMs });
}

/** Asks for a plan made from scratch, as after a person's decision about quotas, campaigns or time. */
export async function wantFreshPlan(db: Queryable, nowMs: number): Promise<void> {
  await updateWorkspace(db, { planWantedAt: nowMs, planFresh: true });
}
