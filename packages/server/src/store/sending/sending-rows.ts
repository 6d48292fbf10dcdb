import {
  type StepTerms,
  COUNTED_DELIVERIES,
  DAY_MS,
  RECIPIENT_STATES,
  stateAfter,
  type CampaignHours,
  type MessageContent,
  type RecipientState,
  type RecipientWindow,
  type SequenceStep,
  type MessageWatches,
} from '@baton/core';
import { sql, type SQL } from 'drizzle-orm';
import { CHANNEL } from '../changes';
import { LOCKS, prepared, type Bound, type Queryable } from '../database';
import { connectionKey, connectionKeyOf, isCounted, type MailboxRow } from '../mailboxes/mailbox-rows';
import { isOneOf, isWaiting } from '../campaigns/state-conditions';
import { contentOfDelivery, conversationBefore, isForClicked, lastConversation } from './sent-rows';

/*
 * The three statements of sending one message. Each is one round trip on purpose: as a chain of small look-ups the
 * same work took four times as long.
 */

/** A delivery whose time has come, with all that decides whether it may leave and what leaves. */
export interface DueDelivery {
  id: number;
  enrolmentId: number;
  campaignId: number;
  step: number;
  units: number;
  tries: number;
  /** Whether it is at its planned time, and not at one after a refusal. */
  isPlanned: boolean;
  instant: number;
  /** Whether its copies have gone out before. */
  copiesSent: boolean;
  /** Whether a person wants it sent at once. */
  isUrgent: boolean;
  /** The messages of the campaign, in order, with the numbers of their steps. */
  steps: (SequenceStep & Pick<StepTerms, 'quotes' | 'lastDay' | 'hours'> & { position: number })[];
  campaign: CampaignHours &
    MessageWatches & {
      name: string;
      listName: string;
      dailyLimit: number | null;
      window: RecipientWindow;
      windowZone: 'recipient' | 'workspace';
      needsLines: boolean;
      recipients: number;
    };
  /** As it was at the campaign's start, of the recipient's variant; null where the step has none. */
  message: { content: MessageContent | null; forClicked: boolean };
  /** The recipient's personal line, where one was looked at: what was decided, and of which text. */
  line: { state: 'approved' | 'rejected'; line: string } | null;
  person: {
    contactId: number;
    address: string;
    key: string;
    domain: string;
    zone: string | null;
    fields: Record<string, string>;
    state: RecipientState;
    opened: boolean;
    clicked: boolean;
    sent: number;
    lastSentDay: number | null;
    notBefore: number | null;
    sendMinute: number | null;
    position: number;
  };
  /** `holidays`: ISO dates. */
  workspace: { key: string; zone: string; postalAddress: string; publicAddress: string; holidays: string[] };
  /** Why nothing may go to the address or its domain; null when it may. */
  suppression: string | null;
  /** Units the mailbox has used on its day, and in the 24 hours before now. */
  usedToday: number;
  usedIn24h: number;
  /** Messages of the campaign that left today from any mailbox. */
  campaignToday: number;
  /** Messages of the thread so far, oldest first; none for one that begins a thread. */
  thread: { messageId: string; subject: string }[];
}

/** Units that left by a connection in the 24 hours before, from all of its mailboxes, by campaigns and otherwise. */
const unitsOfConnection = (key: SQL, nowMs: SQL): SQL => sql`(select coalesce(sum(u.units), 0)::int from (
    select mailbox_id, started_at as at, units from attempts a where ${isCounted(sql`a.verdict`)}
    union all select mailbox_id, at, units from other_sends) u
  where u.mailbox_id in (select o.id from mailboxes o where ${connectionKeyOf(sql`o`)} = ${key})
    and u.at > ${nowMs} - ${DAY_MS})`;

