import { and, asc, count, eq, isNull, lt, notExists, or } from 'drizzle-orm';
import type { Queryable } from '../database';
import { grants, mailboxes, signInProviders } from '../schema/schema';

export type ProviderRow = typeof signInProviders.$inferSelect;
type GrantRow = typeof grants.$inferSelect;
export interface GrantWithProvider {
  grant: GrantRow;
  provider: ProviderRow;
}

/** Every provider, with how many mailboxes sign in there. */
export async function listProviders(db: Queryable): Promise<(ProviderRow & { mailboxes: number })[]> {
  const rows = await db
    .select({ provider: signInProviders, mailboxes: count(mailboxes.id) })
    .from(signInProviders)
    .leftJoin(grants, eq(grants.providerId, signInProviders.id))
    .leftJoin(mailboxes, eq(mailboxes.grantId, grants.id))
    .groupBy(signInProviders.id)
    .orderBy(asc(signInProviders.id));
  return rows.map(({ provider, ...of }) => ({ ...provider, ...of }));
}

export async function readProvider(db: Queryable, id: number): Promise<ProviderRow | null> {
  const [row] = await db.select().from(signInProviders).where(eq(signInProviders.id, id));
  return row ?? null;
}

export async function addProvider(db: Queryable, row: typeof signInProviders.$inferInsert): Promise<number> {
  const [added] = await db.insert(signInProviders).values(row).returning({ id: signInProviders.id });
  return (added as { id: number }).id;
}

export async function updateProvider(
  db: Queryable,
  id: number,
  change: Partial<typeof signInProviders.$inferInsert>,
): Promise<void> {
  await db.update(signInProviders).set(change).where(eq(signInProviders.id, id));
}

/** @returns false where mailboxes sign in there */
export async function removeProvider(db: Queryable, id: number): Promise<boolean> {
  const used = await db
    .select({ id: mailboxes.id })
    .from(mailboxes)
    .innerJoin(grants, eq(grants.id, mailboxes.grantId))
    .where(eq(grants.providerId, id))
    .limit(1);
  if (used.length > 0) return false;
  await db.delete(grants).where(eq(grants.providerId, id));
  await db.delete(signInProviders).where(eq(signInProviders.id, id));
  return true;
}

const withProvider = (db: Queryable) =>
  db
    .select({ grant: grants, provider: signInProviders })
    .from(grants)
    .innerJoin(signInProviders, eq(signInProviders.id, grants.providerId));

export async function readGrant(db: Queryable, id: number): Promise<GrantWithProvider | null> {
  const [row] = await withProvider(db).where(eq(grants.id, id));
  return row ?? null;
}

/** Mailboxes that sign in by a grant, or by any of a provider. */
export async function mailboxesOf(
  db: Queryable,
  of: { grantId: number } | { providerId: number },
): Promise<{ id: number; problem: string | null }[]> {
  return db
    .select({ id: mailboxes.id, problem: mailboxes.problem })
    .from(mailboxes)
    .innerJoin(grants, eq(grants.id, mailboxes.grantId))
    .where('grantId' in of ? eq(grants.id, of.grantId) : eq(grants.providerId, of.providerId))
    .orderBy(asc(mailboxes.id));
}

type Begun = Required<Pick<GrantRow, 'providerId' | 'username' | 'state' | 'verifierSealed' | 'begunAt'>>;

export async function addGrant(db: Queryable, begun: Begun): Promise<number> {
  const [added] = await db.insert(grants).values(begun).returning({ id: grants.id });
  return (added as { id: number }).id;
}

export async function updateGrant(db: Queryable, id: number, change: Partial<Omit<GrantRow, 'id'>>): Promise<void> {
  await db.update(grants).set(change).where(eq(grants.id, id));
}

/**
 * Takes a sign-in that comes back, by what it is known by: good once.
 *
 * @returns the grant as it was, null where there is no such sign-in
 */
export async function takeSignIn(db: Queryable, state: string): Promise<GrantWithProvider | null> {
  const [found] = await withProvider(db).where(eq(grants.state, state));
  if (!found) return null;
  const taken = await db
    .update(grants)
    .set({ state: null, verifierSealed: null })
    .where(eq(grants.state, state))
    .returning({ id: grants.id });
  return taken.length === 0 ? null : found;
}

/**
 * Asks to be the one who renews a grant.
 *
 * @param nowMs and the end of the right to it, both in real time: the server's answer takes real time
 * @returns whether it is
 */
export async function claimRenewal(db: Queryable, id: number, nowMs: number, untilMs: number): Promise<boolean> {
  const free = or(isNull(grants.renewingUntil), lt(grants.renewingUntil, nowMs));
  const claimed = await db
    .update(grants)
    .set({ renewingUntil: untilMs })
    .where(and(eq(grants.id, id), free))
    .returning({ id: grants.id });
  return claimed.length > 0;
}

/** Grants that nobody took up, older than that. */
export async function removeUnusedGrants(db: Queryable, beforeMs: number): Promise<void> {
  const used = db.select({ id: mailboxes.id }).from(mailboxes).where(eq(mailboxes.grantId, grants.id));
  await db.delete(grants).where(and(lt(grants.begunAt, beforeMs), notExists(used)));
}
