import { ENDED_BY, MOST_SIGNALS, OPEN_STATES, type ReadSignals, type Signal } from '@baton/core';
import { sql, type SQL } from 'drizzle-orm';
import { isCountedDelivery, isOneOf } from '../campaigns/state-conditions';
import type { Queryable } from '../database';

/** A request for a picture or a link of a message. */
export interface NewSignal extends Signal {
  deliveryId: number;
  /** Of a click, the country it came from, if that is known: it is kept only where the campaign does. */
  country: string | null;
}

const columnOf =
  <T>(rows: readonly T[]) =>
  (of: (row: T) => number | string | null, type: string): SQL =>
    sql`${sql.param(rows.map(of))}::${sql.raw(type)}[]`;

/** Adds requests; those for messages that have not left, or are gone, and more than are kept of one message, are passed over. */
export async function addSignals(db: Queryable, rows: readonly NewSignal[]): Promise<void> {
  const column = columnOf(rows);
  await db.execute(sql`
    insert into signals (delivery_id, kind, at, link, links, told, country)
    select u.delivery_id, u.kind, u.at, u.link, u.links, u.told, case when c.watches_places then u.country end from unnest(${column((r) => r.deliveryId, 'int')}, ${column((r) => r.kind, 'text')}, ${column((r) => r.at, 'bigint')},
      ${column((r) => r.link, 'text')}, ${column((r) => r.links, 'int')}, ${column((r) => r.told, 'text')}, ${column((r) => r.country, 'text')})
      as u(delivery_id, kind, at, link, links, told, country)
    join deliveries d on d.id = u.delivery_id and (d.sent_at is not null or ${isCountedDelivery(sql`d.state`)})
    join campaigns c on c.id = d.campaign_id
    where (select count(*) from signals s where s.delivery_id = d.id) < ${MOST_SIGNALS}`);
}

/** A message with everything that came back from it. */
export interface SignalledMessage {
  deliveryId: number;
  enrolmentId: number;
  contactId: number;
  sentAt: number;
  /** Whether a person was known to have followed a link in it. */
  wasClicked: boolean;
  signals: (Signal & { id: number; country: string | null })[];
}

/** Messages with requests that came before an instant and have not been told apart yet, so many at most. */
export async function signalledMessages(tx: Queryable, beforeMs: number, most: number): Promise<SignalledMessage[]> {
  const { rows } = await tx.execute<SignalledMessage & Record<string, unknown>>(sql`
    select d.id as "deliveryId", d.enrolment_id as "enrolmentId", e.contact_id as "contactId",
      coalesce(d.sent_at, (select max(a.started_at) from attempts a where a.delivery_id = d.id), 0)::float8 as "sentAt",
      coalesce((select n.clicks > 0 from delivery_signals n where n.delivery_id = d.id), false) as "wasClicked",
      (select json_agg(json_build_object('id', s.id, 'kind', s.kind, 'at', s.at, 'link', s.link, 'links', s.links, 'told', s.told, 'country', s.country) order by s.id)
        from signals s where s.delivery_id = d.id and s.at <= ${beforeMs}) as signals
    from deliveries d join enrolments e on e.id = d.enrolment_id
    where d.id in (select delivery_id from signals where machine is null and at <= ${beforeMs} order by at limit ${most})
    order by d.enrolment_id`);
  return rows;
}