const dueDelivery = prepared<{ mailboxId: number; day: number; nowMs: number }, DueDelivery>(
  'lock_due_delivery',
  (value) => sql`
    with due as (
      select d.* from deliveries d join campaigns c on c.id = d.campaign_id and c.state = 'running'
      where d.mailbox_id = ${value('mailboxId')} and ${isWaiting(sql`d.state`)} and d.instant <= ${value('nowMs')} and d.held_at is null
      order by d.instant, d.id limit 1 for update of d skip locked
    )
    select d.id, d.enrolment_id as "enrolmentId", d.campaign_id as "campaignId", d.step, d.units, d.tries, d.state = 'planned' as "isPlanned", d.instant::float8 as instant, d.copies_sent as "copiesSent", d.is_urgent as "isUrgent",
      coalesce((select json_agg(json_build_object('position', position, 'delay', delay, 'condition', condition, 'quotes', quotes,
          'lastDay', last_day, 'hours', hours) order by place)
        from campaign_steps where campaign_id = d.campaign_id and not is_out), '[]'::json) as steps,
      json_build_object('name', c.name, 'dailyLimit', c.daily_limit, 'window', c."window", 'windowZone', c.window_zone,
        'startDate', c.start_date, 'startMinute', c.start_minute, 'endDate', c.end_date, 'endMinute', c.end_minute,
        'watchesOpens', c.watches_opens, 'watchesClicks', c.watches_clicks,
        'needsLines', c.needs_lines, 'recipients', c.recipients,
        'listName', coalesce((select name from lists where id = r.list_id), '')) as campaign,
      json_build_object('content', ${contentOfDelivery}, 'forClicked', ${isForClicked}) as message,
      (select json_build_object('state', l.state, 'line', l.line) from personal_lines l where l.list_row_id = e.list_row_id) as line,
      json_build_object('contactId', p.id, 'address', p.address, 'key', p.key, 'domain', p.domain, 'zone', r.zone,
        'fields', r.fields, 'state', e.state, 'opened', e.opened_at is not null, 'clicked', e.clicked_at is not null, 'sent', e.sent, 'lastSentDay', e.last_sent_day, 'notBefore', e.not_before, 'sendMinute', e.send_minute, 'position', e.position) as person,
      (select json_build_object('key', key, 'zone', zone, 'postalAddress', postal_address, 'publicAddress', public_address,
        'holidays', coalesce((select json_agg(h->>'day') from jsonb_array_elements(holidays) h), '[]'::json)) from workspace where id = 1) as workspace,
      (select reason from suppressions where key in (p.key, p.domain) limit 1) as suppression,
      coalesce((select units from mailbox_days where mailbox_id = d.mailbox_id and day = ${value('day')}), 0) as "usedToday",
      (select case when own.provider_limit24h is null then 0
          else ${unitsOfConnection(connectionKeyOf(sql`own`), sql`${value('nowMs')}::bigint`)} end
        from mailboxes own where own.id = d.mailbox_id) as "usedIn24h",
      case when c.daily_limit is null then 0 else (select count(*)::int from deliveries o
        where o.campaign_id = d.campaign_id and ${isOneOf(sql`o.state`, COUNTED_DELIVERIES)} and o.day = ${value('day')}) end as "campaignToday",
      case when s.answers_last and s.place = 0 then ${conversationBefore} when d.step = 0 or s.starts_thread then '[]'::json else coalesce((select json_agg(json_build_object('messageId', a.message_id, 'subject', a.subject) order by o.sent_at)
        from deliveries o join attempts a on a.delivery_id = o.id and a.verdict = 'accepted'
        where o.enrolment_id = d.enrolment_id and o.state = 'sent' and o.sent_at >= coalesce((
          select max(b.sent_at) from deliveries b join campaign_steps t on t.campaign_id = b.campaign_id and t.position = b.step
          where b.enrolment_id = d.enrolment_id and b.state = 'sent' and t.starts_thread), 0)), '[]'::json) end as thread
    from due d
    join campaigns c on c.id = d.campaign_id
    join enrolments e on e.id = d.enrolment_id
    join contacts p on p.id = e.contact_id
    join list_rows r on r.id = e.list_row_id
    left join campaign_steps s on s.campaign_id = d.campaign_id and s.position = d.step
    left join step_versions v on v.id = d.version_id
    left join ${lastConversation} lately on s.answers_last and s.place = 0`,
);

/** The mailbox's earliest due delivery of a running campaign, locked; null when none is due. */
export async function lockDueDelivery(
  tx: Queryable,
  wanted: { mailboxId: number; day: number; nowMs: number },
): Promise<DueDelivery | null> {
  return (await dueDelivery(tx, wanted))[0] ?? null;
}

/**
 * Keeps others, until the transaction ends, from counting towards a limit that mailboxes share: a campaign's day, the
 * provider's 24 hours of one connection.
 *
 * @returns whether there is such a limit, so that what was counted before is to be counted again
 */
export async function lockShared(
  tx: Queryable,
  mailbox: MailboxRow,
  { campaignId, campaign }: Pick<DueDelivery, 'campaignId' | 'campaign'>,
): Promise<boolean> {
  const ofCampaign = campaign.dailyLimit !== null;
  const ofConnection = mailbox.providerLimit24h !== null;
  if (ofCampaign) await tx.execute(sql`select pg_advisory_xact_lock(${LOCKS.campaignDay}, ${campaignId})`);
  if (ofConnection) await lockConnection(tx, mailbox);
  return ofCampaign || ofConnection;
}

/** The same of the provider's limit alone. */
export async function lockConnection(tx: Queryable, mailbox: MailboxRow): Promise<void> {
  await tx.execute(sql`select pg_advisory_xact_lock(${LOCKS.connection}, hashtext(${connectionKey(mailbox)}))`);
}

/** Units that left by a mailbox's connection in the 24 hours before, whatever was counted for a limit. */
export async function unitsIn24h(tx: Queryable, mailbox: MailboxRow, nowMs: number): Promise<number> {
  const sum = unitsOfConnection(sql`${connectionKey(mailbox)}`, sql`${nowMs}::bigint`);
  const { rows } = await tx.execute<{ units: number }>(sql`select ${sum} as units`);
  return rows[0]?.units ?? 0;
}

