import { ENDING_BOUNCES, OPEN_STATES } from '@baton/core';
import { sql, type SQL } from 'drizzle-orm';
import { outcomeGiven } from '../campaigns/outcome-rows';
import { isOneOf, takesOutcome } from '../campaigns/state-conditions';
import { LOCKS, type Queryable, type Store } from '../database';

/** Outcomes that mean interest, and those that mean a meeting. */
const INTERESTED = ['interested', 'meeting'];
const MEETING = ['meeting'];

const isQuiet = sql`p.replied_at is null`;

/** What is counted of people `p`, or of a message to each, by column of `result_counts` and `text_counts`. */
export const SHOWN_MEASURES = {
  written: sql`true`,
  bounced: sql`p.state = 'bounced'`,
  unreachable: sql`p.state = 'bounced' and p.bounced_by = 'soft_bounce'`,
  blocked: sql`p.state = 'bounced' and p.bounced_by = 'blocked'`,
  unsubscribed: sql`p.state = 'unsubscribed'`,
  complained: sql`p.complained`,
  opened: sql`p.opened_at is not null`,
  clicked: sql`p.clicked_at is not null`,
  by_programs: sql`p.by_programs`,
  replied: sql`p.replied_at is not null`,
  interested: isOneOf(sql`p.outcome`, INTERESTED),
  meetings: isOneOf(sql`p.outcome`, MEETING),
} as const;

/** What is counted of people only. */
export const MEASURES = {
  ...SHOWN_MEASURES,
  silent: sql`${isQuiet} and p.state not in ('bounced', 'unsubscribed')`,
  to_come: sql`${isQuiet} and ${isOneOf(sql`p.state`, OPEN_STATES)}`,
  may_reply: sql`${isQuiet} and ${isOneOf(sql`p.state`, ['in_progress', 'done'])}`,
  will_not: sql`${isQuiet} and p.state not in ('bounced', 'in_progress', 'done')`,
} as const;
const columnsOf = (measures: Readonly<Record<string, SQL>>, of: (column: string, is: SQL) => SQL): SQL =>
  sql.join(
    Object.entries(measures).map(([column, is]) => of(column, is)),
    sql`, `,
  );
const named = (column: string): SQL => sql.raw(column);

/** What is known of one message to somebody, as bits of a number in `person_results.marks`. */
const MARKS = { opened: 1, clicked: 2, byPrograms: 4, forClicked: 8 } as const;
const has = (mark: keyof typeof MARKS): SQL => sql`u.mark & ${sql.raw(String(MARKS[mark]))} > 0`;
const marksOf = sql.join(
  Object.entries({
    opened: sql`n.first_open_at is not null`,
    clicked: sql`n.first_click_at is not null`,
    byPrograms: sql`n.by_machine > 0 and n.opens = 0`,
    forClicked: sql`d.for_clicked`,
  } satisfies Record<keyof typeof MARKS, SQL>).map(
    ([mark, is]) => sql`case when ${is} then ${sql.raw(String(MARKS[mark as keyof typeof MARKS]))} else 0 end`,
  ),
  sql` + `,
);

/** How many milliseconds the time of a first message is counted by: time zones differ by whole quarters of an hour. */
export const QUARTER_MS = 15 * 60_000;

/**
 * Everybody of some recipients `e` to whom something has left: when, what they did, what they answered. One who answered
 * three times has answered once. The one place that says what results are made of.
 */
