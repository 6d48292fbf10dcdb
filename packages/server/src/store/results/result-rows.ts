import { NO_RESULTS, type ResultCounts, type ResultDimension, type VariantTally } from '@baton/core';
import { MOST_ANSWERS, MOST_GROUPS } from '@baton/contract';
import { sql, type SQL } from 'drizzle-orm';
import type { Queryable } from '../database';
import { MEASURES, QUARTER_MS, SHOWN_MEASURES, togetherOf } from './result-counting';

/** The measures by their names in the contract, and columns of `result_counts`. */
const SHOWN = {
  ...{
    written: 'written',
    bounced: 'bounced',
    unreachable: 'unreachable',
    blocked: 'blocked',
    unsubscribed: 'unsubscribed',
    complained: 'complained',
    opened: 'opened',
  },
  ...{
    clicked: 'clicked',
    byPrograms: 'by_programs',
    replied: 'replied',
    interested: 'interested',
    meetings: 'meetings',
  },
} as const satisfies Record<keyof ResultCounts, keyof typeof SHOWN_MEASURES>;
const counts = (of: (column: keyof typeof SHOWN_MEASURES) => SQL): SQL =>
  sql`json_build_object(${sql.join(
    Object.entries(SHOWN).map(([name, column]) => sql`${sql.raw(`'${name}'`)}, ${of(column)}`),
    sql`, `,
  )})`;

/** Over rows of people `p`, of rows of `result_counts` together, and of one of them. */
const countsOfPeople = counts((column) => sql`count(*) filter (where ${MEASURES[column]})`);
const countsTogetherOf = counts((column) => sql`coalesce(sum(${sql.raw(column)}), 0)`);
const countsOfRow = counts((column) => sql.raw(column));

/** When a quarter of an hour began, in milliseconds. */
const beginOf = (quarter: SQL): SQL => sql`(${quarter} * ${QUARTER_MS}::bigint)`;

/** A quarter of an hour on the clock of a workspace `w`. */
const localTime = (quarter: SQL): SQL =>
  sql`to_timestamp(${quarter} * ${QUARTER_MS / 1000}::float8) at time zone w.zone`;

/** What became of one campaign. */
export interface CampaignCounts {
  campaignId: number;
  /** To the quarter of an hour. */
  firstSentAt: number;
  /** Silent people, and to how many of them a message is still to come. */
  silent: number;
  toCome: number;
  counts: ResultCounts;
}

/** Of every campaign of which something has left, or of one alone. */
export async function countsOfCampaigns(db: Queryable, id?: number): Promise<CampaignCounts[]> {
  const which = id === undefined ? sql`c.campaign_id <> 0` : sql`c.campaign_id = ${id}`;
  const { rows } = await db.execute<CampaignCounts & Record<string, unknown>>(sql`
    select c.campaign_id as "campaignId", silent, to_come as "toCome", ${countsOfRow} as counts,
      (select ${beginOf(sql`min(q.key)`)}::float8 from result_counts q
        where q.campaign_id = c.campaign_id and q.told_by = 'quarter' and q.written > 0) as "firstSentAt"
    from result_counts c where ${which} and c.told_by = 'all' and c.written > 0
    order by "firstSentAt" desc, c.campaign_id desc`);
  return rows;
}

/** How many of a campaign's people have bounced before anything had left to them. */
export async function countRefused(db: Queryable, campaignId: number): Promise<number> {
  const { rows } = await db.execute<{ n: number }>(sql`
    select count(*)::int as n from enrolments e where e.campaign_id = ${campaignId} and e.state = 'bounced'
      and not exists (select from person_results p where p.enrolment_id = e.id)`);
  return rows[0]?.n ?? 0;
}

/** What became of people in all campaigns together: whoever got several counts once. */
export async function countsTogether(db: Queryable): Promise<ResultCounts> {
  const { rows } = await db.execute<{ counts: ResultCounts }>(
    sql`select ${countsOfRow} as counts from result_counts where campaign_id = 0 and told_by = 'all'`,
  );
  return rows[0]?.counts ?? NO_RESULTS;
}

/** People whose first message left between two instants. */
export interface LeftBetween {
  fromMs: number;
  toMs: number;
}

/** What became of those people, campaign by campaign. */
export async function countsInPeriod(db: Queryable, { fromMs, toMs }: LeftBetween): Promise<CampaignCounts[]> {
  const { rows } = await db.execute<CampaignCounts & Record<string, unknown>>(sql`
    select campaign_id as "campaignId", ${beginOf(sql`min(key)`)}::float8 as "firstSentAt", sum(silent)::int as silent,
      sum(to_come)::int as "toCome", ${countsTogetherOf} as counts
    from result_counts
    where told_by = 'quarter' and key >= ${fromMs / QUARTER_MS} and key < ${toMs / QUARTER_MS} and written > 0
    group by campaign_id order by "firstSentAt" desc, campaign_id desc`);
  return rows;
}

