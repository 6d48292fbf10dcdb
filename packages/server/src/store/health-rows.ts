import type { MailboxHealth, SentOutcome } from '@baton/core';
import { sql } from 'drizzle-orm';
import type { Queryable } from './database';

/** What came of the messages of a mailbox, newest first: all handed over since an instant, `most` at most. */
export async function sentOutcomes(
  db: Queryable,
  mailboxId: number,
  afterMs: number,
  most: number,
): Promise<SentOutcome[]> {
  const { rows } = await db.execute<{ at: string; kinds: string[]; verdict: string }>(sql`
    select a.started_at as at, a.verdict,
      coalesce((select array_agg(e.kind) from events e where e.delivery_id = a.delivery_id), '{}') as kinds
    from attempts a
    where a.mailbox_id = ${mailboxId} and a.started_at > ${afterMs} and a.verdict in ('accepted', 'permanent', 'too_much', 'mailbox_refused')
    order by a.started_at desc limit ${most}`);
  return rows.map(({ at, kinds, verdict }) => ({ sentAt: Number(at), result: resultOf(kinds, verdict) }));
}

/** The worst of what happened to a message, or the answer to it. */
function resultOf(kinds: readonly string[], verdict: string): SentOutcome['result'] {
  if (kinds.includes('complaint')) return 'complaint';
  if (kinds.includes('bounce')) return 'hard_bounce';
  if (kinds.includes('soft_bounce')) return 'soft_bounce';
  if (verdict !== 'accepted') return 'refused';
  return kinds.includes('reply') ? 'reply' : 'nothing';
}

/** What came of the messages of every mailbox since an instant; mailboxes that sent nothing are absent. */
export async function healthSince(db: Queryable, afterMs: number): Promise<Map<number, MailboxHealth>> {
  const { rows } = await db.execute<MailboxHealth & { id: number } & Record<string, unknown>>(sql`
    with tries as (
      select a.mailbox_id, a.verdict, (select array_agg(e.kind) from events e where e.delivery_id = a.delivery_id) as kinds
      from attempts a
      where a.started_at > ${afterMs} and a.verdict in ('accepted', 'permanent', 'too_much', 'mailbox_refused')
    )
    select mailbox_id as id, count(*)::int as sent,
      count(*) filter (where kinds && '{bounce,soft_bounce}')::int as bounces,
      count(*) filter (where verdict <> 'accepted' and not coalesce(kinds && '{bounce,soft_bounce}', false))::int as refusals,
      count(*) filter (where 'complaint' = any(kinds))::int as complaints,
      count(*) filter (where 'reply' = any(kinds))::int as replies
    from tries group by mailbox_id`);
  return new Map(rows.map(({ id, ...health }) => [id, health]));
}

/** The most that each mailbox has sent on one day since a day. */
export async function mostSentSince(db: Queryable, fromDay: number): Promise<Map<number, number>> {
  const { rows } = await db.execute<{ id: number; most: number }>(
    sql`select mailbox_id as id, max(messages)::int as most from mailbox_days where day >= ${fromDay} group by mailbox_id`,
  );
  return new Map(rows.map((r) => [r.id, r.most]));
}
