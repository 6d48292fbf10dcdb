import {
  type DeliveryState,
  type IncomingDetails,
  type IncomingKind,
  type MatchSureness,
  type PlanChange,
  type RecipientState,
  type RecordedEventKind,
  type SignalKind,
} from '@baton/core';
import type { LetterState, MailParts, Outcome } from '@baton/contract';
import { sql } from 'drizzle-orm';
import { boolean, index, integer, jsonb, pgTable, serial, text, unique, uniqueIndex } from 'drizzle-orm/pg-core';
import { bytea, instant } from './column-types';
import { campaigns, stepVersions } from './campaign-schema';
import { mailboxes } from './mailbox-schema';
import { contacts } from './people-schema';

export * from './campaign-schema';
export * from './mailbox-schema';
export * from './message-schema';
export * from './people-schema';
export * from './results-schema';
export * from './workspace-schema';

/** What an event changed, as it was before; see `undoEvent`. */
export interface Before {
  eventId: number | null;
  /** The message that failed by it. */
  delivery: { id: number; state: DeliveryState; reason: string } | null;
  /** Recipients whose state it changed, with the state that they have since. */
  enrolments: {
    id: number;
    state: RecipientState;
    reason: string;
    notBefore: number | null;
    since: RecipientState;
    /** Whether it is a colleague's. */
    isColleague?: true;
  }[];
  /** The entry that it put on the suppression list. */
  suppressionId: number | null;
  /** A message that is sent again because of it. Absent in what was kept earlier. */
  again?: SentBefore | null;
  /** The mailbox that it let rest, as it was, and when that rest began. Absent in what was kept earlier. */
  rest?: {
    mailboxId: number;
    since: number | null;
    was: Pick<typeof mailboxes.$inferSelect, 'restUntil' | 'restReason' | 'restMoved' | 'restedAt' | 'ramp'>;
  } | null;
}

/** A message that had left, and how far its recipient was, before it was planned to be sent again. */
export interface SentBefore {
  delivery: {
    id: number;
    state: DeliveryState;
    sentAt: number | null;
    instant: number | null;
    tries: number;
    reason: string;
  };
  enrolmentId: number;
  sent: number;
  lastSentDay: number | null;
  notBefore: number | null;
}

export const enrolments = pgTable(
  'enrolments',
  {
    id: serial().primaryKey(),
    campaignId: integer()
      .notNull()
      .references(() => campaigns.id, { onDelete: 'cascade' }),
    contactId: integer()
      .notNull()
      .references(() => contacts.id),
    listRowId: integer().notNull(),
    mailboxId: integer().references(() => mailboxes.id),
    state: text().$type<RecipientState>().notNull(),
    reason: text().notNull().default(''),
    /** Place of the next message in the sequence, and the mailbox-local day of the last. */
    sent: integer().notNull().default(0),
    lastSentDay: integer(),
    /** Day number before which nothing more is sent (out of office). */
    notBefore: integer(),
    /** The minute of that day at which the first message leaves, on the clock by which the campaign goes; null for any. */
    sendMinute: integer(),
    /** Which variant of the messages, drawn once; 0 is the first. */
    variant: integer().notNull().default(0),
    /** Envelope recipients of one message: 1 and those of Cc and Bcc. */
    units: integer().notNull().default(1),
    /** 1-based place among those the campaign is for; 0 for those left out. */
    position: integer().notNull().default(0),
    changedAt: instant().notNull(),
    /** When they first opened a message, and first followed a link in one, as far as is known; programs on the way not counted. */
    openedAt: instant(),
    clickedAt: instant(),
    /** What was before they left by the link; null where they did not, or came back. */
    beforeLeaving: jsonb().$type<Before>(),
  },
  (t) => [
    unique().on(t.campaignId, t.contactId),
    index().on(t.contactId),
    index().on(t.campaignId, t.state),
    index('enrolments_seen')
      .on(t.campaignId, t.sent)
      .where(sql`state = 'in_progress' and opened_at is not null`),
  ],
);

