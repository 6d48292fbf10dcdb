import type { SetOperation } from '@baton/contract';
import { sql } from 'drizzle-orm';
import type { Queryable } from '../../database';

/** Puts the people of other lists on a new one: each person's values from the first of the lists that has any. */
export async function addCombined(
  tx: Queryable,
  listId: number,
  how: SetOperation,
  listIds: readonly number[],
): Promise<void> {
  const from = sql`(select x::int as id, o from jsonb_array_elements_text(${JSON.stringify(listIds)}::jsonb) with ordinality t(x, o))`;
  const chosen = {
    union: sql`true`,
    intersection: sql`n = ${listIds.length}`,
    difference: sql`n = 1 and least_o = 1`,
  }[how];
  await tx.execute(sql`
    insert into list_rows (list_id, contact_id, position, zone, send_on, fields, notes)
    select ${listId}, contact_id, row_number() over (order by least_o, first_position) - 1, zone, send_on, fields, notes
    from (
      select r.contact_id, min(c.o) as least_o, count(*) as n,
        (array_agg(r.position order by c.o))[1] as first_position,
        (array_agg(r.zone order by (r.zone is null), c.o))[1] as zone,
        (array_agg(r.send_on order by (r.send_on is null), c.o))[1] as send_on,
        jsonb_merge(r.fields order by c.o desc) as fields,
        (array_agg(r.notes order by c.o))[1] as notes
      from list_rows r join ${from} c on c.id = r.list_id
      where r.removed_at is null group by r.contact_id
    ) p
    where ${chosen}`);
}
