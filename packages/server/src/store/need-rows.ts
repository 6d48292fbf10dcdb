import { eq, gt, lte } from 'drizzle-orm';
import type { Queryable } from './database';
import { needsPutOff } from './schema/schema';

export type NeedPutOff = typeof needsPutOff.$inferSelect;

/** What was put off until after a day. */
export const listPutOff = (db: Queryable, day: string): Promise<NeedPutOff[]> =>
  db.select().from(needsPutOff).where(gt(needsPutOff.until, day));

/** Puts a need off until a day; what has come back by today is forgotten. */
export async function putOff(tx: Queryable, need: NeedPutOff, today: string): Promise<void> {
  await tx.delete(needsPutOff).where(lte(needsPutOff.until, today));
  await tx
    .insert(needsPutOff)
    .values(need)
    .onConflictDoUpdate({ target: needsPutOff.key, set: { until: need.until } });
}

export async function bringBack(tx: Queryable, key: string): Promise<void> {
  await tx.delete(needsPutOff).where(eq(needsPutOff.key, key));
}
