import { sql } from 'drizzle-orm';
import { waitShortly, type Queryable } from '../../database';
import { FAILED, failedBy } from '../../database-errors';
import { stagedPeople, stagedRows } from '../import/staged-rows';
import { indexesOf } from '../import/table-indexes';

const nameOf = (listId: number) => `list_rows_${Math.trunc(listId)}`;
/** The partition of a list, where it has one of its own. */
const partitionOf = (listId: number) => sql.raw(nameOf(listId));

/** A number in a statement that takes no parameters. */
const number = (n: number) => sql.raw(String(Math.trunc(n)));

/** The table that holds a list's rows. */
export async function tableOfList(db: Queryable, listId: number): Promise<string> {
  const { rows } = await db.execute<{ own: boolean }>(sql`select to_regclass(${nameOf(listId)}) is not null as own`);
  return rows[0]?.own ? nameOf(listId) : 'list_rows_others';
}

/**
 * Makes staged rows into what a list's partition is to be, with every index: the staged table itself, or, where some of
 * the people are known under ids of their own, a new one.
 */
export async function fillPartition(tx: Queryable, importId: number, listId: number, anyKnown: boolean): Promise<void> {
  const [staged, own] = [stagedRows(importId), partitionOf(listId)];
  if (anyKnown) {
    await tx.execute(sql`create table ${own} (like ${staged} including defaults)`);
    await tx.execute(sql`
      insert into ${own} (id, list_id, contact_id, position, zone, send_on, fields, notes)
      select s.id, s.list_id, coalesce(p.known, p.id), s.position, s.zone, s.send_on, s.fields, s.notes
      from ${staged} s join ${stagedPeople(importId)} p on p.id = s.contact_id`);
  } else await tx.execute(sql`alter table ${staged} rename to ${own}`);
  // Joining the others then needs no look at the rows.
  await tx.execute(sql`alter table ${own} add constraint one_list check (list_id = ${number(listId)})`);
  for (const { definition, constraint } of await indexesOf(tx, 'list_rows'))
    await tx.execute(
      constraint === null
        ? sql.raw(definition.replace(/ INDEX \S+ ON ONLY \S+ /, ` INDEX ON ${nameOf(listId)} `))
        : sql`alter table ${own} add ${sql.raw(constraint)}`,
    );
}

/** Lets the rows be seen: as a partition, or, when the other lists are not to be had for an instant, among their rows. */
export async function joinPartition(tx: Queryable, listId: number): Promise<void> {
  const own = partitionOf(listId);
  try {
    await tx.transaction(async (inner) => {
      await waitShortly(inner);
      await inner.execute(sql`alter table list_rows attach partition ${own} for values in (${number(listId)})`);
      await inner.execute(sql`alter table ${own} drop constraint one_list`);
      await inner.execute(sql`set local lock_timeout to default`);
    });
  } catch (error) {
    if (!failedBy(error, FAILED.lockNotAvailable)) throw error;
    await tx.execute(sql`insert into list_rows select * from ${own}`);
    await tx.execute(sql`drop table ${own}`);
  }
}

/** Removes the partition of a list whose rows are gone, if it had one. */
export async function dropPartition(tx: Queryable, listId: number): Promise<void> {
  await tx.execute(sql`drop table if exists ${partitionOf(listId)}`);
}
