import { parseAddress } from '@baton/core';
import type { SuppressionList } from '@baton/contract';
import { and, eq, ilike, inArray, or, sql } from 'drizzle-orm';
import { batches, like, type Queryable } from '../../database';
import { contacts, suppressions } from '../../schema/schema';

export type SuppressionRow = typeof suppressions.$inferSelect;

export async function knownKeys(db: Queryable, keys: readonly string[]): Promise<Set<string>> {
  const found = new Set<string>();
  for (const batch of batches(keys))
    for (const r of await db.select({ key: contacts.key }).from(contacts).where(inArray(contacts.key, batch)))
      found.add(r.key);
  return found;
}

/** Why nothing may go to addresses and domains, by key. */
export async function suppressionReasons(db: Queryable): Promise<Map<string, string>> {
  const rows = await db.select({ key: suppressions.key, reason: suppressions.reason }).from(suppressions);
  return new Map(rows.map((r) => [r.key, r.reason]));
}

/** Those of some addresses to which, or to whose domains, nothing may go. */
export async function suppressedAmong(db: Queryable, addresses: readonly string[]): Promise<string[]> {
  const keys = new Map(
    addresses.flatMap((address) => {
      const parsed = parseAddress(address);
      return parsed.ok ? [[address, [parsed.value.key, parsed.value.domain]] as const] : [];
    }),
  );
  const rows = await db
    .select({ key: suppressions.key })
    .from(suppressions)
    .where(inArray(suppressions.key, [...keys.values()].flat()));
  const found = new Set(rows.map((r) => r.key));
  return addresses.filter((a) => keys.get(a)?.some((k) => found.has(k)));
}

/** @returns its id; null where the address or domain was there already */
export async function addSuppression(
  db: Queryable,
  row: Omit<typeof suppressions.$inferInsert, 'id'>,
): Promise<number | null> {
  const [added] = await db.insert(suppressions).values(row).onConflictDoNothing().returning({ id: suppressions.id });
  return added?.id ?? null;
}

/** @returns how many were not there before */
export async function addSuppressions(
  db: Queryable,
  rows: readonly Omit<typeof suppressions.$inferInsert, 'id'>[],
): Promise<number> {
  let added = 0;
  for (const batch of batches(rows))
    added += (await db.insert(suppressions).values(batch).onConflictDoNothing().returning({ id: suppressions.id }))
      .length;
  return added;
}

export async function removeSuppression(db: Queryable, id: number): Promise<boolean> {
  return (await db.delete(suppressions).where(eq(suppressions.id, id)).returning({ id: suppressions.id })).length > 0;
}

const newestFirst = sql`${suppressions.createdAt} desc, ${suppressions.id} desc`;

/** All entries, the newest first. */
export function allSuppressions(db: Queryable): Promise<SuppressionRow[]> {
  return db.select().from(suppressions).orderBy(newestFirst);
}

/**
 * The newest entries whose address, reason or source contains a text, and the entry of an address's whole domain.
 *
 * @param search '' finds all
 */
export async function findSuppressions(db: Queryable, search: string, limit: number): Promise<SuppressionList> {
  const { key, reason, source, kind } = suppressions;
  const found =
    search === ''
      ? sql`true`
      : or(
          ...[key, reason, source].map((column) => ilike(column, like(search))),
          and(eq(kind, 'domain'), eq(key, search.slice(search.lastIndexOf('@') + 1).toLowerCase())),
        );
  const [counted] = await db
    .select({ total: sql<number>`count(*)::int`, found: sql<number>`(count(*) filter (where ${found}))::int` })
    .from(suppressions);
  const entries = await db.select().from(suppressions).where(found).orderBy(newestFirst).limit(limit);
  return { ...(counted as { total: number; found: number }), entries };
}
