import { ACTIVITY_GROUPS, type ActivityGroup } from '@baton/core';
import type { ActivityEntry } from '@baton/contract';
import { sql, type SQL } from 'drizzle-orm';
import { detailOf } from '../campaigns/event-rows';
import { like, type Queryable } from '../database';
import { messagesBefore } from '../sending/delivery-rows';

export interface ActivityAsked {
  /** Null for everything. */
  group: ActivityGroup | null;
  /** A part of an address, of a campaign's name or of a mailbox's address; '' for anything. */
  search: string;
  limit: number;
}

/** What happened to people and to mailboxes, the newest first. */
export async function readActivity(db: Queryable, { group, search, limit }: ActivityAsked): Promise<ActivityEntry[]> {
  const pattern = like(search);
  const kinds = group === null ? null : [...ACTIVITY_GROUPS[group].events];
  const branches: SQL[] = [];
  if (kinds === null || kinds.length > 0)
    branches.push(sql`(select 'p' || e.id as key, e.at::float8 as at, e.kind, ${detailOf(sql`e`)} as detail, ${messagesBefore(sql`d`)} as step,
      case when p.id is null then null else json_build_object('id', p.id, 'address', p.address) end as person,
      case when c.id is null then null else json_build_object('id', c.id, 'name', c.name) end as campaign,
      case when m.id is null then null else json_build_object('id', m.id, 'address', m.address) end as mailbox,
      1 as source, e.id
      from events e
      left join contacts p on p.id = e.contact_id
      left join enrolments n on n.id = e.enrolment_id
      left join campaigns c on c.id = n.campaign_id
      left join deliveries d on d.id = e.delivery_id
      left join mailboxes m on m.id = d.mailbox_id
      where ${kinds === null ? sql`true` : sql`e.kind in ${kinds}`}
      and (${search} = '' or p.address ilike ${pattern} or c.name ilike ${pattern} or m.address ilike ${pattern})
      order by e.at desc, e.id desc limit ${limit})`);
  if (group === null || group === 'mailboxes')
    branches.push(sql`(select 'm' || v.id as key, v.at::float8 as at, null as kind, v.words as detail, null::int as step,
      null::json as person, null::json as campaign, json_build_object('id', m.id, 'address', m.address) as mailbox,
      0 as source, v.id
      from mailbox_events v join mailboxes m on m.id = v.mailbox_id
      where ${search} = '' or m.address ilike ${pattern} or v.words ilike ${pattern}
      order by v.at desc, v.id desc limit ${limit})`);
  const { rows } = await db.execute(
    sql`select key, at, kind, detail, step, person, campaign, mailbox from (${sql.join(branches, sql` union all `)}) all_of_it
      order by at desc, source desc, id desc limit ${limit}`,
  );
  return rows as unknown as ActivityEntry[];
}
