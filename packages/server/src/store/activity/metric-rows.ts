import { sql } from 'drizzle-orm';
import type { Queryable } from '../database';
import { isWaiting } from '../campaigns/state-conditions';

/** What is counted for those who watch over Baton; no addresses, no contents. */
export interface Counted {
  deliveries: Record<string, number>;
  attempts: Record<string, number>;
  incoming: Record<string, number>;
  mailboxes: Record<string, number>;
  /** Messages whose time has come, and the time of the first of them. */
  due: number;
  dueSince: number | null;
}

export async function readCounted(db: Queryable, nowMs: number, today: string): Promise<Counted> {
  const { rows } = await db.execute(sql`
    select
      coalesce((select json_object_agg(state, n) from (select state, count(*)::int as n from deliveries group by state) d), '{}') as deliveries,
      coalesce((select json_object_agg(verdict, n) from
        (select coalesce(verdict, 'open') as verdict, count(*)::int as n from attempts group by 1) a), '{}') as attempts,
      coalesce((select json_object_agg(kind, n) from (select kind, count(*)::int as n from incoming group by kind) i), '{}') as incoming,
      (select json_build_object(
        'shut_out', count(*) filter (where problem is not null),
        'held', count(*) filter (where problem is null and held),
        'resting', count(*) filter (where problem is null and not held and rest_until > ${today}),
        'failing', count(*) filter (where problem is null and not held and send_failed_since is not null),
        'all', count(*)) from mailboxes) as mailboxes,
      (select count(*)::int from deliveries d join campaigns c on c.id = d.campaign_id and c.state = 'running'
        where ${isWaiting(sql`d.state`)} and d.instant <= ${nowMs} and d.held_at is null) as due,
      (select min(d.instant)::float8 from deliveries d join campaigns c on c.id = d.campaign_id and c.state = 'running'
        where ${isWaiting(sql`d.state`)} and d.instant <= ${nowMs} and d.held_at is null) as "dueSince"`);
  return rows[0] as unknown as Counted;
}
