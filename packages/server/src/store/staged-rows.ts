import type { ImportEffect, ImportInto } from '@baton/contract';
import { sql } from 'drizzle-orm';
import { pipeline } from 'node:stream/promises';
import { setImmediate } from 'node:timers/promises';
import { from as copyFrom } from 'pg-copy-streams';
import { CopyWriter, type StagedRow } from './copy-writer';
import { FAILED, failedBy, type Queryable, type Store } from './database';

type Note = StagedRow['notes'][number];

/** Each import has a table of its own, which no log keeps: what it holds can be read again from the file. */
export const staged = (id: number) => sql.raw(`import_rows_${Math.trunc(id)}`);

export async function dropStaged(db: Queryable, id: number): Promise<void> {
  await db.execute(sql`drop table if exists ${staged(id)}`);
}

export async function makeStaged(db: Queryable, id: number): Promise<void> {
  await dropStaged(db, id);
  await db.execute(
    // The columns in the order in which they are copied.
    sql`create unlogged table ${staged(id)} (line int not null, key text collate "C" not null, address text not null, domain text not null, zone text, send_on text, notes jsonb not null, fields jsonb not null)`,
  );
}

/** Bytes ready that wait for PostgreSQL, so that neither waits for the other. */
const COPYING = { highWaterMark: 4 * 1024 * 1024 };

/**
 * Stores rows as they come, by COPY.
 *
 * @param cellKeys field keys of the cells of rows that are bytes; null for one that is not kept
 * @returns how many
 */
export async function stageRows(
  store: Store,
  id: number,
  batches: AsyncIterable<readonly StagedRow[]>,
  cellKeys: readonly (string | null)[] = [],
): Promise<number> {
  const client = await store.pool.connect();
  const writer = new CopyWriter(cellKeys);
  let n = 0;
  async function* lines() {
    for await (const batch of batches) {
      n += batch.length;
      for (const row of batch) writer.row(row);
      const written = writer.take();
      if (written.length > 0) yield written;
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

/** Adds a note to the rows in these lines. */
export async function noteLines(db: Queryable, id: number, note: Note, lines: readonly number[]): Promise<void> {
  if (lines.length === 0) return;
  await db.execute(
    sql`update ${staged(id)} set notes = notes || ${JSON.stringify([note])}::jsonb where line = any(${`{${lines.join(',')}}`}::int[])`,
  );
}

/** Adds a note, as the first, to the rows with these domains. */
export async function noteDomains(db: Queryable, id: number, note: Note, domains: readonly string[]): Promise<void> {
  if (domains.length === 0) return;
  const list = sql`(select jsonb_array_elements_text(${JSON.stringify(domains)}::jsonb))`;
  await db.execute(
    sql`update ${staged(id)} set notes = ${JSON.stringify([note])}::jsonb || notes where domain in ${list}`,
  );
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
    if (!failedBy(error, FAILED.uniqueViolation)) throw error;
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
