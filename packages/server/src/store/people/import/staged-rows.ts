import type { ImportEffect, ImportInto } from '@baton/contract';
import { sql } from 'drizzle-orm';
import { once } from 'node:events';
import { finished } from 'node:stream/promises';
import { setImmediate } from 'node:timers/promises';
import type { Connection, PoolClient } from 'pg';
import { from as copyFrom, type CopyStreamQuery } from 'pg-copy-streams';
import { COPY_BEGIN, COPY_END, CopyWriter, type StagedRow } from './copy-writer';
import { type Queryable, type Store } from '../../database';
import { FAILED, failedBy } from '../../database-errors';
import { reservedIds } from './reserved-ids';

type Note = StagedRow['notes'][number];

const rowsTableOf = (id: number): string => `import_rows_${Math.trunc(id)}`;
const peopleTableOf = (id: number): string => `import_people_${Math.trunc(id)}`;

/** An import's rows, as lists have theirs; the people are those of {@link stagedPeople} until they are stored. */
export const stagedRows = (id: number) => sql.raw(rowsTableOf(id));

/**
 * An import's people, with their addresses where these are not their keys, and who of them is known already. No log
 * keeps them: they can be read again from the file.
 */
export const stagedPeople = (id: number) => sql.raw(peopleTableOf(id));

/** Staged rows with their people, and who these are among all contacts. */
const withContacts = (id: number) =>
  sql`${stagedRows(id)} s join ${stagedPeople(id)} p on p.id = s.contact_id join contacts c on c.key = p.key`;

export async function dropStaged(db: Queryable, id: number): Promise<void> {
  await db.execute(sql`drop table if exists ${stagedRows(id)}, ${stagedPeople(id)}`);
}

/** Where an import's rows are laid ready. */
export interface Staging {
  importId: number;
  /** The list that will be made of them alone: rows and people then have the ids that they keep. Null for any other. */
  newList: number | null;
}

/** Bytes ready that wait for PostgreSQL, so that neither waits for the other. */
const COPYING = { highWaterMark: 4 * 1024 * 1024 };

/** Fills a table by COPY, in the transaction that makes it: what nobody can see before its end needs no log. */
class Copying {
  private failure: Error | null = null;
  /** What was written last, all that may not have left yet. */
  private written: Buffer[] = [];
  private isReleased = false;
  private readonly over: Promise<void>;

  private constructor(
    private readonly client: PoolClient,
    private readonly stream: CopyStreamQuery,
  ) {
    this.over = finished(stream);
    this.over.catch(() => undefined);
    // Also for what fails when it is over: nobody waits for it then.
    stream.on('error', (error) => (this.failure ??= error));
  }

  static async begin(store: Store, create: string, copy: string): Promise<Copying> {
    const client = await store.pool.connect();
    try {
      await client.query(`begin; ${create}`);
      const stream = client.query(copyFrom(`${copy} from stdin with (format binary, freeze)`, COPYING));
      stream.write(COPY_BEGIN);
      return new Copying(client, stream);
    } catch (error) {
      client.release(true);
      throw error;
    }
  }

  async write(bytes: Buffer): Promise<void> {
    if (this.failure) throw this.failure;
    this.written.push(bytes);
    if (bytes.length > 0 && !this.stream.write(bytes)) await Promise.race([once(this.stream, 'drain'), this.over]);
  }

  /** What was written since this was last asked, when all of it has gone to the system; else nothing. */
  left(): Buffer[] {
    const { stream: socket } = (this.client as unknown as { connection: Connection }).connection;
    if (this.stream.writableLength > 0 || socket.writableLength > 0) return [];
    const left = this.written;
    this.written = [];
    return left;
  }

  /** Ends the copy. */
  async end(): Promise<void> {
    if (this.failure) throw this.failure;
    this.stream.end(COPY_END);
    await this.over;
  }

  async commit(): Promise<void> {
    await this.client.query('commit');
    this.release(false);
  }

  /** Ends the connection, for a copy broken off leaves it in no state to be used again; the table goes with it. */
  abandon(): void {
    this.release(true);
  }

  private release(isBroken: boolean): void {
    if (this.isReleased) return;
    this.isReleased = true;
    this.client.release(isBroken);
  }
}

/**
 * Stores rows as they come, by COPY, in tables of the import's own.
 *
 * @param cellKeys field keys of the cells of rows that are bytes; null for one that is not kept
 * @returns how many
 */