/** What became of them together: whoever got several campaigns counts once. */
export async function countsTogetherIn(db: Queryable, { fromMs, toMs }: LeftBetween): Promise<ResultCounts> {
  const { rows } = await db.execute<{ counts: ResultCounts }>(sql`
    select ${countsOfPeople} as counts from (${togetherOf(sql`p.first_at >= ${fromMs} and p.first_at < ${toMs}`)}) p`);
  return rows[0]?.counts ?? NO_RESULTS;
}

/** What became of campaigns, added up: whoever got several counts in each. */
export async function countsAddedUp(db: Queryable, ids: readonly number[]): Promise<ResultCounts> {
  const { rows } = await db.execute<{ counts: ResultCounts }>(sql`
    select ${countsTogetherOf} as counts from result_counts
    where campaign_id = any(${sql.param([...ids])}::int[]) and told_by = 'all'`);
  return rows[0]?.counts ?? NO_RESULTS;
}

/** One message of a campaign, as it left. */
export interface StepCounts {
  step: number;
  sent: number;
  /** To the quarter of an hour. */
  firstSentAt: number;
  lastSentAt: number;
  days: { from: number; to: number; sent: number }[];
  replied: number;
}

export async function countsOfSteps(db: Queryable, campaignId: number): Promise<StepCounts[]> {
  const { rows } = await db.execute<StepCounts & Record<string, unknown>>(sql`
    with by_day as (
      select s.step, min(s.quarter) as first, max(s.quarter) as last, sum(s.sent)::int as sent
      from step_counts s, workspace w where w.id = 1 and s.campaign_id = ${campaignId} and s.sent > 0
      group by s.step, (${localTime(sql`s.quarter`)})::date
    )
    select s.step, sum(s.sent)::int as sent, ${beginOf(sql`min(s.first)`)}::float8 as "firstSentAt", ${beginOf(sql`max(s.last)`)}::float8 as "lastSentAt",
      json_agg(json_build_object('from', ${beginOf(sql`s.first`)}, 'to', ${beginOf(sql`(s.last + 1)`)}, 'sent', s.sent) order by s.first) as days,
      (select count(*)::int from person_results p where p.campaign_id = ${campaignId} and p.replied_at is not null and p.reply_step = s.step) as replied
    from by_day s group by s.step`);
  return rows;
}

/** When replies came, the newest first, and which message brought them. */
export async function answersOf(db: Queryable, campaignId: number): Promise<{ step: number; at: number }[]> {
  const { rows } = await db.execute<{ step: number; at: number }>(sql`
    select reply_step as step, replied_at::float8 as at from person_results
    where campaign_id = ${campaignId} and replied_at is not null and reply_step is not null
    order by replied_at desc limit ${MOST_ANSWERS}`);
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
  const lasted = sql`greatest(0, (${nowMs}::bigint - ${beginOf(sql`q.key`)}) / 3600000)::int`;
  const quarters = sql`result_counts q where q.campaign_id = ${campaignId} and q.told_by = 'quarter'`;
  const { rows } = await db.execute<SilentFor & Record<string, unknown>>(sql`
    select ${lasted} as hours, false as replied, true as "mayReply", sum(q.may_reply)::int as people from ${quarters} and q.may_reply > 0 group by 1
    union all
    select ${lasted}, false, false, sum(q.will_not)::int from ${quarters} and q.will_not > 0 group by 1
    union all
    select greatest(0, (p.replied_at - p.first_at) / 3600000)::int, true, false, count(*)::int from person_results p
    where p.campaign_id = ${campaignId} and p.replied_at is not null and p.state <> 'bounced' group by 1`);
  return rows;
}

/** A group of people, by its key; null for the smallest together. */
export interface GroupCounts {
  key: string | null;
  groups: number;
  counts: ResultCounts;
}

/** When the first message left, on the workspace's clock. @param form as PostgreSQL's `to_char` has it */
const firstLeft = (form: string): SQL => sql`to_char(${localTime(sql`q.key`)}, ${sql.raw(`'${form}'`)})`;

