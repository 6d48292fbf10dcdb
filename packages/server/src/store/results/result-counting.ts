import { OPEN_STATES } from '@baton/core';
import { sql, type SQL } from 'drizzle-orm';
import { outcomeGiven } from '../campaigns/outcome-rows';
import { isOneOf, takesOutcome } from '../campaigns/state-conditions';
import { LOCKS, type Queryable, type Store } from '../database';

/** Outcomes that mean interest, and those that mean a meeting. */
const INTERESTED = ['interested', 'meeting'];
const MEETING = ['meeting'];

const isQuiet = sql`p.replied_at is null`;

/** What is counted of people `p`, by column of `result_counts`. */
export const MEASURES = {
  written: sql`true`,
  bounced: sql`p.state = 'bounced'`,
  unsubscribed: sql`p.state = 'unsubscribed'`,
  complained: sql`p.complained`,
  opened: sql`p.opened_at is not null`,
  clicked: sql`p.clicked_at is not null`,
  by_programs: sql`p.by_programs`,
  replied: sql`p.replied_at is not null`,
  interested: isOneOf(sql`p.outcome`, INTERESTED),
  meetings: isOneOf(sql`p.outcome`, MEETING),
  silent: sql`${isQuiet} and p.state not in ('bounced', 'unsubscribed')`,
  to_come: sql`${isQuiet} and ${isOneOf(sql`p.state`, OPEN_STATES)}`,
  may_reply: sql`${isQuiet} and ${isOneOf(sql`p.state`, ['in_progress', 'done'])}`,
  will_not: sql`${isQuiet} and p.state not in ('bounced', 'in_progress', 'done')`,
} as const;
const COLUMNS = Object.keys(MEASURES) as (keyof typeof MEASURES)[];
const list = (of: (column: keyof typeof MEASURES) => SQL): SQL => sql.join(COLUMNS.map(of), sql`, `);
const named = (column: string): SQL => sql.raw(column);

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
      array_agg(d.step order by d.sent_at, d.id) as steps, array_agg(d.sent_at order by d.sent_at, d.id) as sent_at
    from enrolments e join deliveries d on d.enrolment_id = e.id
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
    m.steps, m.sent_at, a.replied_at,
    -- The message that the reply refers to, or else the last before it.
    coalesce((select d.step from deliveries d where d.id = a.delivery_id and d.enrolment_id = m.id),
      (select d.step from deliveries d where d.enrolment_id = m.id and d.sent_at <= a.replied_at order by d.sent_at desc, d.id desc limit 1)),
    case when a.enrolment_id is not null then ${outcomeGiven(sql`m.id`)} end, complained.enrolment_id is not null, by_programs.enrolment_id is not null
  from mine m left join answered a on a.enrolment_id = m.id left join complained on complained.enrolment_id = m.id
    left join by_programs on by_programs.enrolment_id = m.id`;

/** People in all their campaigns together, a row each. @param which a condition on `person_results p` */
export const togetherOf = (which: SQL): SQL => sql`
  select case when bool_and(p.state = 'bounced') then 'bounced' when bool_or(p.state = 'unsubscribed') then 'unsubscribed' else '' end as state,
    bool_or(p.complained) as complained, bool_or(p.by_programs) and min(p.opened_at) is null as by_programs,
    min(p.opened_at) as opened_at, min(p.clicked_at) as clicked_at, min(p.replied_at) as replied_at,
    (array_agg(p.outcome order by p.replied_at desc, p.enrolment_id desc) filter (where p.outcome is not null))[1] as outcome
  from person_results p where ${which} group by p.contact_id`;

/** Adds what these people come to to the counts, or takes it out of them. */
async function addUp(tx: Queryable, sign: 1 | -1, people: { ids: SQL; contacts: SQL }): Promise<void> {
  const counted = list((column) => sql`${sql.raw(String(sign))} * count(*) filter (where ${MEASURES[column]})`);
  const into = sql`insert into result_counts (campaign_id, told_by, key, ${list(named)})`;
  const summed = sql`on conflict (campaign_id, told_by, key) do update
    set ${list((column) => sql`${named(column)} = result_counts.${named(column)} + excluded.${named(column)}`)}`;
  await tx.execute(sql`${into}
    select p.campaign_id, k.told_by, k.key, ${counted}
    from person_results p cross join lateral (values ('all', 0), ('variant', p.variant), ('mailbox', p.mailbox_id),
      ('quarter', (p.first_at / ${QUARTER_MS}::bigint)::int)) as k(told_by, key)
    where p.enrolment_id = any(${people.ids}) group by 1, 2, 3 ${summed}`);
  await tx.execute(
    sql`${into} select 0, 'all', 0, ${counted} from (${togetherOf(sql`p.contact_id = any(${people.contacts})`)}) p having count(*) > 0 ${summed}`,
  );
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
        steps, sent_at, replied_at, reply_step, outcome, complained, by_programs) ${factsOf(ids)}`);
    await addUp(tx, 1, people);
    return rows.length;
  });
}