const factsOf = (ids: SQL): SQL => sql`
  with mine as materialized (
    select e.id, e.campaign_id, e.contact_id, e.list_row_id, e.variant, e.state, e.opened_at, e.clicked_at, min(d.sent_at) as first_at,
      (array_agg(d.mailbox_id order by d.sent_at, d.id))[1] as mailbox_id,
      array_agg(d.step order by d.sent_at, d.id) as steps, array_agg(d.sent_at order by d.sent_at, d.id) as sent_at,
      array_agg(coalesce(d.version_id, 0) order by d.sent_at, d.id) as versions, array_agg(${marksOf} order by d.sent_at, d.id) as marks
    from enrolments e join deliveries d on d.enrolment_id = e.id left join delivery_signals n on n.delivery_id = d.id
    where e.id = any(${ids}) and d.sent_at is not null
    group by e.id
  ), answered as materialized (
    select i.enrolment_id, min(i.received_at) as replied_at, (array_agg(i.delivery_id order by i.received_at, i.id))[1] as delivery_id
    from incoming i where i.enrolment_id = any(${ids}) and ${takesOutcome(sql`i.kind`)}
    group by i.enrolment_id
  ), complained as materialized (
    select distinct v.enrolment_id from events v join mine on mine.id = v.enrolment_id and v.contact_id = mine.contact_id
    where v.kind = 'complaint' and v.undone_at is null
  ), by_programs as materialized (
    select n.enrolment_id from delivery_signals n where n.enrolment_id = any(${ids})
    group by n.enrolment_id having sum(n.by_machine) > 0 and sum(n.opens) = 0
  )
  select m.id, m.campaign_id, m.contact_id, m.list_row_id, m.variant, m.state, m.opened_at, m.clicked_at, m.first_at, m.mailbox_id,
    m.steps, m.sent_at, m.versions, m.marks, (select n.country from delivery_signals n where n.enrolment_id = m.id
      and n.country is not null order by n.first_click_at, n.delivery_id limit 1), a.replied_at,
    -- The message that the reply refers to, or else the last before it.
    coalesce((select d.step from deliveries d where d.id = a.delivery_id and d.enrolment_id = m.id and d.sent_at is not null),
      (select d.step from deliveries d where d.enrolment_id = m.id and d.sent_at <= a.replied_at order by d.sent_at desc, d.id desc limit 1)),
    case when a.enrolment_id is not null then ${outcomeGiven(sql`m.id`)} end, complained.enrolment_id is not null, by_programs.enrolment_id is not null,
    -- Whoever another campaign's bounce has ended has no such address: nothing else ends other campaigns.
    case when m.state = 'bounced' then coalesce((select v.kind from events v
      where v.contact_id = m.contact_id and v.enrolment_id = m.id and ${isOneOf(sql`v.kind`, ENDING_BOUNCES)} and v.undone_at is null
      order by v.id desc limit 1), 'hard_bounce') end
  from mine m left join answered a on a.enrolment_id = m.id left join complained on complained.enrolment_id = m.id
    left join by_programs on by_programs.enrolment_id = m.id`;

/** People in all their campaigns together, a row each. @param which a condition on `person_results p` */
export const togetherOf = (which: SQL): SQL => sql`
  select case when bool_and(p.state = 'bounced') then 'bounced' when bool_or(p.state = 'unsubscribed') then 'unsubscribed' else '' end as state,
    (array_agg(p.bounced_by order by p.first_at desc, p.enrolment_id desc) filter (where p.bounced_by is not null))[1] as bounced_by,
    bool_or(p.complained) as complained, bool_or(p.by_programs) and min(p.opened_at) is null as by_programs,
    min(p.opened_at) as opened_at, min(p.clicked_at) as clicked_at, min(p.replied_at) as replied_at,
    (array_agg(p.outcome order by p.replied_at desc, p.enrolment_id desc) filter (where p.outcome is not null))[1] as outcome
  from person_results p where ${which} group by p.contact_id`;

