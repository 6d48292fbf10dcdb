import { sql, type SQL } from 'drizzle-orm';
import { FAILED, failedBy, type Queryable, type Store } from './database';
import { staged } from './staged-rows';

/** Fewer rows than these are stored as quickly one by one. */
const LEAST_ROWS = 20_000;
/** How long the two tables are waited for before the rows are stored one by one. */
const LOCK_MS = 2000;

/** What a transaction does to put the staged rows on a list that nobody has seen yet. */
export interface NewList {
  importId: number;
  /** How many rows are staged. */
  rows: number;
  now: number;
  /** Makes the list in the transaction. @returns its id */
  addList(tx: Queryable): Promise<number>;
  /** Does what is left to be done in the transaction, once its people and rows are stored. */
  finish(tx: Queryable, listId: number): Promise<void>;
}

/**
 * Stores very many staged rows as a new list: the indexes of people and rows are taken down meanwhile and built anew
 * from all of them, which takes a third of the time of bringing them up to date row by row, and both tables are filled
 * at once, each over a connection of its own. Nobody else reads them for these seconds, so it is done only where most
 * of what the tables hold then is new. People are made known an instant before their list is; a crash in that instant
 * leaves them known and on no list, as when they are taken off it.
 *
 * @returns the list's id; null when it cannot be done now, and nothing has been stored
 */
export async function storeAtOnce(store: Store, list: NewList): Promise<number | null> {
  const { importId, rows, now } = list;
  if (rows < LEAST_ROWS || (await hasMore(store.db, 'contacts', rows)) || (await hasMore(store.db, 'list_rows', rows)))
    return null;
  const known = await noteKnown(store.db, importId);
  try {
    return await store.db.transaction(async (rowsTx) => {
      await lock(rowsTx, 'list_rows');
      const listId = await list.addList(rowsTx);
      await store.db.transaction(async (peopleTx) => {
        await lock(peopleTx, 'contacts');
        if ((await knownNow(peopleTx)) !== known) throw new NotNow();
        const [person, row] = [
          await reserveIds(peopleTx, importId, 'contacts'),
          await reserveIds(rowsTx, importId, 'list_rows'),
        ];
        await Promise.all([
          withoutIndexes(
            peopleTx,
            'contacts',
            sql`
            insert into contacts (id, address, key, domain, created_at)
            select ${person}::int + line, address, key, domain, ${now}::bigint
            from ${staged(importId)} where contact_id is null`,
          ),
          withoutIndexes(
            rowsTx,
            'list_rows',
            sql`
            insert into list_rows (id, list_id, contact_id, position, zone, send_on, fields, notes)
            select ${row}::int + line, ${listId}::int, coalesce(contact_id, ${person}::int + line), line, zone, send_on, fields, notes
            from ${staged(importId)}`,
          ),
        ]);
      });
      await list.finish(rowsTx, listId);
      return listId;
    });
  } catch (error) {
    if (error instanceof NotNow || failedBy(error, FAILED.lockNotAvailable)) return null;
    throw error;
  }
}

/** Somebody came between; the rows are stored one by one. */
class NotNow extends Error {}

type TableName = 'contacts' | 'list_rows';

async function hasMore(db: Queryable, table: TableName, rows: number): Promise<boolean> {
  const { rows: found } = await db.execute<{ more: boolean }>(
    sql`select exists (select from ${sql.identifier(table)} offset ${rows}::int) as more`,
  );
  return found[0]?.more ?? false;
}

/** Writes beside the staged rows whom Baton knows already. @returns the state of its people, see {@link knownNow} */
async function noteKnown(db: Queryable, importId: number): Promise<string> {
  return db.transaction(async (tx) => {
    const before = await knownNow(tx);
    await tx.execute(sql`alter table ${staged(importId)} add column if not exists contact_id int`);
    await tx.execute(sql`
      update ${staged(importId)} s set contact_id = c.id from contacts c
      where c.key = s.key and s.contact_id is distinct from c.id`);
    return before;
  });
}

/** Tells whether people were added or went meanwhile. */
async function knownNow(db: Queryable): Promise<string> {
  const { rows } = await db.execute<{ state: string }>(
    sql`select count(*) || ' up to ' || coalesce(max(id), 0) as state from contacts`,
  );
  return rows[0]?.state ?? '';
}

async function lock(tx: Queryable, table: TableName): Promise<void> {
  await tx.execute(sql.raw(`set local lock_timeout = ${LOCK_MS}`));
  await tx.execute(sql`lock table ${sql.identifier(table)} in access exclusive mode`);
}

/** Takes as many ids of a table as the file has lines. @returns the last one in use */
async function reserveIds(tx: Queryable, importId: number, table: TableName): Promise<number> {
  const sequence = `${table}_id_seq`;
  const { rows } = await tx.execute<{ from: number }>(
    sql`select last_value::int as from, setval(${sequence}, last_value + lines) from ${sql.identifier(sequence)},
      (select max(line) + 1 as lines from ${staged(importId)}) l`,
  );
  return (rows[0] as { from: number }).from;
}

/** Fills a table without its indexes but the one by id, and builds them anew. */
async function withoutIndexes(tx: Queryable, table: TableName, fill: SQL): Promise<void> {
  const { rows: indexes } = await tx.execute<{ name: string; definition: string; constraint: string | null }>(sql`
    select i.indexrelid::regclass::text as name, pg_get_indexdef(i.indexrelid) as definition,
      pg_get_constraintdef(c.oid) as constraint
    from pg_index i left join pg_constraint c on c.conindid = i.indexrelid and c.conrelid = i.indrelid
    where i.indrelid = ${table}::regclass and not i.indisprimary and i.indexrelid::regclass::text not like 'list\\_sort\\_%'`);
  const on = sql`alter table ${sql.identifier(table)}`;
  for (const { name, constraint } of indexes)
    await tx.execute(
      constraint === null ? sql`drop index ${sql.raw(name)}` : sql`${on} drop constraint ${sql.raw(name)}`,
    );
  await tx.execute(fill);
  for (const { name, definition, constraint } of indexes)
    await tx.execute(
      constraint === null ? sql.raw(definition) : sql`${on} add constraint ${sql.raw(`${name} ${constraint}`)}`,
    );
}
