import type { Cleaning, ColumnRole, TakenRow } from '@baton/core';
import type { ImportEffect, ImportInto } from '@baton/contract';
import { and, asc, eq, sql } from 'drizzle-orm';
import { pipeline } from 'node:stream/promises';
import { setImmediate } from 'node:timers/promises';
import { from as copyFrom } from 'pg-copy-streams';
import { isUniqueViolation, type Queryable, type Store } from './database';
import { importMemory, importPieces, imports } from './schema';

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

/** The pieces of a large file in order, one at a time. */
export async function* readPieces(db: Queryable, importId: number): AsyncGenerator<Buffer> {
  for (let n = 0; ; n++) {
    const [piece] = await db
      .select({ bytes: importPieces.bytes })
      .from(importPieces)
      .where(and(eq(importPieces.importId, importId), eq(importPieces.n, n)));
    if (!piece) return;
    yield piece.bytes;
  }
}

export interface Remembered {
  roles: ColumnRole[];
  cleanings: Cleaning[] | null;
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

/** A row ready to be stored: its fields under the keys of the list it goes to. */
export type StagedRow = Pick<TakenRow, 'line' | 'address' | 'key' | 'domain' | 'zone' | 'sendOn' | 'fields'> & {
  notes: readonly string[];
};

/** Each import has a table of its own, which no log keeps: what it holds can be read again from the file. */
const staged = (id: number) => sql.raw(`import_rows_${Math.trunc(id)}`);

export async function dropStaged(db: Queryable, id: number): Promise<void> {
  await db.execute(sql`drop table if exists ${staged(id)}`);
}

export async function makeStaged(db: Queryable, id: number): Promise<void> {
  await dropStaged(db, id);
  await db.execute(
    sql`create unlogged table ${staged(id)} (line int not null, key text collate "C" not null, address text not null, domain text not null, zone text, send_on text, notes jsonb not null, fields jsonb not null)`,
  );
}

const ESCAPED: Readonly<Record<string, string>> = { '\\': '\\\\', '\n': '\\n', '\r': '\\r', '\t': '\\t' };
/** A value as the text form of COPY has it. */
const copied = (value: string | null): string =>
  value === null ? '\\N' : /[\\\n\r\t]/.test(value) ? value.replace(/[\\\n\r\t]/g, (c) => ESCAPED[c] as string) : value;

/** What stands in JSON, and in COPY's text form, as it is. */
const AS_IT_IS = /^[^"\\\p{Cc}\p{Cs}]*$/u;
const asText = (value: string): string => (AS_IT_IS.test(value) ? `"${value}"` : copied(JSON.stringify(value)));

/** Fields as JSON in COPY's text form; most values need no look at their letters but one. */
function copiedFields(fields: Readonly<Record<string, string>>): string {
  let text = '{';
  for (const key in fields) text += `${text.length > 1 ? ',' : ''}${asText(key)}:${asText(fields[key] as string)}`;
  return `${text}}`;
}

/** Bytes ready that wait for PostgreSQL, so that neither waits for the other. */
const COPYING = { highWaterMark: 4 * 1024 * 1024 };

/** Stores rows as they come, by COPY. @returns how many */
export async function stageRows(
  store: Store,
  id: number,
  batches: AsyncIterable<readonly StagedRow[]>,
): Promise<number> {
  const client = await store.pool.connect();
  let n = 0;
  async function* lines() {
    for await (const batch of batches) {
      n += batch.length;
      let text = '';
      for (const r of batch)
        text += `${r.line}\t${copied(r.key)}\t${copied(r.address)}\t${copied(r.domain)}\t${copied(r.zone)}\t${copied(r.sendOn)}\t${copied(JSON.stringify(r.notes))}\t${copiedFields(r.fields)}\n`;
      if (text !== '') yield Buffer.from(text);
      // What is ready goes out while the next rows are made.
      await setImmediate();
    }
  }
  let failed: unknown = null;
  try {
    await pipeline(lines, client.query(copyFrom(`copy import_rows_${Math.trunc(id)} from stdin`, COPYING)));
    return n;
  } catch (error) {
    failed = error;
    throw error;
  } finally {
    // A copy broken off leaves its connection in no state to be used again.
    client.release(failed !== null);
  }
}

/** How often each domain stands among the rows staged. */
export async function stagedDomains(db: Queryable, id: number): Promise<Map<string, number>> {
  const { rows } = await db.execute<{ domain: string; n: number }>(
    sql`select domain, count(*)::int as n from ${staged(id)} group by domain`,
  );
  return new Map(rows.map((r) => [r.domain, r.n]));
}

/** Marks rows whose addresses differ in dots and what follows a plus sign only: they may be one person's. */
export async function noteSamePeople(db: Queryable, id: number): Promise<void> {
  await db.execute(sql`
    update ${staged(id)} s set notes = s.notes || '["doubled"]'::jsonb
    from (
      select unnest(array_agg(line)) as line from ${staged(id)}
      group by replace(split_part(split_part(key, '@', 1), '+', 1), '.', ''), domain having count(*) > 1
    ) d where s.line = d.line`);
}

export async function noteDomains(db: Queryable, id: number, domains: readonly string[]): Promise<void> {
  if (domains.length === 0) return;
  const list = sql`(select jsonb_array_elements_text(${JSON.stringify(domains)}::jsonb))`;
  await db.execute(sql`update ${staged(id)} set notes = '["misspelt"]'::jsonb || notes where domain in ${list}`);
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

/** What the staged rows would do to a list. */
export async function effectOfStaged(
  db: Queryable,
  id: number,
  listId: number,
  how: Extract<ImportInto, { kind: 'list' }>['how'],
): Promise<ImportEffect> {
  const { rows } = await db.execute<{ all: number; there: number; people: number }>(sql`
    select (select count(*)::int from ${staged(id)}) as all,
      (select count(*)::int from list_rows where list_id = ${listId} and removed_at is null) as people,
      (select count(*)::int from ${staged(id)} s join contacts c on c.key = s.key
        join list_rows r on r.contact_id = c.id and r.list_id = ${listId} and r.removed_at is null) as there`);
  const { all, there, people } = rows[0] as { all: number; there: number; people: number };
  return { added: all - there, there, off: how === 'replace' ? people - there : 0 };
}

/** Makes people known of the staged rows: nearly all at once, and those that somebody else brings meanwhile after them. */
export async function storeStagedContacts(tx: Queryable, id: number, now: number): Promise<void> {
  const unknown = sql`
    insert into contacts (address, key, domain, created_at)
    select address, key, domain, ${now}::bigint from ${staged(id)} s
    where not exists (select from contacts c where c.key = s.key) order by key`;
  try {
    // Looking out for conflicts row by row takes as long as storing the rows.
    await tx.transaction((inner) => inner.execute(unknown));
  } catch (error) {
    if (!isUniqueViolation(error)) throw error;
    await tx.execute(sql`${unknown} on conflict (key) do nothing`);
  }
}

/** No time at all: marks rows that an import puts on a list and its change brings in. */
const hiddenBy = (id: number): number => -id;

/** Puts the staged people who are not on the list at its end. @param hidden as if taken off, until a change brings them in */
export async function storeStagedRows(tx: Queryable, id: number, listId: number, hidden: boolean): Promise<void> {
  const isNew = !hidden;
  const { rows } = await tx.execute<{ from: number }>(
    sql`select coalesce(max(position) + 1, 0) as from from list_rows where list_id = ${listId} and removed_at is null`,
  );
  const from = rows[0]?.from ?? 0;
  const absent = sql`where not exists (select from list_rows r where r.list_id = ${listId} and r.contact_id = c.id and r.removed_at is null)`;
  await tx.execute(sql`
    insert into list_rows (list_id, contact_id, position, zone, send_on, fields, notes, removed_at)
    select ${listId}, c.id, ${from}::int + s.line,
      s.zone, s.send_on, s.fields, s.notes, ${hidden ? hiddenBy(id) : null}::bigint
    from ${staged(id)} s join contacts c on c.key = s.key
    ${isNew ? sql`` : absent}`);
}

/**
 * Writes down what the staged rows change in a list: those hidden come in; those on it are brought up to date (blanks
 * change nothing), or with `replace` get all values of the file's columns, and whoever is not in the file is taken off.
 *
 * @param keys of the file's columns
 * @returns ids of the rows changed
 */
export async function recordStagedChange(
  tx: Queryable,
  what: { importId: number; changeId: number; listId: number; how: 'add' | 'update' | 'replace'; nowMs: number },
  keys: readonly string[],
): Promise<number[]> {
  const { importId, changeId, listId, how, nowMs } = what;
  const into = sql`insert into list_change_rows (change_id, row_id, before, after)`;
  const ids: number[] = [];
  const run = async (statement: ReturnType<typeof sql>) => {
    const { rows } = await tx.execute<{ row_id: number }>(sql`${into} ${statement} returning row_id`);
    for (const r of rows) ids.push(r.row_id);
  };
  await run(sql`
    select ${changeId}::int, id, jsonb_build_object('removedAt', ${nowMs}::bigint), '{"removedAt": null}'::jsonb
    from list_rows where list_id = ${listId} and removed_at = ${hiddenBy(importId)}`);
  if (how === 'add') return ids;
  const all = sql`(select jsonb_array_elements_text(${JSON.stringify(keys)}::jsonb) as k)`;
  const own = sql`(select jsonb_object_keys(s.fields) as k)`;
  const touched = how === 'replace' ? all : own;
  await run(sql`
    select ${changeId}::int, id, before, after from (
      select r.id,
        jsonb_build_object('zone', r.zone, 'sendOn', r.send_on, 'fields',
          (select coalesce(jsonb_object_agg(k, r.fields->k), '{}') from ${touched} t)) as before,
        jsonb_build_object('zone', coalesce(s.zone, r.zone), 'sendOn', coalesce(s.send_on, r.send_on), 'fields',
          (select coalesce(jsonb_object_agg(k, s.fields->k), '{}') from ${touched} t)) as after
      from ${staged(importId)} s join contacts c on c.key = s.key
      join list_rows r on r.contact_id = c.id and r.list_id = ${listId} and r.removed_at is null
    ) x where before <> after`);
  if (how === 'replace')
    await run(sql`
      select ${changeId}::int, r.id, '{"removedAt": null}'::jsonb, jsonb_build_object('removedAt', ${nowMs}::bigint)
      from list_rows r join contacts c on c.id = r.contact_id
      where r.list_id = ${listId} and r.removed_at is null
        and not exists (select from ${staged(importId)} s where s.key = c.key)`);
  return ids;
}