/** What the counts tell people apart by, as text. */
const COUNTED_BY = {
  variant: { toldBy: 'variant', key: sql`q.key::text` },
  mailbox: { toldBy: 'mailbox', key: sql`(select m.address from mailboxes m where m.id = q.key)` },
  weekday: { toldBy: 'quarter', key: firstLeft('ID') },
  hour: { toldBy: 'quarter', key: firstLeft('HH24') },
  /** As `2 09`: the second day of the week, from nine to ten. */
  weekday_hour: { toldBy: 'quarter', key: firstLeft('ID HH24') },
} as const;
type CountedBy = keyof typeof COUNTED_BY;
const isCountedBy = (by: unknown): by is CountedBy => typeof by === 'string' && by in COUNTED_BY;

/** What else tells people apart, as text; '' where they have none. */
const KEYS: Readonly<Record<Exclude<ResultDimension, 'message' | 'segment' | CountedBy>, SQL>> = {
  list: sql`(select l.name from list_rows r join lists l on l.id = r.list_id where r.id = p.list_row_id)`,
  country: sql`p.country`,
  domain: sql`(select k.domain from contacts k where k.id = p.contact_id)`,
};

/** All of them are shown: together they make the picture. */
const HOURS_A_WEEK = 168;

const keyOfField = (key: string): SQL =>
  sql`(select btrim(coalesce(r.fields->>${key}, '')) from list_rows r where r.id = p.list_row_id)`;

/** What became of the people of a campaign, told apart; the smallest groups together. */
export async function countsOfGroups(
  db: Queryable,
  campaignId: number,
  by: Exclude<ResultDimension, 'message' | 'segment'> | { field: string },
): Promise<GroupCounts[]> {
  // Of rows that count, and how many people each is.
  const [keyed, size, counted] = isCountedBy(by)
    ? [
        sql`select q.*, coalesce(${COUNTED_BY[by].key}, '') as key_words from result_counts q, workspace w
          where w.id = 1 and q.campaign_id = ${campaignId} and q.told_by = ${COUNTED_BY[by].toldBy} and q.written > 0`,
        sql`sum(written)`,
        countsTogetherOf,
      ]
    : [
        sql`select p.*, coalesce(${typeof by === 'string' ? KEYS[by] : keyOfField(by.field)}, '') as key_words
          from person_results p where p.campaign_id = ${campaignId}`,
        sql`count(*)`,
        countsOfPeople,
      ];
  const { rows } = await db.execute<GroupCounts & Record<string, unknown>>(sql`
    with keyed as materialized (${keyed}), ranked as (
      select key_words, row_number() over (order by ${size} desc, key_words) as rank from keyed group by key_words
    )
    select case when r.rank <= ${by === 'weekday_hour' ? HOURS_A_WEEK : MOST_GROUPS} then p.key_words end as key, count(distinct p.key_words)::int as groups, ${counted} as counts
    from keyed p join ranked r on r.key_words = p.key_words group by 1`);
  return rows;
}

/** Of each variant of a campaign: whom it had reached by an instant, and how many of them have replied. */
export async function talliesOfVariants(db: Queryable, campaignId: number, untilMs: number): Promise<VariantTally[]> {
  const { rows } = await db.execute<VariantTally & Record<string, unknown>>(sql`
    select p.variant, (count(*) filter (where not ${MEASURES.bounced}))::int as of, (count(*) filter (where ${MEASURES.replied}))::int as count
    from person_results p where p.campaign_id = ${campaignId} and p.first_at <= ${untilMs} group by p.variant`);
  return rows;
}

/** What became of those people of a campaign who stand in these rows of its lists. */
export async function countsOfRows(
  db: Queryable,
  campaignId: number,
  rowIds: readonly number[],
): Promise<ResultCounts> {
  const { rows } = await db.execute<{ counts: ResultCounts }>(sql`
    select ${countsOfPeople} as counts from person_results p
    where p.campaign_id = ${campaignId} and p.list_row_id = any(${sql.param([...rowIds])}::int[])`);
  return rows[0]?.counts ?? NO_RESULTS;
}

/** What became of those who got one message of a campaign, in one of its variants. */
export interface TextCounts {
  step: number;
  /** Which of its earlier texts it had; null for the one that it has now. */
  versionId: number | null;
  variant: number;
  /** Whether it went to those who have followed a link. */
  forClicked: boolean;
  counts: ResultCounts;
}

/** The same by message, its text and variant: whom each of them has reached, and what followed from it before the next. */
export async function countsOfTexts(db: Queryable, campaignId: number): Promise<TextCounts[]> {
  const { rows } = await db.execute<TextCounts & Record<string, unknown>>(sql`
    select step, nullif(version_id, 0) as "versionId", variant, for_clicked as "forClicked", ${countsOfRow} as counts
    from text_counts where campaign_id = ${campaignId} and written > 0`);
  return rows;
}
