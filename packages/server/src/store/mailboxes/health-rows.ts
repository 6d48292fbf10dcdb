import {
  eventsCounting,
  resultOf,
  type HealthCount,
  type MailboxHealth,
  type RecordedEventKind,
  type SentOutcome,
} from '@baton/core';
import { sql, type SQL } from 'drizzle-orm';
import type { Queryable } from '../database';

/** Whether an event belongs to a try `a`: of a message that was sent more than once, to the last one before it. */
const isOfTry = (e: SQL): SQL => sql`${e}.delivery_id = a.delivery_id and ${e}.undone_at is null
  and a.id = (select max(t.id) from attempts t where t.delivery_id = ${e}.delivery_id and t.started_at <= ${e}.at)`;

/** What came of the messages of a mailbox, newest first: all handed over since an instant, `most` at most. */
export async function sentOutcomes(
  db: Queryable,
  mailboxId: number,
  afterMs: number,
  most: number,
): Promise<SentOutcome[]> {
  const { rows } = await db.execute<{ at: string; kinds: RecordedEventKind[]; verdict: string }>(sql`
    select a.started_at as at, a.verdict,
      coalesce((select array_agg(e.kind) from events e where ${isOfTry(sql`e`)}), '{}') as kinds
    from attempts a
    where a.mailbox_id = ${mailboxId} and a.started_at > ${afterMs} and a.verdict in ('accepted', 'permanent', 'too_much', 'mailbox_refused')
    order by a.started_at desc limit ${most}`);
  return rows.map(({ at, kinds, verdict }) => ({
    sentAt: Number(at),
    result: resultOf(kinds, verdict !== 'accepted'),
  }));
}

/** An array of the events that count so. */
const anyOf = (...counts: HealthCount[]): SQL => sql.raw(`'{${eventsCounting(...counts).join(',')}}'`);

/** Tries `t` whose message left, or was refused, with what came of each. */
const tries = (which: SQL): SQL => sql`(
  select a.mailbox_id, a.started_at, a.verdict, (select array_agg(e.kind) from events e where ${isOfTry(sql`e`)}) as kinds
  from attempts a where ${which} and a.verdict in ('accepted', 'permanent', 'too_much', 'mailbox_refused')) t`;

const HEALTH = sql`count(*)::int as sent,
  count(*) filter (where kinds && ${anyOf('hard_bounce', 'soft_bounce')})::int as bounces,
  count(*) filter (where verdict <> 'accepted' and not coalesce(kinds && ${anyOf('hard_bounce', 'soft_bounce')}, false))::int as refusals,
  count(*) filter (where kinds && ${anyOf('complaint')})::int as complaints,
  count(*) filter (where kinds && ${anyOf('reply')})::int as replies`;

/** What came of the messages of every mailbox since an instant; mailboxes that sent nothing are absent. */
export async function healthSince(db: Queryable, afterMs: number): Promise<Map<number, MailboxHealth>> {
  const { rows } = await db.execute<MailboxHealth & { id: number } & Record<string, unknown>>(
    sql`select mailbox_id as id, ${HEALTH} from ${tries(sql`a.started_at > ${afterMs}`)} group by mailbox_id`,
  );
  return new Map(rows.map(({ id, ...health }) => [id, health]));
}

/** The same of one mailbox day by day, on its own clock; days without a message are absent. */
export async function healthByDay(
  db: Queryable,
  { id, zone }: { id: number; zone: string },
  fromDay: string,
): Promise<Map<string, MailboxHealth>> {
  const local = sql`(to_timestamp(started_at / 1000.0) at time zone ${zone})::date`;
  const from = sql`extract(epoch from ${fromDay}::date::timestamp at time zone ${zone}) * 1000`;
  const { rows } = await db.execute<MailboxHealth & { day: string } & Record<string, unknown>>(sql`
    select ${local}::text as day, ${HEALTH} from ${tries(sql`a.mailbox_id = ${id} and a.started_at >= ${from}`)} group by 1`);
  return new Map(rows.map(({ day, ...health }) => [day, health]));
}

/** The most that each mailbox has sent on one day since a day. */
export async function mostSentSince(db: Queryable, fromDay: number): Promise<Map<number, number>> {
  const { rows } = await db.execute<{ id: number; most: number }>(
    sql`select mailbox_id as id, max(messages)::int as most from mailbox_days where day >= ${fromDay} group by mailbox_id`,
  );
  return new Map(rows.map((r) => [r.id, r.most]));
}
