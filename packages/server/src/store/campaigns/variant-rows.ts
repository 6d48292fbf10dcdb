import { sql } from 'drizzle-orm';
import type { Queryable } from '../database';
import { isCountedDelivery } from './state-conditions';

/** Recipients of a campaign who wait for their first message, and whom a variant was drawn for, locked. */
export async function waitingWithVariants(
  tx: Queryable,
  campaignId: number,
  variants: readonly number[],
): Promise<{ id: number; key: string }[]> {
  if (variants.length === 0) return [];
  const { rows } = await tx.execute<{ id: number; key: string }>(sql`
    select e.id, k.key from enrolments e join contacts k on k.id = e.contact_id
    where e.campaign_id = ${campaignId} and e.sent = 0 and e.variant = any(${sql.param([...variants])}::int[])
      and not exists (select from deliveries d where d.enrolment_id = e.id and ${isCountedDelivery(sql`d.state`)})
    order by e.id for update of e`);
  return rows;
}

/** Gives recipients other variants. */
export async function putVariants(tx: Queryable, rows: readonly { id: number; variant: number }[]): Promise<void> {
  if (rows.length === 0) return;
  await tx.execute(sql`
    update enrolments e set variant = u.variant
    from unnest(${sql.param(rows.map((r) => r.id))}::int[], ${sql.param(rows.map((r) => r.variant))}::int[]) as u(id, variant)
    where e.id = u.id`);
}
