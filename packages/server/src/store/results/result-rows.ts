import { NO_RESULTS, type ResultCounts, type ResultDimension } from '@baton/core';
import { MOST_ANSWERS, MOST_GROUPS } from '@baton/contract';
import { sql, type SQL } from 'drizzle-orm';
import { isOneOf, isOpenRecipient, takesOutcome } from '../campaigns/state-conditions';
import type { Queryable } from '../database';

/** Outcomes that mean interest, and those that mean a meeting. */
const INTERESTED = ['interested', 'meeting'];
const MEETING = ['meeting'];

/**
 * Everybody to whom something of campaigns has left, a row each: when, what they did, what they answered. One who answered
 * three times has answered once.
 *
 * @param which a condition on the campaign `c`
 */
const people = (which: SQL): SQL => sql`
  with mine as materialized (
    select e.id, e.campaign_id, e.contact_id, e.list_row_id, e.variant, e.state, e.opened_at, e.clicked_at,
      min(d.sent_at) as first_at, (array_agg(d.mailbox_id order by d.sent_at, d.id))[1] as mailbox_id
    from campaigns c join enrolments e on e.campaign_id = c.id join deliveries d on d.enrolment_id = e.id
    where ${which} and d.sent_at is not null
    group by e.id
  ), answered as materialized (
    select i.enrolment_id, min(i.received_at) as replied_at, (array_agg(i.delivery_id order by i.received_at, i.id))[1] as delivery_id,
      (array_agg(i.outcome order by i.received_at desc, i.id desc) filter (where i.outcome is not null))[1] as outcome
    from incoming i join mine on mine.id = i.enrolment_id
    where ${takesOutcome(sql`i.kind`)}
    group by i.enrolment_id
  ), complained as materialized (
    select distinct v.enrolment_id from events v join mine on mine.id = v.enrolment_id and v.contact_id = mine.contact_id
    where v.kind = 'complaint' and v.undone_at is null
  ), by_programs as materialized (
    select n.enrolment_id from delivery_signals n join mine on mine.id = n.enrolment_id
    group by n.enrolment_id having sum(n.by_machine) > 0 and sum(n.opens) = 0
  ), people as materialized (
    select mine.*, a.replied_at, a.delivery_id as reply_delivery_id, a.outcome,
      complained.enrolment_id is not null as complained, by_programs.enrolment_id is not null as by_programs
    from mine left join answered a on a.enrolment_id = mine.id left join complained on complained.enrolment_id = mine.id
      left join by_programs on by_programs.enrolment_id = mine.id
  )`;

/** Counts over rows of `people` under the name `p`. */
const counts = sql`json_build_object(
  'written', count(*), 'bounced', count(*) filter (where p.state = 'bounced'),
  'unsubscribed', count(*) filter (where p.state = 'unsubscribed'), 'complained', count(*) filter (where p.complained),
  'opened', count(p.opened_at), 'clicked', count(p.clicked_at), 'byPrograms', count(*) filter (where p.by_programs),
  'replied', count(p.replied_at), 'interested', count(*) filter (where ${isOneOf(sql`p.outcome`, INTERESTED)}),
  'meetings', count(*) filter (where ${isOneOf(sql`p.outcome`, MEETING)}))`;

/** What became of one campaign. */
export interface CampaignCounts {
  campaignId: number;
  firstSentAt: number;
  /** Silent people, and to how many of them a message is still to come. */
  silent: number;
  toCome: number;
  counts: ResultCounts;
}

const isSilent = sql`p.replied_at is null and p.state not in ('bounced', 'unsubscribed')`;

/** Of every campaign of which something has left, or of one alone. */
export async function countsOfCampaigns(db: Queryable, id?: number): Promise<CampaignCounts[]> {
  const { rows } = await db.execute<CampaignCounts & Record<string, unknown>>(sql`
    ${people(id === undefined ? sql`true` : sql`c.id = ${id}`)}
    select p.campaign_id as "campaignId", min(p.first_at)::float8 as "firstSentAt", ${counts} as counts,
      (count(*) filter (where ${isSilent}))::int as silent, (count(*) filter (where ${isSilent} and ${isOpenRecipient(sql`p.state`)}))::int as "toCome"
    from people p group by p.campaign_id order by min(p.first_at) desc, p.campaign_id desc`);
  return rows;
}

