import { sql } from 'drizzle-orm';
import type { Queryable } from '../../database';

/** An index of a table, with what made it. */
export interface TableIndex {
  name: string;
  isPrimary: boolean;
  definition: string;
  /** Where it belongs to a constraint: what that says. */
  constraint: string | null;
}

export async function indexesOf(db: Queryable, table: 'contacts' | 'list_rows'): Promise<TableIndex[]> {
  const { rows } = await db.execute<TableIndex & Record<string, unknown>>(sql`
    select i.indexrelid::regclass::text as name, i.indisprimary as "isPrimary",
      pg_get_indexdef(i.indexrelid) as definition, pg_get_constraintdef(c.oid) as constraint
    from pg_index i left join pg_constraint c on c.conindid = i.indexrelid and c.conrelid = i.indrelid
    where i.indrelid = ${table}::regclass`);
  return rows;
}
