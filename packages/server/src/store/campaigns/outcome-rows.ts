import type { Outcome } from '@baton/contract';
import type { SeenMessages } from '@baton/core';
import { eq, inArray, sql, type SQL, type SQLWrapper } from 'drizzle-orm';
import { batches, type Queryable } from '../database';
import { campaigns, campaignSteps, deliveries, enrolments, incoming, mailboxes } from '../schema/schema';
import { isForList, takesOutcome } from './state-conditions';

/** What a person said last came of an enrolment; null before. Of a message that was no answer after all it says nothing. */
export const outcomeGiven = (enrolment: SQLWrapper): SQL<Outcome | null> => sql`(select i.outcome from ${incoming} i
  where i.enrolment_id = ${enrolment} and i.outcome is not null and ${takesOutcome(sql`i.kind`)}
  order by i.received_at desc, i.id desc limit 1)`;

/** What the recipient of an enrolment `e` did with its messages, as JSON; times are instants. */
export const seenOf = (enrolment: SQLWrapper): SQL<SeenMessages<number | null>> => sql`(select json_build_object(
    'opens', coalesce(sum(n.opens), 0), 'firstOpenedAt', min(n.first_open_at), 'lastOpenedAt', max(n.last_open_at),
    'clicks', coalesce(sum(n.clicks), 0), 'links', coalesce((select json_agg(distinct s.link) from signals s
      join ${deliveries} d on d.id = s.delivery_id where d.enrolment_id = ${enrolment} and s.kind = 'click' and s.machine = ''), '[]'::json))
  from delivery_signals n where n.enrolment_id = ${enrolment})`;

export const NOTHING_SEEN: SeenMessages<null> = {
  opens: 0,
  firstOpenedAt: null,
  lastOpenedAt: null,
  clicks: 0,
  links: [],
};

/** Of a campaign, what those did who did anything, by enrolment. */
export async function seenByRecipients(
  db: Queryable,
  campaignId: number,
): Promise<Map<number, SeenMessages<number | null>>> {
  const { rows } = await db.execute<{ id: number; seen: SeenMessages<number | null> }>(sql`
    select e.id, ${seenOf(sql`e.id`)} as seen from ${enrolments} e
    where e.campaign_id = ${campaignId} and e.opened_at is not null`);
  return new Map(rows.map((r) => [r.id, r.seen]));
}

/** The same with times as they are written in files. */
export const seenAt = (
  seen: SeenMessages<number | null>,
  local: (ms: number | null) => string,
): SeenMessages<string> => ({
  ...seen,
  firstOpenedAt: local(seen.firstOpenedAt),
  lastOpenedAt: local(seen.lastOpenedAt),
});

/** What became of a row in the newest campaign that took it in. */
export interface RowOutcome {
  campaign: string;
  state: (typeof enrolments.$inferSelect)['state'];
  reason: string;
  mailbox: string;
  sentAt: number[];
  repliedAt: number | null;
  outcome: string;
  seen: SeenMessages<number | null>;
}

/** @returns by row id; rows that no campaign took in are absent */
export async function outcomesOfRows(db: Queryable, rowIds: readonly number[]): Promise<Map<number, RowOutcome>> {
  const out = new Map<number, RowOutcome>();
  for (const batch of batches(rowIds)) {
    const rows = await db
      .select({
        rowId: enrolments.listRowId,
        campaign: campaigns.name,
        state: enrolments.state,
        reason: enrolments.reason,
        mailbox: sql<string>`coalesce(${mailboxes.address}, '')`,
        sentAt: sql<
          number[] | null
        >`(select json_agg(d.sent_at order by d.sent_at) from ${deliveries} d where d.enrolment_id = ${enrolments.id} and d.sent_at is not null)`,
        repliedAt: sql<
          string | null
        >`(select min(i.received_at) from ${incoming} i where i.enrolment_id = ${enrolments.id} and ${takesOutcome(sql`i.kind`)})`,
        outcome: sql<string>`coalesce(${outcomeGiven(enrolments.id)}, '')`,
        seen: seenOf(sql`${enrolments.id}`),
      })
      .from(enrolments)
      .innerJoin(campaigns, eq(campaigns.id, enrolments.campaignId))
      .leftJoin(mailboxes, eq(mailboxes.id, enrolments.mailboxId))
      .where(inArray(enrolments.listRowId, batch))
      .orderBy(enrolments.id);
    for (const { rowId, sentAt, repliedAt, ...r } of rows)
      out.set(rowId, { ...r, sentAt: sentAt ?? [], repliedAt: repliedAt === null ? null : Number(repliedAt) });
  }
  return out;
}

/**
 * The most messages that any campaign of a list has, or anybody has had of one: what was taken out of a campaign while it ran
 * has left to some.
 */
export async function mostSteps(db: Queryable, listId: number): Promise<number> {
  const isForIt = isForList({ listId: sql`c.list_id`, alsoParts: sql`c.also_parts` }, listId);
  const { rows } = await db.execute<{ n: number }>(sql`
    select greatest(
      (select coalesce(max(s.place) + 1, 1) from ${campaignSteps} s join ${campaigns} c on c.id = s.campaign_id
        where ${isForIt} and not s.is_out),
      (select coalesce(max(own.n), 1) from (
        select count(*) as n from ${deliveries} d join ${campaigns} c on c.id = d.campaign_id
        where ${isForIt} and d.sent_at is not null group by d.enrolment_id) own))::int as n`);
  return rows[0]?.n ?? 1;
}
