import { sql } from 'drizzle-orm';
import type { Queryable } from '../database';
import type { PersonStands } from '../schema/schema';
import { isOpenRecipient } from './state-conditions';

/** Somebody not yet written to whose row names another mailbox since a change of their list. */
export interface SenderCellChanged extends PersonStands {
  /** Of the enrolment. */
  id: number;
  campaignId: number;
  contactId: number;
  keepsSender: boolean;
  /** What the row said before the change, and says after it. */
  before: string | null;
  after: string | null;
}

/** Those that are to come or were left out, in campaigns under way whose mailboxes a column names. */
export async function senderCellsChanged(tx: Queryable, changeId: number): Promise<SenderCellChanged[]> {
  const { rows } = await tx.execute<SenderCellChanged & Record<string, unknown>>(sql`
    select e.id, e.campaign_id as "campaignId", e.contact_id as "contactId", e.state, e.reason, e.sent,
      e.not_before as "notBefore", e.mailbox_id as "mailboxId", c.keeps_sender as "keepsSender",
      x.before->'fields'->>c.sender_key as before, x.after->'fields'->>c.sender_key as after
    from list_change_rows x join enrolments e on e.list_row_id = x.row_id and e.sent = 0
        and (${isOpenRecipient(sql`e.state`)} or e.state = 'left_out')
      join campaigns c on c.id = e.campaign_id and c.state in ('running', 'held') and c.sender_key is not null
    where x.change_id = ${changeId} and jsonb_exists(x.after->'fields', c.sender_key) order by e.id`);
  return rows;
}
