import { RECIPIENT_STATES, recipientStateWords, type OutcomeKey } from '@baton/core';
import { sql, type SQL } from 'drizzle-orm';
import { outcomeGiven } from '../../campaigns/outcome-rows';
import { isWaiting, takesOutcome } from '../../campaigns/state-conditions';
import { campaigns, deliveries, enrolments, incoming, listRows, workspace } from '../../schema/schema';

/** The newest enrolment of a list's row. */
const newest = (what: SQL): SQL =>
  sql`(select ${what} from ${enrolments} e where e.contact_id = ${listRows.contactId} and e.list_row_id = ${listRows.id} order by e.id desc limit 1)`;

/** An instant on the workspace's clock, as `2026-11-30 09:14`. */
const localWords = (instant: SQL): SQL =>
  sql`to_char(to_timestamp(${instant} / 1000.0) at time zone (select w.zone from ${workspace} w where w.id = 1), 'YYYY-MM-DD HH24:MI')`;

const stateWords = sql`case e.state ${sql.join(
  RECIPIENT_STATES.map(
    (state) => sql`when ${sql.raw(`'${state}'`)} then ${sql.raw(`'${recipientStateWords(state)}'`)}`,
  ),
  sql` `,
)} end`;

const CELLS: Readonly<Record<OutcomeKey, SQL>> = {
  '@campaign': newest(sql`(select c.name from ${campaigns} c where c.id = e.campaign_id)`),
  '@state': newest(stateWords),
  '@sent': newest(
    sql`(select ${localWords(sql`max(d.sent_at)`)} from ${deliveries} d where d.enrolment_id = e.id and d.sent_at is not null)`,
  ),
  '@next': newest(
    sql`(select ${localWords(sql`min(d.instant)`)} from ${deliveries} d where d.enrolment_id = e.id and ${isWaiting(sql`d.state`)})`,
  ),
  '@replied': newest(
    sql`(select ${localWords(sql`min(i.received_at)`)} from ${incoming} i where i.enrolment_id = e.id and ${takesOutcome(sql`i.kind`)})`,
  ),
  '@outcome': newest(outcomeGiven(sql`e.id`)),
};

/** A cell of an outcome column as text, null where blank; the statement must have the list's rows. */
export const outcomeCell = (key: OutcomeKey): SQL => CELLS[key];