/** What became of people in campaigns together: whoever got several of them counts once. @param ids which; all without */
export async function countsTogether(db: Queryable, ids?: readonly number[]): Promise<ResultCounts> {
  const which = ids ? sql`c.id = any(${sql.param([...ids])}::int[])` : sql`true`;
  const { rows } = await db.execute<{ counts: ResultCounts }>(sql`
    ${people(which)}, together as (
      select case when bool_and(p.state = 'bounced') then 'bounced' when bool_or(p.state = 'unsubscribed') then 'unsubscribed' else '' end as state,
        bool_or(p.complained) as complained, bool_or(p.by_programs) and min(p.opened_at) is null as by_programs,
        min(p.opened_at) as opened_at, min(p.clicked_at) as clicked_at, min(p.replied_at) as replied_at,
        (array_agg(p.outcome order by p.replied_at desc, p.id desc) filter (where p.outcome is not null))[1] as outcome
      from people p group by p.contact_id
    )
    select ${counts} as counts from together p`);
  return rows[0]?.counts ?? NO_RESULTS;
}

/** One message of a campaign, as it left. */
export interface StepCounts {
  step: number;
  sent: number;
  firstSentAt: number;
  lastSentAt: number;
  replied: number;
}

/** The message that somebody's reply answers: the one that it refers to, or else the last before it. */
const answeredDelivery = sql`coalesce(
  (select d.id from deliveries d where d.id = p.reply_delivery_id and d.enrolment_id = p.id),
  (select d.id from deliveries d where d.enrolment_id = p.id and d.sent_at <= p.replied_at order by d.sent_at desc, d.id desc limit 1))`;

const answers = sql`answers as materialized (
  select d.step, p.replied_at from people p join deliveries d on d.id = ${answeredDelivery} where p.replied_at is not null)`;

export async function countsOfSteps(db: Queryable, campaignId: number): Promise<StepCounts[]> {
  const { rows } = await db.execute<StepCounts & Record<string, unknown>>(sql`
    ${people(sql`c.id = ${campaignId}`)}, ${answers}
    select d.step, count(*)::int as sent, min(d.sent_at)::float8 as "firstSentAt", max(d.sent_at)::float8 as "lastSentAt",
      (select count(*)::int from answers where answers.step = d.step) as replied
    from deliveries d where d.campaign_id = ${campaignId} and d.sent_at is not null group by d.step`);
  return rows;
}

/** When replies came, the newest first, and which message brought them. */
export async function answersOf(db: Queryable, campaignId: number): Promise<{ step: number; at: number }[]> {
  const { rows } = await db.execute<{ step: number; at: number }>(sql`
    ${people(sql`c.id = ${campaignId}`)}, ${answers}
    select step, replied_at::float8 as at from answers order by replied_at desc limit ${MOST_ANSWERS}`);
  return rows;
}

/** People by how many hours they have been silent, or were before they replied. */
export interface SilentFor {
  hours: number;
  replied: boolean;
  /** Whether they may still reply: nothing else has ended it. */
  mayReply: boolean;
  people: number;
}

export async function silencesOf(db: Queryable, campaignId: number, nowMs: number): Promise<SilentFor[]> {
  const { rows } = await db.execute<SilentFor & Record<string, unknown>>(sql`
    ${people(sql`c.id = ${campaignId}`)}
    select greatest(0, (coalesce(p.replied_at, ${nowMs}) - p.first_at) / 3600000)::int as hours, p.replied_at is not null as replied,
      ${isOneOf(sql`p.state`, ['in_progress', 'done'])} as "mayReply", count(*)::int as people
    from people p where p.state <> 'bounced' group by 1, 2, 3`);
  return rows;
}

