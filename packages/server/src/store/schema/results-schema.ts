import { boolean, index, integer, pgTable, primaryKey, serial, text, bigint } from 'drizzle-orm/pg-core';
import { sql } from 'drizzle-orm';
import type { RecipientState } from '@baton/core';
import type { Outcome } from '@baton/contract';
import { instant } from './column-types';

/**
 * Recipients of whom something has changed that results count, noted by triggers of the tables in which it did: whoever
 * writes there waits for nobody. Any number of rows for one recipient.
 */
export const resultChanges = pgTable('result_changes', {
  id: serial().primaryKey(),
  enrolmentId: integer().notNull(),
});

/**
 * What became of everybody to whom something of a campaign has left, as it was counted last. Refers to nothing, so that
 * whoever is gone can be taken out of the counts.
 */
export const personResults = pgTable(
  'person_results',
  {
    enrolmentId: integer().primaryKey(),
    campaignId: integer().notNull(),
    contactId: integer().notNull(),
    listRowId: integer().notNull(),
    variant: integer().notNull(),
    state: text().$type<RecipientState>().notNull(),
    openedAt: instant(),
    clickedAt: instant(),
    /** The country from which they followed a link first, where that is kept. */
    country: text(),
    /** When the first message left, and from where. */
    firstAt: instant().notNull(),
    mailboxId: integer().notNull(),
    /** Positions of the steps that have left, and when each did. */
    steps: integer().array().notNull(),
    sentAt: bigint({ mode: 'number' }).array().notNull(),
    /** Of each of them the earlier text that it had, 0 for the present one; and what it was and led to, as bits. */
    versions: integer().array().notNull(),
    marks: integer().array().notNull(),
    /** When they replied first, and the step that the reply answers. */
    repliedAt: instant(),
    replyStep: integer(),
    outcome: text().$type<Outcome>(),
    complained: boolean().notNull(),
    /** Whether only programs came to their messages. */
    byPrograms: boolean().notNull(),
    /** The event that ended the campaign for them because their messages came back. */
    bouncedBy: text(),
  },
  (t) => [
    index().on(t.campaignId),
    index().on(t.contactId),
    index('person_results_replied')
      .on(t.campaignId, t.repliedAt)
      .where(sql`replied_at is not null`),
  ],
);

const count = () => integer().notNull();

const shown = {
  written: count(),
  bounced: count(),
  /** Of those bounced: whose mailbox was full or out of reach, and whose server would not have the message. */
  unreachable: count(),
  blocked: count(),
  unsubscribed: count(),
  complained: count(),
  opened: count(),
  clicked: count(),
  byPrograms: count(),
  replied: count(),
  interested: count(),
  meetings: count(),
};

/** People of `person_results` counted: of each campaign all, by variant, by mailbox, by the quarter of an hour of the first message. */
export const resultCounts = pgTable(
  'result_counts',
  {
    /** 0 for all campaigns together, where whoever got several counts once. */
    campaignId: integer().notNull(),
    toldBy: text().$type<'all' | 'variant' | 'mailbox' | 'quarter'>().notNull(),
    /** The variant, the mailbox, or how many quarters of an hour since the epoch. */
    key: integer().notNull(),
    ...shown,
    /** Of those who have not replied: who is silent, to whom more is to come, who may reply yet, who will not any more. */
    silent: count(),
    toCome: count(),
    mayReply: count(),
    willNot: count(),
  },
  (t) => [primaryKey({ columns: [t.campaignId, t.toldBy, t.key] })],
);

/** Messages counted by step, text and variant: whom each has reached, and what followed from it before the next. */
export const textCounts = pgTable(
  'text_counts',
  {
    campaignId: integer().notNull(),
    step: integer().notNull(),
    /** One of its earlier texts; 0 for the one that it has now. */
    versionId: integer().notNull(),
    variant: integer().notNull(),
    /** Whether it went to those who have followed a link. */
    forClicked: boolean().notNull(),
    ...shown,
  },
  (t) => [primaryKey({ columns: [t.campaignId, t.step, t.versionId, t.variant, t.forClicked] })],
);

/** How many messages of each step left in each quarter of an hour. */
export const stepCounts = pgTable(
  'step_counts',
  {
    campaignId: integer().notNull(),
    step: integer().notNull(),
    quarter: integer().notNull(),
    sent: count(),
  },
  (t) => [primaryKey({ columns: [t.campaignId, t.step, t.quarter] })],
);