/** Writes down what requests were, and what their messages come to by them. */
export async function putReadSignals(
  tx: Queryable,
  messages: readonly (SignalledMessage & { read: ReadSignals; country: string | null })[],
): Promise<void> {
  const told = columnOf(
    messages.flatMap((m) => m.signals.map(({ id }, i) => ({ id, machine: m.read.machine[i] ?? '' }))),
  );
  await tx.execute(sql`
    update signals s set machine = u.machine
    from unnest(${told((t) => t.id, 'int')}, ${told((t) => t.machine, 'text')}) as u(id, machine)
    where s.id = u.id and s.machine is distinct from u.machine`);
  const column = columnOf(messages);
  const ids = column((m) => m.enrolmentId, 'int');
  // As all do who lock several.
  await tx.execute(sql`select id from enrolments where id = any(${ids}) order by id for update`);
  await tx.execute(sql`
    insert into delivery_signals (delivery_id, enrolment_id, opens, first_open_at, last_open_at, clicks, first_click_at, last_click_at, by_machine, country)
    select u.* from unnest(${column((m) => m.deliveryId, 'int')}, ${ids},
      ${column(({ read }) => read.opens.count, 'int')}, ${column(({ read }) => read.opens.firstAt, 'bigint')}, ${column(({ read }) => read.opens.lastAt, 'bigint')},
      ${column(({ read }) => read.clicks.count, 'int')}, ${column(({ read }) => read.clicks.firstAt, 'bigint')}, ${column(({ read }) => read.clicks.lastAt, 'bigint')},
      ${column(({ read }) => read.byMachine, 'int')}, ${column(({ country }) => country, 'text')})
      as u(delivery_id, enrolment_id, opens, first_open_at, last_open_at, clicks, first_click_at, last_click_at, by_machine, country)
    join deliveries d on d.id = u.delivery_id
    on conflict (delivery_id) do update set opens = excluded.opens, first_open_at = excluded.first_open_at, last_open_at = excluded.last_open_at,
      clicks = excluded.clicks, first_click_at = excluded.first_click_at, last_click_at = excluded.last_click_at, by_machine = excluded.by_machine, country = excluded.country`);
  await tx.execute(sql`
    update enrolments e set opened_at = n.opened, clicked_at = n.clicked
    from (select enrolment_id, min(first_open_at) as opened, min(first_click_at) as clicked from delivery_signals
      where enrolment_id = any(${ids}) group by enrolment_id) n
    where e.id = n.enrolment_id and (e.opened_at, e.clicked_at) is distinct from (n.opened, n.clicked)`);
}

/** When the earliest request came that has not been told apart yet. */
export const firstUnreadSignalSql = sql`(select min(at) from signals where machine is null)`;

const UNDER_WAY = OPEN_STATES.filter((state) => state !== 'waiting');

/** People whose next follow-up can go to them no more, as its condition has it, because of what they have done. */
export const toPassOverSql = sql`
  select e.id, e.campaign_id as "campaignId" from campaign_steps s
  join campaigns c on c.id = s.campaign_id and c.state in ('running', 'held')
  join enrolments e on e.campaign_id = s.campaign_id and e.sent = s.place
  where not s.is_out and s.place > 0 and ${isOneOf(sql`s.condition`, [...new Set([...ENDED_BY.opened, ...ENDED_BY.clicked])])}
    and ${isOneOf(sql`e.state`, UNDER_WAY)} and e.opened_at is not null
    and (${isOneOf(sql`s.condition`, ENDED_BY.opened)} or e.clicked_at is not null)`;

/** Follow-ups with a last day that people are still to get, in campaigns under way: step `s` and recipient `e`. */
const withLastDay = sql`campaign_steps s join campaigns c on c.id = s.campaign_id and c.state in ('running', 'held')
  join enrolments e on e.campaign_id = s.campaign_id and e.sent = s.place and ${isOneOf(sql`e.state`, UNDER_WAY)}
  where s.last_day is not null and s.place > 0 and not s.is_out`;

/** When the next last day of such a follow-up ends, in a workspace `w`; milliseconds. */
export const nextLastDayEndSql = sql`(select extract(epoch from min((s.last_day::date + 1)::timestamp at time zone w.zone))::float8 * 1000
  from ${withLastDay})`;

/** @param today ISO date, on the workspace's clock */
export async function peopleToPassOver(
  db: Queryable,
  today: string,
  most: number,
): Promise<{ id: number; campaignId: number }[]> {
  const { rows } = await db.execute<{ id: number; campaignId: number }>(
    sql`(${toPassOverSql}) union (select e.id, e.campaign_id from ${withLastDay} and s.last_day < ${today}) order by id limit ${most}`,
  );
  return rows;
}