export const deliveries = pgTable(
  'deliveries',
  {
    id: serial().primaryKey(),
    enrolmentId: integer()
      .notNull()
      .references(() => enrolments.id, { onDelete: 'cascade' }),
    campaignId: integer()
      .notNull()
      .references(() => campaigns.id, { onDelete: 'cascade' }),
    /** The step's `position`. */
    step: integer().notNull(),
    /** What of the step's message was sent, where that was changed later; null for what it is now. */
    versionId: integer().references(() => stepVersions.id),
    mailboxId: integer()
      .notNull()
      .references(() => mailboxes.id),
    day: integer().notNull(),
    /** Null while it waits for a new plan. */
    instant: instant(),
    units: integer().notNull().default(1),
    state: text().$type<DeliveryState>().notNull(),
    reason: text().notNull().default(''),
    /** Whether it is the text for those who have followed a link; null until it leaves, when that is settled. */
    forClicked: boolean(),
    /** Whether its copies have been taken in a try in which the recipient was not. */
    copiesSent: boolean().notNull().default(false),
    tries: integer().notNull().default(0),
    sentAt: instant(),
    /** Whether a person wants it sent at once, whatever the recipient's hours and the wait before it. */
    isUrgent: boolean().notNull().default(false),
    /** When a person held it with its day's batch; it waits until they let it go. */
    heldAt: instant(),
  },
  (t) => [
    unique().on(t.enrolmentId, t.step),
    index('deliveries_due')
      .on(t.mailboxId, t.instant)
      .where(sql`state in ('planned', 'deferred')`),
    index('deliveries_sent').on(t.mailboxId, t.sentAt),
    index('deliveries_unsettled')
      .on(t.state, t.mailboxId)
      .where(sql`state in ('sending', 'unconfirmed')`),
    index().on(t.campaignId, t.state, t.day),
  ],
);

/** Requests for the pictures and links of messages, as they came in; of one message at most `MOST_SIGNALS`. */
export const signals = pgTable(
  'signals',
  {
    id: serial().primaryKey(),
    deliveryId: integer()
      .notNull()
      .references(() => deliveries.id, { onDelete: 'cascade' }),
    kind: text().$type<SignalKind>().notNull(),
    at: instant().notNull(),
    link: text().notNull(),
    links: integer().notNull(),
    told: text().notNull(),
    /** Of a click, the country it came from (ISO 3166-1), where the campaign keeps that; null also where it is not known. */
    country: text(),
    /** Why it is a program's; '' for a person's, null before it has been told apart from the others of its message. */
    machine: text(),
  },
  (t) => [
    index().on(t.deliveryId),
    index('signals_unread')
      .on(t.at)
      .where(sql`machine is null`),
  ],
);

/** What the requests for one message come to. */
export const deliverySignals = pgTable(
  'delivery_signals',
  {
    deliveryId: integer()
      .primaryKey()
      .references(() => deliveries.id, { onDelete: 'cascade' }),
    enrolmentId: integer()
      .notNull()
      .references(() => enrolments.id, { onDelete: 'cascade' }),
    opens: integer().notNull(),
    firstOpenAt: instant(),
    lastOpenAt: instant(),
    clicks: integer().notNull(),
    firstClickAt: instant(),
    lastClickAt: instant(),
    /** Opens and clicks by programs. */
    byMachine: integer().notNull(),
    /** Of the first click by a person, the country. */
    country: text(),
  },
  (t) => [index().on(t.enrolmentId)],
);

/** Each try to hand a message over, written before it begins. */
export const attempts = pgTable(
  'attempts',
  {
    id: serial().primaryKey(),
    deliveryId: integer()
      .notNull()
      .references(() => deliveries.id, { onDelete: 'cascade' }),
    mailboxId: integer().notNull(),
    /** Message-ID without brackets. */
    messageId: text().notNull().unique(),
    subject: text().notNull(),
    units: integer().notNull(),
    startedAt: instant().notNull(),
    /** When it was looked for in the Sent folder after it broke off, and was not there. */
    lookedAt: instant(),
    verdict: text(),
    answer: text(),
  },
  (t) => [index().on(t.deliveryId), index().on(t.mailboxId, t.startedAt)],
);

