import { sql } from 'drizzle-orm';
import type { Queryable } from '../database';
import { isOpenRecipient } from './state-conditions';

/** Somebody with a minute of their own who has not been written to yet, and when they are to be. */
export interface OwnTimePlanned {
  address: string;
  zone: string | null;
  notBefore: number;
  sendMinute: number;
  /** Instant. */
  gets: number;
  paceSeconds: number;
}

export async function ownTimesPlanned(db: Queryable, campaignId: number): Promise<OwnTimePlanned[]> {
  const { rows } = await db.execute<OwnTimePlanned & Record<string, unknown>>(sql`
    select c.address, r.zone, e.not_before as "notBefore", e.send_minute as "sendMinute", d.instant::float8 as gets,
      m.pace_seconds as "paceSeconds"
    from enrolments e join contacts c on c.id = e.contact_id join list_rows r on r.id = e.list_row_id
      join deliveries d on d.enrolment_id = e.id and d.state = 'planned' and d.instant is not null
      join campaign_steps s on s.campaign_id = d.campaign_id and s.position = d.step and s.place = 0 and not s.is_out
      join mailboxes m on m.id = d.mailbox_id
    where e.campaign_id = ${campaignId} and e.send_minute is not null and e.not_before is not null and e.sent = 0
      and ${isOpenRecipient(sql`e.state`)}`);
  return rows;
}

/** Enrolments of people not yet written to whose row says another day on which to send, since a change of their list. */
export interface SendOnChanged {
  id: number;
  windowZone: 'recipient' | 'workspace';
  zone: string | null;
  notBefore: number | null;
  sendMinute: number | null;
  /** What the row said before the change, and says after it. */
  before: string | null;
  after: string | null;
}

export async function sendOnsChanged(tx: Queryable, changeId: number): Promise<SendOnChanged[]> {
  const { rows } = await tx.execute<SendOnChanged & Record<string, unknown>>(sql`
    select e.id, c.window_zone as "windowZone", r.zone, e.not_before as "notBefore", e.send_minute as "sendMinute",
      x.before->>'sendOn' as before, x.after->>'sendOn' as after
    from list_change_rows x join list_rows r on r.id = x.row_id
      join enrolments e on e.list_row_id = r.id and e.sent = 0 and ${isOpenRecipient(sql`e.state`)}
      join campaigns c on c.id = e.campaign_id and c.state in ('running', 'held')
    where x.change_id = ${changeId} and x.after ? 'sendOn' order by e.id`);
  return rows;
}

export async function putSendOns(
  tx: Queryable,
  rows: readonly { id: number; notBefore: number | null; sendMinute: number | null }[],
): Promise<void> {
  for (let i = 0; i < rows.length; i += 5000) {
    const part = rows.slice(i, i + 5000);
    const column = (of: (row: (typeof part)[number]) => number | null) => sql`${sql.param(part.map(of))}::int[]`;
    await tx.execute(sql`
      update enrolments e set not_before = u.day, send_minute = u.minute
      from unnest(${column((r) => r.id)}, ${column((r) => r.notBefore)}, ${column((r) => r.sendMinute)}) as u(id, day, minute)
      where e.id = u.id`);
  }
}
