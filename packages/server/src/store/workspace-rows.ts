import { and, eq, sql } from 'drizzle-orm';
import type { Queryable } from './database';
import { clock, workspace } from './schema/schema';

export type WorkspaceRow = typeof workspace.$inferSelect;
export type ClockRow = typeof clock.$inferSelect;

/** Makes the one workspace and its clock where they are missing. */
export async function ensureWorkspace(
  db: Queryable,
  first: { workspace: Omit<typeof workspace.$inferInsert, 'id'>; clock: Omit<typeof clock.$inferInsert, 'id'> },
): Promise<void> {
  await db
    .insert(workspace)
    .values({ ...first.workspace, id: 1 })
    .onConflictDoNothing();
  await db
    .insert(clock)
    .values({ ...first.clock, id: 1 })
    .onConflictDoNothing();
}

/** The name of a workspace that nobody has named yet. */
export const UNNAMED = 'My workspace';

/** What there is of all that a first campaign needs. */
export async function readBeginnings(db: Queryable): Promise<{
  isNamed: boolean;
  hasMailbox: boolean;
  hasPeople: boolean;
  hasMessage: boolean;
  hasStarted: boolean;
}> {
  const { rows } = await db.execute(sql`
    select name <> ${UNNAMED} and postal_address <> '' as "isNamed",
      exists (select from mailboxes) as "hasMailbox",
      exists (select from lists where removed_at is null) as "hasPeople",
      exists (select from messages) as "hasMessage",
      exists (select from campaigns where state <> 'draft') as "hasStarted"
    from workspace where id = 1`);
  return rows[0] as unknown as Awaited<ReturnType<typeof readBeginnings>>;
}

export async function readWorkspace(db: Queryable): Promise<WorkspaceRow> {
  const [row] = await db.select().from(workspace).where(eq(workspace.id, 1));
  if (!row) throw new Error('the workspace row is missing');
  return row;
}

export async function updateWorkspace(db: Queryable, change: Partial<WorkspaceRow>): Promise<void> {
  await db.update(workspace).set(change).where(eq(workspace.id, 1));
}

export async function readClock(db: Queryable): Promise<ClockRow> {
  const [row] = await db.select().from(clock).where(eq(clock.id, 1));
  if (!row) throw new Error('the clock row is missing');
  return row;
}

export async function updateClock(db: Queryable, change: Partial<ClockRow>): Promise<void> {
  await db.update(clock).set(change).where(eq(clock.id, 1));
}

/** Notes that a new plan is wanted. */
export async function askForPlan(db: Queryable, nowMs: number, isFresh: boolean): Promise<void> {
  await db
    .update(workspace)
    .set({
      planWantedAt: nowMs,
      planAsked: sql`${workspace.planAsked} + 1`,
      ...(isFresh ? { planFresh: true } : {}),
    })
    .where(eq(workspace.id, 1));
}

/** Notes that the plan was made that was asked for, unless another has been since. @returns whether that was so */
export async function planMade(tx: Queryable, asked: number): Promise<boolean> {
  const made = await tx
    .update(workspace)
    .set({ planWantedAt: null, planFresh: false })
    .where(and(eq(workspace.id, 1), eq(workspace.planAsked, asked)))
    .returning({ id: workspace.id });
  return made.length > 0;
}