/** A try that is about to be made. */
interface Try {
  deliveryId: number;
  mailboxId: number;
  day: number;
  /** What the mailbox may send on that day. */
  quota: number;
  units: number;
  messageId: string;
  subject: string;
  /** Whether it has the text for those who have followed a link; null where that is not known. */
  forClicked: boolean | null;
  nowMs: number;
}

const sendingMarked = prepared<Record<keyof Try, unknown>, { id: number }>(
  'mark_sending',
  (value) => sql`
    with used as (
      insert into mailbox_days (mailbox_id, day, units, messages, quota)
      values (${value('mailboxId')}, ${value('day')}, ${value('units')}, 1, ${value('quota')})
      on conflict (mailbox_id, day) do update
        set units = mailbox_days.units + excluded.units, messages = mailbox_days.messages + 1, quota = excluded.quota
    ), marked as (
      update deliveries set state = 'sending', day = ${value('day')}, units = ${value('units')}, tries = tries + 1,
        for_clicked = ${value('forClicked')}
      where id = ${value('deliveryId')}
    )
    insert into attempts (delivery_id, mailbox_id, message_id, subject, units, started_at)
    values (${value('deliveryId')}, ${value('mailboxId')}, ${value('messageId')}, ${value('subject')}, ${value('units')},
      ${value('nowMs')})
    returning id`,
);

/**
 * Writes the attempt, counts the units and marks the delivery `sending`: from here on it may have left.
 *
 * @returns the attempt's id
 */
export async function markSending(tx: Queryable, attempt: Try): Promise<number> {
  return ((await sendingMarked(tx, { ...attempt }))[0] as { id: number }).id;
}

/** The same as a statement that is still to be sent; its one row has the attempt's id. */
export const markingSending = (attempt: Try): Bound<{ id: number }> => sendingMarked.bind({ ...attempt });

/** The recipient's state after its own message left, as core has it, for each state that it may be in. */
function stateOnce(event: 'sent' | 'sent_last'): SQL {
  const cases = RECIPIENT_STATES.map((state) => sql`when ${state} then ${stateAfter(state, event, true)}`);
  return sql`(case state ${sql.join(cases, sql` `)} end)`;
}

/** A message that was taken. */
export interface Sent {
  deliveryId: number;
  attemptId: number;
  answer: string;
  day: number;
  atMs: number;
  /** Whether open pages are told. PostgreSQL lets transactions that tell something commit only one after another. */
  tells: boolean;
}

const sentMarked = prepared<Record<keyof Sent, unknown>, { last: boolean }>(
  'mark_sent',
  (value) => sql`
    with tried as (
      update attempts set verdict = 'accepted', answer = ${value('answer')} where id = ${value('attemptId')}
    ), d as (
      update deliveries set state = 'sent', sent_at = ${value('atMs')}, instant = ${value('atMs')}, reason = ''
      where id = ${value('deliveryId')} and state <> 'sent' returning id, enrolment_id, campaign_id, step, mailbox_id
    ), n as (
      select own.place + 1 as sent, own.place + 1 >= (select count(*) from campaign_steps s where s.campaign_id = d.campaign_id and not s.is_out) as last
      from d, lateral (select coalesce((select s.place from campaign_steps s where s.campaign_id = d.campaign_id and s.position = d.step), d.step) as place) own
    ), e as (
      update enrolments set sent = n.sent, last_sent_day = ${value('day')}, mailbox_id = d.mailbox_id,
        state = case when n.last then ${stateOnce('sent_last')} else ${stateOnce('sent')} end,
        changed_at = ${value('atMs')}
      from d, n where enrolments.id = d.enrolment_id returning contact_id
    ), m as (
      update mailboxes set last_sent_at = greatest(last_sent_at, ${value('atMs')}) from d where mailboxes.id = d.mailbox_id
    ), noted as (
      insert into events (at, kind, contact_id, enrolment_id, delivery_id, detail)
      select ${value('atMs')}, 'sent', e.contact_id, d.enrolment_id, d.id, '' from d, e
    )
    select n.last, case when ${value('tells')}::boolean then pg_notify(${CHANNEL}, 'today') end,
      case when ${value('tells')}::boolean then pg_notify(${CHANNEL}, 'progress') end from n`,
);

/**
 * Marks a delivery as sent and its recipient as one message further, unless something has stopped them meanwhile. One that
 * is marked so already stays as it is.
 *
 * @returns whether it was the last message of its recipient
 */
export async function markSent(db: Queryable, sent: Sent): Promise<boolean> {
  const { deliveryId, attemptId, answer, day, atMs, tells } = sent;
  return (await sentMarked(db, { deliveryId, attemptId, answer, day, atMs, tells }))[0]?.last ?? false;
}
