import { sql } from 'drizzle-orm';
import { COUNTED_DELIVERIES } from '@baton/core';
import type { Queryable } from '../database';
import { isOneOf, isOpenRecipient, isWaiting } from './state-conditions';

/** What there is to come of a campaign. */
export interface Standing {
  /** When the next message leaves that nobody holds, and from which address; null when none has a time. */
  nextAt: number | null;
  nextMailbox: string | null;
  /** People to whom more is to come. */
  people: number;
  /** Messages that a person holds. */
  heldMessages: number;
  sentToday: number;
}

/** @param today local day number */
export async function standingOf(db: Queryable, campaignId: number, today: number): Promise<Standing> {
  const { rows } = await db.execute<Standing & Record<string, unknown>>(sql`
    select n.instant::float8 as "nextAt", n.address as "nextMailbox",
      (select count(*)::int from enrolments e where e.campaign_id = ${campaignId} and ${isOpenRecipient(sql`e.state`)}) as people,
      (select count(*)::int from deliveries d where d.campaign_id = ${campaignId} and ${isWaiting(sql`d.state`)} and d.held_at is not null) as "heldMessages",
      (select count(*)::int from deliveries d where d.campaign_id = ${campaignId} and d.day = ${today}
        and ${isOneOf(sql`d.state`, COUNTED_DELIVERIES)}) as "sentToday"
    from (select 1) one left join lateral (
      select d.instant, m.address from deliveries d join mailboxes m on m.id = d.mailbox_id
      where d.campaign_id = ${campaignId} and ${isWaiting(sql`d.state`)} and d.held_at is null and d.instant is not null
      order by d.instant, d.id limit 1) n on true`);
  return rows[0] as Standing;
}
