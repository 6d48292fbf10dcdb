import type { Layout } from '@baton/core';
import { asc, eq, inArray, sql } from 'drizzle-orm';
import type { Queryable } from '../database';
import { assets, layouts } from '../schema/schema';

export type AssetRow = typeof assets.$inferSelect;
/** An asset without its bytes. */
export type AssetSummary = Omit<AssetRow, 'bytes' | 'nameKey'>;

/** By which a value names a file: any case, whatever way its letters are composed. */
export const assetKey = (name: string): string => name.trim().normalize('NFC').toLowerCase();

const summary = {
  id: assets.id,
  name: assets.name,
  type: assets.type,
  size: assets.size,
  createdAt: assets.createdAt,
};

export async function listAssets(db: Queryable): Promise<AssetSummary[]> {
  return db.select(summary).from(assets).orderBy(asc(assets.nameKey));
}

export async function readAsset(db: Queryable, id: number): Promise<AssetRow | null> {
  const [row] = await db.select().from(assets).where(eq(assets.id, id));
  return row ?? null;
}

/** Assets by id and by name, with their bytes. */
export async function readAssets(db: Queryable, ids: readonly number[], names: readonly string[]): Promise<AssetRow[]> {
  const keys = names.map(assetKey);
  const found: AssetRow[] = [];
  if (ids.length > 0)
    found.push(
      ...(await db
        .select()
        .from(assets)
        .where(inArray(assets.id, [...ids]))),
    );
  if (keys.length > 0) found.push(...(await db.select().from(assets).where(inArray(assets.nameKey, keys))));
  return [...new Map(found.map((a) => [a.id, a])).values()];
}

/** Keeps a file under its name, or under its name with a number where another file has it. */
export async function addAsset(
  db: Queryable,
  asset: Omit<typeof assets.$inferInsert, 'id' | 'nameKey'>,
): Promise<number> {
  const dot = asset.name.lastIndexOf('.');
  const [stem, end] = dot > 0 ? [asset.name.slice(0, dot), asset.name.slice(dot)] : [asset.name, ''];
  for (let n = 1; ; n++) {
    const name = n === 1 ? asset.name : `${stem} ${n}${end}`;
    const [added] = await db
      .insert(assets)
      .values({ ...asset, name, nameKey: assetKey(name) })
      .onConflictDoNothing()
      .returning({ id: assets.id });
    if (added) return added.id;
  }
}

/** The file with these bytes under this name or a numbered one, if there is one already. */
export async function findSameAsset(db: Queryable, name: string, bytes: Buffer): Promise<number | null> {
  const [row] = await db
    .select({ id: assets.id })
    .from(assets)
    .where(sql`${assets.nameKey} = ${assetKey(name)} and ${assets.bytes} = ${bytes}`);
  return row?.id ?? null;
}

export async function removeAsset(db: Queryable, id: number): Promise<boolean> {
  return (await db.delete(assets).where(eq(assets.id, id)).returning({ id: assets.id })).length > 0;
}

export async function listLayouts(db: Queryable): Promise<{ id: number; name: string; layout: Layout }[]> {
  return db
    .select({ id: layouts.id, name: layouts.name, layout: layouts.layout })
    .from(layouts)
    .orderBy(asc(layouts.name));
}

export async function addLayout(
  db: Queryable,
  row: { name: string; layout: Layout; createdAt: number },
): Promise<number> {
  const [added] = await db.insert(layouts).values(row).returning({ id: layouts.id });
  return (added as { id: number }).id;
}

export async function removeLayout(db: Queryable, id: number): Promise<boolean> {
  return (await db.delete(layouts).where(eq(layouts.id, id)).returning({ id: layouts.id })).length > 0;
}
