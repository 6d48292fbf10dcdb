import { sql } from 'drizzle-orm';
import { campaignsToEnrolSql } from '../campaigns/campaign-rows';
import { isWaiting } from '../campaigns/state-conditions';
import { prepared, type Queryable } from '../database';
import { connectionKeyOf } from '../mailboxes/mailbox-rows';
import { firstUnreadSignalSql, nextLastDayEndSql, toPassOverSql } from '../signals/signal-rows';
import type { ClockRow } from '../workspace-rows';

/** A mailbox that is read, for all addresses of its connection. */
export interface ToRead {
  id: number;
  lastReadAt: number | null;
}

/** A mailbox that has something to send, or a try that broke off. */
export interface ToSend {
  mailboxId: number;
  at: number;
  /** Whether a try broke off, that must be cleared up before anything else. */
  isBroken: boolean;
}

/** What the duties ask of the database to know when they are next due, in one statement. */
export interface Agenda {
  /** Since when a new plan is wanted; null for not. */
  planWantedAt: number | null;
  /** Local day number of the last night's plan; null before the first. */
  nightlyPlanDay: number | null;
  zone: string;
  /** When the next feed is to be looked at, 0 for one that never was; null without any. */
  nextFeedAt: number | null;
  /** Whether a list has changed from which a running campaign takes new people. */
  hasNewPeople: boolean;
  /** When the next campaign ends by its last day; null for none. */
  nextEndAt: number | null;
  /** When the earliest open or click came that has not been told apart from programs' yet. */
  firstSignalAt: number | null;
  /** Whether a follow-up can go to somebody no more, by what they have done. */
  hasToPassOver: boolean;
  /** When the next last day ends of a follow-up that somebody is still to get; null for none. */
  nextLastDayEnd: number | null;
  toRead: ToRead[];
  toSend: ToSend[];
  clock: ClockRow;
}

/**
 * When everything is next due. As a statement for each duty, asking took a third of the time of a simulated week.
 *
 * @param settle how long after its beginning a try that broke off is looked for, and after the first look again
 * @param realMs real time, by which letters by hand leave
 */
export async function readAgenda(
  db: Queryable,
  settle: { firstMs: number; againMs: number },
  realMs: number,
): Promise<Agenda> {
  const [agenda] = await agendas(db, { ...settle, realMs });
  if (!agenda) throw new Error('the rows of workspace and clock are missing');
  return agenda;
}

const agendas = prepared<{ firstMs: number; againMs: number; realMs: number }, Agenda>(
  'agenda',
  (value) => sql`
    select w.plan_wanted_at::float8 as "planWantedAt", w.nightly_plan_day as "nightlyPlanDay", w.zone,
      (select min(coalesce(f.looked_at + f.every_minutes * 60000, 0))::float8
        from list_feeds f join lists l on l.id = f.list_id where l.removed_at is null) as "nextFeedAt",
      exists (${campaignsToEnrolSql}) as "hasNewPeople",
      (select extract(epoch from min((c.end_date::date + make_interval(mins => coalesce(c.end_minute, 1440))) at time zone w.zone))::float8 * 1000
        from campaigns c where c.end_date is not null and c.state in ('running', 'held')) as "nextEndAt",
      ${firstUnreadSignalSql}::float8 as "firstSignalAt",
      exists (${toPassOverSql}) as "hasToPassOver", ${nextLastDayEndSql} as "nextLastDayEnd",
      coalesce((select json_agg(json_build_object('id', id, 'lastReadAt', last_read_at)) from (
        select distinct on (${connectionKeyOf(sql`m`)}) m.id, m.last_read_at, m.problem from mailboxes m
        order by ${connectionKeyOf(sql`m`)}, m.id) first where problem is null), '[]'::json) as "toRead",
      coalesce((select json_agg(json_build_object('mailboxId', id, 'at', at, 'isBroken', broken)) from (
        select id, min(at) as at, bool_or(broken) as broken from (
          select m.id, greatest(d.instant, coalesce(m.last_sent_at + m.pace_seconds::bigint * 1000, 0), coalesce(m.send_retry_at, 0)) as at, false as broken
          from mailboxes m
          cross join lateral (
            select d.instant from deliveries d join campaigns c on c.id = d.campaign_id and c.state = 'running'
            where d.mailbox_id = m.id and ${isWaiting(sql`d.state`)} and d.instant is not null and d.held_at is null
            order by d.instant limit 1
          ) d
          where not m.held and m.problem is null and not w.held_all
          union all
          select d.mailbox_id, coalesce(a.looked_at + ${value('againMs')}::bigint, a.started_at + ${value('firstMs')}::bigint), true
          from deliveries d join attempts a on a.delivery_id = d.id and a.verdict is null
          where d.state = 'sending'
          union all
          select l.mailbox_id, coalesce(m.send_retry_at, 0), false from letters l join mailboxes m on m.id = l.mailbox_id
          where l.state = 'waiting' and l.leaves_at <= ${value('realMs')}::bigint and not m.held and m.problem is null and not w.held_all
          union all
          select l.mailbox_id, 0, true from letters l where l.state = 'sending'
            and coalesce(l.looked_at + ${value('againMs')}::bigint, l.started_at + ${value('firstMs')}::bigint) <= ${value('realMs')}::bigint
          ) due group by id) sends), '[]'::json) as "toSend",
      json_build_object('id', c.id, 'simulated', c.simulated, 'nowMs', c.now_ms, 'anchorRealMs', c.anchor_real_ms,
        'rate', c.rate, 'untilMs', c.until_ms, 'toNextEvent', c.to_next_event) as clock
    from workspace w, clock c where w.id = 1 and c.id = 1`,
);