export async function stageRows(
  store: Store,
  { importId, newList }: Staging,
  batches: AsyncIterable<readonly StagedRow[]>,
  cellKeys: readonly (string | null)[] = [],
): Promise<number> {
  await dropStaged(store.db, importId);
  const [rowsTable, peopleTable] = [rowsTableOf(importId), peopleTableOf(importId)];
  const people = await Copying.begin(
    store,
    `create unlogged table ${peopleTable} (id int not null, key text collate "C" not null, domain text collate "C" not null, address text, known int)`,
    `copy ${peopleTable} (id, key, domain, address)`,
  );
  const rows = await Copying.begin(
    store,
    `create table ${rowsTable} (like list_rows including defaults)`,
    `copy ${rowsTable} (id, list_id, contact_id, position, zone, send_on, notes, fields)`,
  ).catch((error: unknown) => {
    people.abandon();
    throw error;
  });
  const ids = newList === null ? null : reservedIds(store.db);
  const writer = new CopyWriter(newList ?? 0, cellKeys);
  let n = 0;
  try {
    for await (const batch of batches) {
      n += batch.length;
      const first = ids && (await ids(batch.length));
      batch.forEach((row, i) =>
        first ? writer.row(row, first.row + i, first.person + i) : writer.row(row, row.line, row.line),
      );
      const written = writer.take();
      await Promise.all([people.write(written.people), rows.write(written.rows)]);
      // What is ready goes out while the next rows are made.
      await setImmediate();
      writer.give({ people: people.left(), rows: rows.left() });
    }
    await Promise.all([people.end(), rows.end()]);
    await Promise.all([people.commit(), rows.commit()]);
    return n;
  } finally {
    // Nothing to be done where both are through.
    people.abandon();
    rows.abandon();
  }
}

/** Adds a note to the rows in these lines. */
export async function noteLines(db: Queryable, id: number, note: Note, lines: readonly number[]): Promise<void> {
  if (lines.length === 0) return;
  await db.execute(
    sql`update ${stagedRows(id)} set notes = notes || ${JSON.stringify([note])}::jsonb where position = any(${`{${lines.join(',')}}`}::int[])`,
  );
}

/** Adds a note, as the first, to the rows with these domains. */
export async function noteDomains(db: Queryable, id: number, note: Note, domains: readonly string[]): Promise<void> {
  if (domains.length === 0) return;
  const list = sql`(select jsonb_array_elements_text(${JSON.stringify(domains)}::jsonb))`;
  await db.execute(
    sql`update ${stagedRows(id)} s set notes = ${JSON.stringify([note])}::jsonb || notes from ${stagedPeople(id)} p
      where p.id = s.contact_id and p.domain in ${list}`,
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
    select (select count(*)::int from ${stagedPeople(id)}) as all,
      (select count(*)::int from list_rows where list_id = ${listId} and removed_at is null) as people,
      (select count(*)::int from ${stagedPeople(id)} p join contacts c on c.key = p.key
        join list_rows r on r.contact_id = c.id and r.list_id = ${listId} and r.removed_at is null) as there`);
  const { all, there, people } = rows[0] as { all: number; there: number; people: number };
  return { added: all - there, there, off: how === 'replace' ? people - there : 0 };
}

/**
 * Makes people known of the staged ones: nearly all at once, and those that another import adds meanwhile after them.
 *
 * @param withIds whether they have the ids that they keep
 */
export async function storeStagedContacts(tx: Queryable, id: number, now: number, withIds = false): Promise<void> {
  const unknown = sql`
    insert into contacts (${withIds ? sql`id, ` : sql``}address, key, domain, created_at)
    select ${withIds ? sql`id, ` : sql``}coalesce(address, key), key, domain, ${now}::bigint from ${stagedPeople(id)} p
    where not exists (select from contacts c where c.key = p.key) order by key`;
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
    select ${listId}, c.id, ${from}::int + s.position,
      s.zone, s.send_on, s.fields, s.notes, ${hidden ? hiddenBy(id) : null}::bigint
    from ${withContacts(id)}
    ${isNew ? sql`` : absent}`);
}

/**
 * Writes down what the staged rows change in a list: those hidden come in; those on it are brought up to date (blanks
 * change nothing), or with `replace` get all values of the file's columns, and people who are not in the file are removed.
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
      from ${withContacts(importId)}
      join list_rows r on r.contact_id = c.id and r.list_id = ${listId} and r.removed_at is null
    ) x where before <> after`);
  if (how === 'replace')
    await run(sql`
      select ${changeId}::int, r.id, '{"removedAt": null}'::jsonb, jsonb_build_object('removedAt', ${nowMs}::bigint)
      from list_rows r join contacts c on c.id = r.contact_id
      where r.list_id = ${listId} and r.removed_at is null
        and not exists (select from ${stagedPeople(importId)} p where p.key = c.key)`);
  return ids;
}
