import type { MessageContent } from '@baton/core';
import { sql, type SQL } from 'drizzle-orm';
import type { Queryable } from '../database';

/** One message of a campaign to one recipient, with all that it is made of. */
export interface EnrolledMessage {
  enrolmentId: number;
  step: number;
  address: string;
  fields: Record<string, string>;
  zone: string | null;
  content: MessageContent | null;
  /** Whether it begins a thread, under its own subject. */
  startsThread: boolean;
  /** Whether the message before it in its thread is below it. */
  quotes: boolean;
  /** The messages of the earlier conversation that it answers, or answered when it left, oldest first; none where it answers none. */
  answered: { messageId: string; subject: string }[];
  mailboxId: number | null;
  campaignName: string;
  listName: string;
  position: number;
  recipients: number;
  /** When it left; null before. */
  sentAt: number | null;
  /** Under which subject it left, and with which Message-ID (without brackets). */
  sentSubject: string | null;
  sentMessageId: string | null;
}

/** Whether a delivery `d` of a recipient `e` is for those who have followed a link, as it is now, or was when it left. */
export const isForClicked: SQL<boolean> = sql`coalesce(d.for_clicked, e.clicked_at is not null)`;

/** The text of a step or of a version of it, of the recipient's variant, or what those who have followed a link get instead. */
const textIn = (of: SQL): SQL => sql`coalesce(
  case when ${isForClicked} then nullif(${of}.if_clicked->'content', 'null') end,
  case when e.variant > 0 then nullif(${of}.others->(e.variant - 1)->'content', 'null') end,
  ${of}.content)`;

/** What a delivery `d` of a recipient `e` is made from: the text of step `s`, or version `v` of it as it was when it left. */
export const contentOfDelivery: SQL = sql`(case when v.id is null then ${textIn(sql`s`)} else ${textIn(sql`v`)} end)`;

/** The most messages of an earlier conversation that are named, the newest; and characters of a foreign Message-ID. */
const MOST_NAMED = 20;
const MOST_ID = 250;

/** Whether something had happened when a delivery `d` left; always, where it has not left yet. */
const wasBefore = (at: SQL): SQL => sql`(d.sent_at is null or ${at} <= d.sent_at)`;

/**
 * The last conversation of a mailbox with a person before a delivery `d` of a recipient `e`: what left and what came back, oldest
 * first, under the subject of the first of it.
 */
export const conversationBefore: SQL = sql`coalesce((
  select json_agg(json_build_object('messageId', t.message_id, 'subject', t.subject) order by t.at) from (
    select a.message_id, a.subject, o.sent_at as at from deliveries o join attempts a on a.delivery_id = o.id and a.verdict = 'accepted'
      where o.enrolment_id = lately.id and o.mailbox_id = d.mailbox_id and o.state = 'sent' and ${wasBefore(sql`o.sent_at`)} and o.sent_at >= coalesce((
        select max(b.sent_at) from deliveries b join campaign_steps t on t.campaign_id = b.campaign_id and t.position = b.step
        where b.enrolment_id = lately.id and b.state = 'sent' and t.starts_thread and ${wasBefore(sql`b.sent_at`)}), 0)
    union all
    select i.message_id, i.subject, i.received_at from incoming i
      where i.enrolment_id = lately.id and i.mailbox_id = d.mailbox_id and i.kind = 'reply'
        and ${wasBefore(sql`i.received_at`)} and length(i.message_id) between 1 and ${sql.raw(String(MOST_ID))}
    order by at desc limit ${sql.raw(String(MOST_NAMED))}) t), '[]'::json)`;

/** The enrolment in which the mailbox of a delivery `d` last wrote to the person of a recipient `e`, in another campaign. */
export const lastConversation: SQL = sql`lateral (select o.enrolment_id as id from deliveries o
  join enrolments x on x.id = o.enrolment_id and x.contact_id = e.contact_id and x.id <> e.id
  where o.mailbox_id = d.mailbox_id and o.state = 'sent' and ${wasBefore(sql`o.sent_at`)} order by o.sent_at desc, o.id desc limit 1)`;

/** Messages of a campaign that have left, in the order in which they did, from one behind another on. */
export async function sentOfCampaign(
  db: Queryable,
  campaignId: number,
  after: { sentAt: number; id: number },
  most: number,
): Promise<{ id: number; enrolmentId: number; step: number; sentAt: number }[]> {
  const { rows } = await db.execute<{ id: number; enrolmentId: number; step: number; sentAt: number }>(sql`
    select d.id, d.enrolment_id as "enrolmentId", d.step, d.sent_at::float8 as "sentAt" from deliveries d
    where d.campaign_id = ${campaignId} and d.sent_at is not null and (d.sent_at, d.id) > (${after.sentAt}, ${after.id})
    order by d.sent_at, d.id limit ${most}`);
  return rows;
}

/** @param of which: one step, or every one that has a delivery */
export async function readEnrolledMessages(
  db: Queryable,
  of: { enrolmentId: number; step?: number },
): Promise<EnrolledMessage[]> {
  const { rows } = await db.execute<EnrolledMessage & { sentAt: string | null } & Record<string, unknown>>(sql`
    select e.id as "enrolmentId", d.step, p.address, r.fields, r.zone,
      ${contentOfDelivery} as content, d.step = 0 or coalesce(s.starts_thread, false) as "startsThread",
      coalesce(s.quotes, false) as quotes,
      case when s.answers_last and s.place = 0 then ${conversationBefore} else '[]'::json end as answered,
      d.mailbox_id as "mailboxId", c.name as "campaignName", coalesce(l.name, '') as "listName",
      e.position, c.recipients, d.sent_at as "sentAt",
      (select a.subject from attempts a where a.delivery_id = d.id and d.sent_at is not null order by a.id desc limit 1) as "sentSubject",
      (select a.message_id from attempts a where a.delivery_id = d.id and d.sent_at is not null order by a.id desc limit 1) as "sentMessageId"
    from enrolments e
    join contacts p on p.id = e.contact_id
    join list_rows r on r.id = e.list_row_id
    join campaigns c on c.id = e.campaign_id
    left join lists l on l.id = r.list_id
    join deliveries d on d.enrolment_id = e.id
    left join campaign_steps s on s.campaign_id = e.campaign_id and s.position = d.step
    left join step_versions v on v.id = d.version_id
    left join ${lastConversation} lately on s.answers_last and s.place = 0
    where e.id = ${of.enrolmentId} ${of.step === undefined ? sql`` : sql`and d.step = ${of.step}`}
    order by coalesce(d.sent_at, d.instant), d.step`);
  return rows.map((r) => ({ ...r, sentAt: r.sentAt === null ? null : Number(r.sentAt) }));
}
