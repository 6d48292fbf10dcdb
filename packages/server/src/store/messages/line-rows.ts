import type { LineDecision } from '@baton/core';
import { eq, sql } from 'drizzle-orm';
import type { Queryable } from '../database';
import { listRows, personalLines } from '../schema/schema';

/** What was decided of the personal lines of a list, by row. */
export async function readLines(db: Queryable, listId: number): Promise<Map<number, LineDecision>> {
  const rows = await db
    .select({ rowId: personalLines.listRowId, state: personalLines.state, line: personalLines.line })
    .from(personalLines)
    .innerJoin(listRows, eq(listRows.id, personalLines.listRowId))
    .where(eq(listRows.listId, listId));
  return new Map(rows.map(({ rowId, ...decision }) => [rowId, decision]));
}

export async function decideLine(tx: Queryable, rowId: number, decision: LineDecision, at: number): Promise<void> {
  await tx
    .insert(personalLines)
    .values({ listRowId: rowId, ...decision, at })
    .onConflictDoUpdate({
      target: personalLines.listRowId,
      set: { state: sql`excluded.state`, line: sql`excluded.line`, at },
    });
}

export async function forgetLine(tx: Queryable, rowId: number): Promise<void> {
  await tx.delete(personalLines).where(eq(personalLines.listRowId, rowId));
}
