import type { Cleaning, ColumnKind, ColumnRole } from '@baton/core';
import type { ImportEffect, ImportInto, ImportReading } from '@baton/contract';
import { asc, eq, sql } from 'drizzle-orm';
import { to as copyTo } from 'pg-copy-streams';
import type { Queryable, Store } from '../../database';
import { importMemory, importPieces, imports } from '../../schema/schema';
import { dropStaged } from './staged-rows';

export type ImportRow = typeof imports.$inferSelect;

export async function addImport(db: Queryable, row: typeof imports.$inferInsert): Promise<number> {
  const [added] = await db.insert(imports).values(row).returning({ id: imports.id });
  return (added as { id: number }).id;
}

export async function readImport(db: Queryable, id: number): Promise<ImportRow | null> {
  const [row] = await db.select().from(imports).where(eq(imports.id, id));
  return row ?? null;
}

export async function lockImport(tx: Queryable, id: number): Promise<ImportRow | null> {
  const [row] = await tx.select().from(imports).where(eq(imports.id, id)).for('update');
  return row ?? null;
}

export async function updateImport(
  tx: Queryable,
  id: number,
  change: Partial<Omit<ImportRow, 'id' | 'bytes'>>,
): Promise<void> {
  await tx.update(imports).set(change).where(eq(imports.id, id));
}

/** Whether this call was the one that removed it: of two at the same time, one. */
export async function removeImport(db: Queryable, id: number): Promise<boolean> {
  await dropStaged(db, id);
  return (await db.delete(imports).where(eq(imports.id, id)).returning({ id: imports.id })).length > 0;
}

/** Imports that a worker is to take, without their bytes. */
export async function wantedImports(db: Queryable): Promise<number[]> {
  const rows = await db
    .select({ id: imports.id })
    .from(imports)
    .where(eq(imports.state, 'taking'))
    .orderBy(asc(imports.id));
  return rows.map((r) => r.id);
}

export async function isCancelled(db: Queryable, id: number): Promise<boolean> {
  const [row] = await db.select({ cancelled: imports.cancelled }).from(imports).where(eq(imports.id, id));
  return row?.cancelled ?? true;
}

/** How far an import is, without what it holds. */
export async function importState(db: Queryable, id: number) {
  const { name, state, progress, problem, into } = imports;
  const [row] = await db.select({ name, state, progress, problem, into }).from(imports).where(eq(imports.id, id));
  return row ?? null;
}

/** Large imports under way or waiting for a yes. */
export async function openLargeImports(db: Queryable) {
  return db
    .select({ id: imports.id, name: imports.name, state: imports.state, progress: imports.progress })
    .from(imports)
    .where(sql`${imports.state} <> 'open'`)
    .orderBy(asc(imports.id));
}

export async function addPiece(db: Queryable, importId: number, n: number, bytes: Buffer): Promise<void> {
  await db.insert(importPieces).values({ importId, n, bytes });
}

/** Before the rows in COPY's binary form: its signature, its flags and the length of an extension that is never there. */
const COPY_HEADER = 19;
/** Before each value: of the first column also how many there are (two bytes), then its length; −1 ends the copy. */
const [COUNT_BYTES, LENGTH_BYTES] = [2, 4];

/** A large file from its beginning to its end, as it comes: by COPY in its binary form, since anything else is read as text. */
export async function* readPieces(store: Store, importId: number): AsyncGenerator<Buffer> {
  const client = await store.pool.connect();
  let isOver = false;
  try {
    const rows = client.query(
      copyTo(
        `copy (select bytes from import_pieces where import_id = ${Math.trunc(importId)} order by n) to stdout (format binary)`,
      ),
    );
    let head: Buffer = Buffer.alloc(0);
    let [wanted, left] = [COPY_HEADER, 0];
    for await (const chunk of rows as AsyncIterable<Buffer>) {
      for (let at = 0; at < chunk.length;) {
        if (left > 0) {
          const part = chunk.subarray(at, at + left);
          yield part;
          at += part.length;
          left -= part.length;
          continue;
        }
        const more = chunk.subarray(at, at + wanted - head.length);
        head = Buffer.concat([head, more]);
        at += more.length;
        if (head.length < wanted) continue;
        if (wanted !== COPY_HEADER) left = head.readInt32BE(COUNT_BYTES);
        head = Buffer.alloc(0);
        wanted = COUNT_BYTES + LENGTH_BYTES;
      }
    }
    isOver = true;
  } finally {
    // A copy broken off leaves its connection in no state to be used again.
    client.release(!isOver);
  }
}

export interface Remembered {
  roles: ColumnRole[];
  kinds: (ColumnKind | null)[] | null;
  cleanings: Cleaning[] | null;
  /** How it is read, beside its rows. */
  reading: ImportReading | null;
}

export async function recall(db: Queryable, header: string): Promise<Remembered | null> {
  const [row] = await db.select().from(importMemory).where(eq(importMemory.header, header));
  return row ?? null;
}

export async function remember(db: Queryable, header: string, said: Remembered, at: number): Promise<void> {
  const values = { ...said, at };
  await db
    .insert(importMemory)
    .values({ header, ...values })
    .onConflictDoUpdate({ target: importMemory.header, set: values });
}

/** What people with these keys would do to a list. */
export async function effectOfKeys(
  db: Queryable,
  keys: readonly string[],
  listId: number,
  how: Extract<ImportInto, { kind: 'list' }>['how'],
): Promise<ImportEffect> {
  const { rows } = await db.execute<{ there: number; people: number }>(sql`
    select (select count(*)::int from list_rows where list_id = ${listId} and removed_at is null) as people,
      (select count(*)::int from jsonb_array_elements_text(${JSON.stringify(keys)}::jsonb) k(key)
        join contacts c on c.key = k.key
        join list_rows r on r.contact_id = c.id and r.list_id = ${listId} and r.removed_at is null) as there`);
  const { there, people } = rows[0] as { there: number; people: number };
  return { added: keys.length - there, there, off: how === 'replace' ? people - there : 0 };
}
