import { DEFAULT_REST_BOUNDS, type DateForm, type RestBounds } from '@baton/core';
import { sql } from 'drizzle-orm';
import { boolean, doublePrecision, integer, jsonb, pgTable, text } from 'drizzle-orm/pg-core';
import { instant } from './column-types';

/** ISO local date and what it is called. */
export interface Holiday {
  day: string;
  name: string;
}

export const workspace = pgTable('workspace', {
  id: integer().primaryKey().default(1),
  /** By which it is known outside of the database, and as which it comes back from a backup. */
  key: text()
    .notNull()
    .default(sql`gen_random_uuid()::text`),
  name: text().notNull(),
  zone: text().notNull(),
  postalAddress: text().notNull(),
  /** How dates are written. */
  dateForm: text().$type<DateForm>().notNull().default('day_month'),
  /** What links to the public pages begin with, as others reach them; '' where nobody else can. */
  publicAddress: text().notNull().default(''),
  /** Where campaigns' rows are written after each day, '' for nowhere; the last local day of which they were, and what came of it. */
  rowsFolder: text().notNull().default(''),
  rowsDay: integer(),
  /** Whether some of the last files could not be written. */
  rowsFailed: boolean().notNull().default(false),
  rowsFound: text().notNull().default(''),
  heldAll: boolean().notNull().default(false),
  /** When a new plan was asked for; null when the plan is up to date. */
  planWantedAt: instant(),
  /** Whether that plan is to be made from scratch, as after a person's decision, and not from the one there is. */
  planFresh: boolean().notNull().default(false),
  /** How often a plan has been asked for: one that was made for an earlier asking is old. */
  planAsked: integer().notNull().default(0),
  /** Local day number on which the night's plan was last made. */
  nightlyPlanDay: integer(),
  /** Most messages to one domain from one mailbox on one day, or null. */
  domainCap: integer(),
  /** Days that are not working days and on which no mailbox sends. */
  holidays: jsonb().$type<Holiday[]>().notNull().default([]),
  /** When a mailbox rests by itself. */
  restBounds: jsonb().$type<RestBounds>().notNull().default(DEFAULT_REST_BOUNDS),
  /** Part of the address under which the plan can be subscribed to; null while it cannot. */
  calendarKey: text(),
});

/** One row. Real time: `simulated` false and the rest unused. */
export const clock = pgTable('clock', {
  id: integer().primaryKey().default(1),
  simulated: boolean().notNull(),
  /** Simulated time reached. */
  nowMs: instant().notNull(),
  /** Real time at which it was reached. */
  anchorRealMs: instant().notNull(),
  /** Simulated per real time; 0 while held. */
  rate: doublePrecision().notNull(),
  /** Drive as fast as the work allows until then. */
  untilMs: instant(),
  /** Drive to the next send or the next thing a simulated person does. */
  toNextEvent: boolean().notNull().default(false),
});

/** What needs a person and was put off: by the need's key, until which ISO date. */
export const needsPutOff = pgTable('needs_put_off', {
  key: text().primaryKey(),
  until: text().notNull(),
});