/** A group of people, by its key; null for the smallest together. */
export interface GroupCounts {
  key: string | null;
  groups: number;
  counts: ResultCounts;
}

/** What tells people apart, as text; '' where they have none. */
const KEYS: Readonly<Record<Exclude<ResultDimension, 'message'>, SQL>> = {
  variant: sql`p.variant::text`,
  mailbox: sql`(select m.address from mailboxes m where m.id = p.mailbox_id)`,
  list: sql`(select l.name from list_rows r join lists l on l.id = r.list_id where r.id = p.list_row_id)`,
  domain: sql`(select k.domain from contacts k where k.id = p.contact_id)`,
  weekday: sql`to_char(to_timestamp(p.first_at / 1000.0) at time zone w.zone, 'ID')`,
  hour: sql`to_char(to_timestamp(p.first_at / 1000.0) at time zone w.zone, 'HH24')`,
};

const keyOfField = (key: string): SQL =>
  sql`(select btrim(coalesce(r.fields->>${key}, '')) from list_rows r where r.id = p.list_row_id)`;

/** What became of the people of a campaign, told apart; the smallest groups together. */
export async function countsOfGroups(
  db: Queryable,
  campaignId: number,
  by: Exclude<ResultDimension, 'message'> | { field: string },
): Promise<GroupCounts[]> {
  const key = typeof by === 'string' ? KEYS[by] : keyOfField(by.field);
  const { rows } = await db.execute<GroupCounts & Record<string, unknown>>(sql`
    ${people(sql`c.id = ${campaignId}`)}, keyed as materialized (
      select p.*, coalesce(${key}, '') as key from people p, workspace w where w.id = 1
    ), ranked as (
      select key, row_number() over (order by count(*) desc, key) as rank from keyed group by key
    )
    select case when r.rank <= ${MOST_GROUPS} then p.key end as key, count(distinct p.key)::int as groups, ${counts} as counts
    from keyed p join ranked r on r.key = p.key group by 1`);
  return rows;
}

/** What became of those who got one message of a campaign, in one of its variants. */
export interface TextCounts {
  step: number;
  variant: number;
  /** Whether it went to those who have followed a link. */
  forClicked: boolean;
  counts: ResultCounts;
}

/**
 * The same by message and variant: whom each of them has reached, and what followed from it before the next.
 *
 * @param asNow whether only what left with the text that the campaign's message has now
 */
export async function countsOfTexts(db: Queryable, campaignId: number, asNow = false): Promise<TextCounts[]> {
  const { rows } = await db.execute<TextCounts & Record<string, unknown>>(sql`
    ${people(sql`c.id = ${campaignId}`)}, got as materialized (
      select d.id, d.step, p.variant, coalesce(d.for_clicked, false) as for_clicked, d.enrolment_id, d.id = (select last.id from deliveries last
        where last.enrolment_id = d.enrolment_id and last.sent_at is not null order by last.sent_at desc, last.id desc limit 1) as is_last
      from deliveries d join people p on p.id = d.enrolment_id
      where d.campaign_id = ${campaignId} and d.sent_at is not null ${asNow ? sql`and d.version_id is null` : sql``}
    ), told as materialized (
      select p.id, ${answeredDelivery} as delivery_id from people p where p.replied_at is not null
    )
    select p.step, p.variant, p.for_clicked as "forClicked", ${counts} as counts from (
      select g.step, g.variant, g.for_clicked, case when g.is_last then q.state else 'in_progress' end as state, g.is_last and q.complained as complained,
        n.first_open_at as opened_at, n.first_click_at as clicked_at,
        n.by_machine > 0 and n.opens = 0 as by_programs,
        case when t.delivery_id is not null then q.replied_at end as replied_at,
        case when t.delivery_id is not null then q.outcome end as outcome
      from got g join people q on q.id = g.enrolment_id left join told t on t.delivery_id = g.id
        left join delivery_signals n on n.delivery_id = g.id) p
    group by p.step, p.variant, p.for_clicked`);
  return rows;
}
