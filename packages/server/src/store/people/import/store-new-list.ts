import { sql } from 'drizzle-orm';
import { waitShortly, type Queryable, type Store } from '../../database';
import { FAILED, failedBy } from '../../database-errors';
import { fillPartition, joinPartition } from '../list/list-partition';
import { stagedPeople, storeStagedContacts, storeStagedRows } from './staged-rows';
import { indexesOf } from './table-indexes';

/** Fewer rows than these are stored as quickly one by one. */
const LEAST_ROWS = 20_000;

/** A list to be, of staged rows alone. */
export interface NewList {
  importId: number;
  listId: number;
  /** How many rows are staged. */
  rows: number;
  now: number;
  /** Makes the list in the transaction. */
  addList(tx: Queryable): Promise<unknown>;
  /** Does what is left to be done in the transaction, once its people and rows are stored. */
  finish(tx: Queryable): Promise<void>;
}

/**
 * Stores staged rows as a new list. Very many become a partition of their own, which is made ready while nobody sees it.
 * Where most people of all are new with them, these are stored at the same time over a connection of their own, and are
 * known an instant before the list is; a crash in that instant leaves them known and on no list, as when they are taken
 * off it.
 */
export async function storeNewList(store: Store, list: NewList): Promise<void> {
  const { importId, listId, rows, now } = list;
  await store.db.transaction(async (tx) => {
    // Nobody on the way is erased meanwhile; all else goes on.
    await tx.execute(sql`lock table only list_rows in share update exclusive mode`);
    await list.addList(tx);
    if (rows < LEAST_ROWS) {
      await storeStagedContacts(tx, importId, now, true);
      await storeStagedRows(tx, importId, listId, false);
    } else {
      const atOnce = (anyKnown: boolean) => fillPartition(tx, importId, listId, anyKnown);
      if (!(await storePeopleAtOnce(store, list, atOnce))) {
        await storeStagedContacts(tx, importId, now, true);
        await atOnce(await noteKnown(tx, importId));
      }
      await joinPartition(tx, listId);
    }
    await list.finish(tx);
  });
  // Nothing else tells PostgreSQL what the partitions hold together.
  if (rows >= LEAST_ROWS) await store.db.execute(sql`analyze list_rows`);
}

/**
 * Stores the staged people while something else is done with their rows. Their indexes are taken down meanwhile and
 * built anew from all people, which takes a third of the time of bringing them up to date one by one. Nobody else reads
 * people for these seconds, so it is done only where most of all people then are new.
 *
 * @param meanwhile is told whether any of them are known already
 * @returns whether it was done; if not, it cannot be done now, and nothing has happened
 */
async function storePeopleAtOnce(
  store: Store,
  { importId, rows, now }: NewList,
  meanwhile: (anyKnown: boolean) => Promise<void>,
): Promise<boolean> {
  if (await hasMorePeople(store.db, rows)) return false;
  const before = await peopleNow(store.db);
  const anyKnown = await noteKnown(store.db, importId);
  let isUnderWay = false;
  try {
    await store.db.transaction(async (tx) => {
      await waitShortly(tx);
      await tx.execute(sql`lock table contacts in access exclusive mode`);
      if ((await peopleNow(tx)) !== before) throw new NotNow();
      isUnderWay = true;
      await Promise.all([fillPeople(tx, importId, now), meanwhile(anyKnown)]);
    });
    return true;
  } catch (error) {
    if (!isUnderWay && (error instanceof NotNow || failedBy(error, FAILED.lockNotAvailable))) return false;
    throw error;
  }
}

/** Somebody came between; people are stored one by one. */
class NotNow extends Error {}

async function hasMorePeople(db: Queryable, than: number): Promise<boolean> {
  const { rows } = await db.execute<{ more: boolean }>(
    sql`select exists (select from contacts offset ${than}::int) as more`,
  );
  return rows[0]?.more ?? false;
}

/** Tells whether people were added or went meanwhile. */
async function peopleNow(db: Queryable): Promise<string> {
  const { rows } = await db.execute<{ state: string }>(
    sql`select count(*) || ' up to ' || coalesce(max(id), 0) as state from contacts`,
  );
  return rows[0]?.state ?? '';
}

/** Writes beside the staged people whom Baton knows under an id of their own. @returns whether there are any */
async function noteKnown(db: Queryable, importId: number): Promise<boolean> {
  const { rowCount } = await db.execute(sql`
    update ${stagedPeople(importId)} p set known = c.id from contacts c where c.key = p.key and c.id <> p.id`);
  return (rowCount ?? 0) > 0;
}

/** Adds those who are not known, without the indexes but the one by id, and builds these anew. */
async function fillPeople(tx: Queryable, importId: number, now: number): Promise<void> {
  const indexes = (await indexesOf(tx, 'contacts')).filter((index) => !index.isPrimary);
  for (const { name, constraint } of indexes)
    await tx.execute(
      sql.raw(constraint === null ? `drop index ${name}` : `alter table contacts drop constraint ${name}`),
    );
  await tx.execute(sql`
    insert into contacts (id, address, key, domain, created_at)
    select id, coalesce(address, key), key, domain, ${now}::bigint from ${stagedPeople(importId)} where known is null`);
  for (const { name, definition, constraint } of indexes)
    await tx.execute(
      sql.raw(constraint === null ? definition : `alter table contacts add constraint ${name} ${constraint}`),
    );
}
