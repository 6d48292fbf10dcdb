import {
  BOUNCE_EVENTS,
  COUNTED_DELIVERIES,
  FIXED_DELIVERIES,
  hasHadEvery,
  hasReplied,
  KINDS_WITH_OUTCOME,
  OPEN_STATES,
  RECIPIENT_STATES,
  WAITING_DELIVERIES,
} from '@baton/core';
import { sql, type SQL, type SQLWrapper } from 'drizzle-orm';

/**
 * A condition on a state or kind. The values are constants of core, and are written into the statement as literals, so that
 * partial indexes apply.
 */
export const isOneOf = (column: SQLWrapper, values: readonly string[]): SQL =>
  sql`${column} in (${sql.raw(values.map((v) => `'${v}'`).join(', '))})`;

/** Whether a campaign is for people of a list, or of a part of it. */
export const isForList = (
  { listId, alsoParts }: { listId: SQLWrapper; alsoParts: SQLWrapper },
  list: SQLWrapper | number,
): SQL => sql`(${listId} = ${list} or ${alsoParts} @> jsonb_build_array(jsonb_build_object('listId', ${list}::int)))`;

/** Whether more messages may follow for a recipient. @param state column of `enrolments` */
export const isOpenRecipient = (state: SQLWrapper): SQL => isOneOf(state, OPEN_STATES);

/** @param state column of `enrolments` */
export const isReplied = (state: SQLWrapper): SQL => isOneOf(state, RECIPIENT_STATES.filter(hasReplied));

/** @param state column of `enrolments` */
export const hasHadAll = (state: SQLWrapper): SQL => isOneOf(state, RECIPIENT_STATES.filter(hasHadEvery));

/** Whether a person gives an outcome to a message that came in. @param kind column of `incoming` */
export const takesOutcome = (kind: SQLWrapper): SQL => isOneOf(kind, KINDS_WITH_OUTCOME);

/** Whether a message has not left and still may. @param state column of `deliveries` */
export const isWaiting = (state: SQLWrapper): SQL => isOneOf(state, WAITING_DELIVERIES);

/** Whether a message has left, or may have. @param state column of `deliveries` */
export const isCountedDelivery = (state: SQLWrapper): SQL => isOneOf(state, COUNTED_DELIVERIES);

/** Whether a message keeps its mailbox and time in a new plan. @param state column of `deliveries` */
export const isFixed = (state: SQLWrapper): SQL => isOneOf(state, FIXED_DELIVERIES);

/** Whether an event says that a message came back. @param kind column of `events` */
export const isBounce = (kind: SQLWrapper): SQL => isOneOf(kind, BOUNCE_EVENTS);