export const incoming = pgTable(
  'incoming',
  {
    id: serial().primaryKey(),
    mailboxId: integer()
      .notNull()
      .references(() => mailboxes.id, { onDelete: 'cascade' }),
    uidValidity: text().notNull(),
    uid: integer().notNull(),
    raw: bytea().notNull(),
    receivedAt: instant().notNull(),
    fromName: text().notNull(),
    fromKey: text().notNull(),
    subject: text().notNull(),
    body: text().notNull(),
    messageId: text().notNull(),
    kind: text().$type<IncomingKind>().notNull(),
    because: text().notNull(),
    /** What else was read of it. */
    details: jsonb().$type<IncomingDetails>().notNull().default({}),
    /** What it was taken for at first, where a person has said that it was misread. */
    readAs: text().$type<IncomingKind>(),
    /** How sure it is whose it is; null where it is nobody's. */
    match: text().$type<MatchSureness>(),
    /** What Baton did about it, in words. */
    did: text().notNull(),
    /** What was before that; null where nothing is to be undone. */
    before: jsonb().$type<Before>(),
    deliveryId: integer().references(() => deliveries.id, { onDelete: 'set null' }),
    enrolmentId: integer().references(() => enrolments.id, { onDelete: 'set null' }),
    outcome: text().$type<Outcome>(),
    /** What it holds beside its text; null for one that was taken before that was kept. */
    parts: jsonb().$type<MailParts>(),
    /** Name of the colleague who sees to it; '' for nobody. */
    assignedTo: text().notNull().default(''),
    /** ISO local date on which it comes back to a person; null for none. */
    remindOn: text(),
  },
  (t) => [
    uniqueIndex().on(t.mailboxId, t.uidValidity, t.uid),
    index().on(t.receivedAt, t.id),
    index().on(t.enrolmentId),
    index('incoming_from_nobody')
      .on(t.fromKey)
      .where(sql`enrolment_id is null`),
    index('incoming_reminders')
      .on(t.remindOn)
      .where(sql`remind_on is not null`),
  ],
);

/** What somebody of ours wrote to one person by hand: answers written here, and messages from their own mail program. */
export const letters = pgTable(
  'letters',
  {
    id: serial().primaryKey(),
    mailboxId: integer()
      .notNull()
      .references(() => mailboxes.id, { onDelete: 'cascade' }),
    contactId: integer().references(() => contacts.id, { onDelete: 'cascade' }),
    /** What it answers. */
    incomingId: integer().references(() => incoming.id, { onDelete: 'set null' }),
    state: text().$type<LetterState>().notNull(),
    /** To whom, in small letters. */
    toKey: text().notNull(),
    subject: text().notNull(),
    /** The words themselves: of an answer without signature and quotation, as they are added when it leaves. */
    body: text().notNull(),
    quotes: boolean().notNull().default(true),
    /** Without brackets; '' for a draft. One for all tries: it is in the Sent folder or it has not left. */
    messageId: text().notNull().default(''),
    /** Of what was found in the Sent folder. */
    raw: bytea(),
    parts: jsonb().$type<MailParts>(),
    writtenAt: instant().notNull(),
    /** Real time from which it may leave: until then it can be taken back. */
    leavesAt: instant(),
    /** When the last try began; real time. */
    startedAt: instant(),
    /** When it was looked for in the Sent folder after a try broke off, and was not there; real time. */
    lookedAt: instant(),
    tries: integer().notNull().default(0),
    sentAt: instant(),
    /** Why it has not left yet, or failed: the server's words or ours. */
    reason: text().notNull().default(''),
  },
  (t) => [
    index().on(t.contactId),
    index().on(t.toKey),
    index().on(t.messageId),
    uniqueIndex('letters_one_draft')
      .on(t.incomingId)
      .where(sql`state = 'draft'`),
    index('letters_to_send')
      .on(t.mailboxId)
      .where(sql`state in ('waiting', 'sending')`),
  ],
);

/** What colleagues note about a person. */
export const notes = pgTable(
  'notes',
  {
    id: serial().primaryKey(),
    contactId: integer()
      .notNull()
      .references(() => contacts.id, { onDelete: 'cascade' }),
    at: instant().notNull(),
    text: text().notNull(),
  },
  (t) => [index().on(t.contactId)],
);

/** Texts that are put into answers; with fields. */
export const snippets = pgTable('snippets', {
  id: serial().primaryKey(),
  name: text().notNull().unique(),
  text: text().notNull(),
});

/** Changes to the plan that somebody tried out and kept under a name. */
export const planVariants = pgTable('plan_variants', {
  id: serial().primaryKey(),
  name: text().notNull().unique(),
  changes: jsonb().$type<PlanChange[]>().notNull(),
  createdAt: instant().notNull(),
});

/** What happened to people, append only. */
export const events = pgTable(
  'events',
  {
    id: serial().primaryKey(),
    at: instant().notNull(),
    kind: text().$type<RecordedEventKind>().notNull(),
    contactId: integer().references(() => contacts.id),
    enrolmentId: integer(),
    deliveryId: integer(),
    detail: text().notNull(),
    /** When a person took it back: it stays in the history, and counts no longer. */
    undoneAt: instant(),
  },
  (t) => [index().on(t.at), index().on(t.contactId), index().on(t.deliveryId)],
);
