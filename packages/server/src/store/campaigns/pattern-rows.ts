import { and, asc, eq, isNull } from 'drizzle-orm';
import type { Queryable } from '../database';
import { campaignPatterns } from '../schema/schema';

export type PatternRow = typeof campaignPatterns.$inferSelect;

export const listPatterns = (db: Queryable): Promise<PatternRow[]> =>
  db.select().from(campaignPatterns).where(isNull(campaignPatterns.removedAt)).orderBy(asc(campaignPatterns.name));

export async function readPattern(db: Queryable, id: number): Promise<PatternRow | null> {
  const [row] = await db
    .select()
    .from(campaignPatterns)
    .where(and(eq(campaignPatterns.id, id), isNull(campaignPatterns.removedAt)));
  return row ?? null;
}

/** Keeps a pattern; one with the same name is replaced. */
export async function putPattern(
  tx: Queryable,
  pattern: Pick<PatternRow, 'name' | 'steps' | 'choices'>,
): Promise<void> {
  const { steps, choices } = pattern;
  await tx
    .insert(campaignPatterns)
    .values(pattern)
    .onConflictDoUpdate({ target: campaignPatterns.name, set: { steps, choices, removedAt: null } });
}

/** @param at when it was deleted; null brings it back @returns whether there is such a pattern */
export async function setPatternRemoved(tx: Queryable, id: number, at: number | null): Promise<boolean> {
  const { rowCount } = await tx.update(campaignPatterns).set({ removedAt: at }).where(eq(campaignPatterns.id, id));
  return (rowCount ?? 0) > 0;
}