/** Adds what these people come to to the counts, or takes it out of them. */
async function addUp(tx: Queryable, sign: 1 | -1, people: { ids: SQL; contacts: SQL }): Promise<void> {
  const count = (measures: Readonly<Record<string, SQL>>) =>
    columnsOf(measures, (_, is) => sql`${sql.raw(String(sign))} * count(*) filter (where ${is})`);
  const add = (measures: Readonly<Record<string, SQL>>, table: string) =>
    columnsOf(
      measures,
      (column) => sql`${named(column)} = ${named(table)}.${named(column)} + excluded.${named(column)}`,
    );
  const counted = count(MEASURES);
  const into = sql`insert into result_counts (campaign_id, told_by, key, ${columnsOf(MEASURES, named)})`;
  const summed = sql`on conflict (campaign_id, told_by, key) do update
    set ${add(MEASURES, 'result_counts')}`;
  await tx.execute(sql`${into}
    select p.campaign_id, k.told_by, k.key, ${counted}
    from person_results p cross join lateral (values ('all', 0), ('variant', p.variant), ('mailbox', p.mailbox_id),
      ('quarter', (p.first_at / ${QUARTER_MS}::bigint)::int)) as k(told_by, key)
    where p.enrolment_id = any(${people.ids}) group by 1, 2, 3 ${summed}`);
  await tx.execute(
    sql`${into} select 0, 'all', 0, ${counted} from (${togetherOf(sql`p.contact_id = any(${people.contacts})`)}) p having count(*) > 0 ${summed}`,
  );
  // A message is its reader's last one, and led to what ended the campaign for them, or it is not.
  const isLast = sql`u.place = array_length(q.steps, 1)`;
  await tx.execute(sql`
    insert into text_counts (campaign_id, step, version_id, variant, for_clicked, ${columnsOf(SHOWN_MEASURES, named)})
    select p.campaign_id, p.step, p.version_id, p.variant, p.for_clicked, ${count(SHOWN_MEASURES)} from (
      select q.campaign_id, u.step, u.version_id, q.variant, ${has('forClicked')} as for_clicked,
        case when ${isLast} then q.state else 'in_progress' end as state, q.bounced_by, ${isLast} and q.complained as complained,
        case when ${has('opened')} then 0 end as opened_at, case when ${has('clicked')} then 0 end as clicked_at,
        ${has('byPrograms')} as by_programs,
        case when q.reply_step = u.step then q.replied_at end as replied_at,
        case when q.reply_step = u.step then q.outcome end as outcome
      from person_results q cross join lateral unnest(q.steps, q.versions, q.marks) with ordinality as u(step, version_id, mark, place)
      where q.enrolment_id = any(${people.ids})) p
    group by 1, 2, 3, 4, 5
    on conflict (campaign_id, step, version_id, variant, for_clicked) do update set ${add(SHOWN_MEASURES, 'text_counts')}`);
  await tx.execute(sql`
    insert into step_counts (campaign_id, step, quarter, sent)
    select p.campaign_id, u.step, (u.at / ${QUARTER_MS}::bigint)::int, ${sql.raw(String(sign))} * count(*)
    from person_results p cross join lateral unnest(p.steps, p.sent_at) as u(step, at)
    where p.enrolment_id = any(${people.ids}) group by 1, 2, 3
    on conflict (campaign_id, step, quarter) do update set sent = step_counts.sent + excluded.sent`);
}

/** Changes that are counted in one transaction. */
const AT_ONCE = 20_000;

/**
 * Counts what has changed since it was counted last: the people concerned are looked at afresh, and the difference is
 * added to the counts. So their order does not matter, nor how often one is noted.
 *
 * @returns how many changes were counted
 */
export async function countResults({ db }: Pick<Store, 'db'>): Promise<number> {
  let all = 0;
  for (;;) {
    const counted = await countSome(db);
    all += counted;
    if (counted < AT_ONCE) return all;
  }
}

async function countSome(db: Queryable): Promise<number> {
  const { rows: due } = await db.execute(sql`select from result_changes limit 1`);
  if (due.length === 0) return 0;
  return db.transaction(async (tx) => {
    await tx.execute(sql`select pg_advisory_xact_lock(${LOCKS.results}, 0)`);
    const { rows } = await tx.execute<{ id: number }>(sql`
      delete from result_changes where id in (select id from result_changes order by id limit ${AT_ONCE}) returning enrolment_id as id`);
    if (rows.length === 0) return 0;
    const ids = sql`${sql.param([...new Set(rows.map((r) => r.id))])}::int[]`;
    const { rows: concerned } = await tx.execute<{ id: number }>(sql`
      select contact_id as id from person_results where enrolment_id = any(${ids})
      union select contact_id from enrolments where id = any(${ids})`);
    const people = { ids, contacts: sql`${sql.param(concerned.map((c) => c.id))}::int[]` };
    await addUp(tx, -1, people);
    await tx.execute(sql`delete from person_results where enrolment_id = any(${ids})`);
    await tx.execute(sql`
      insert into person_results (enrolment_id, campaign_id, contact_id, list_row_id, variant, state, opened_at, clicked_at, first_at, mailbox_id,
        steps, sent_at, versions, marks, country, replied_at, reply_step, outcome, complained, by_programs, bounced_by) ${factsOf(ids)}`);
    await addUp(tx, 1, people);
    return rows.length;
  });
}
