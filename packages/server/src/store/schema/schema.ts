import {
  type CampaignState,
  type DeliveryState,
  type IncomingDetails,
  type IncomingKind,
  type MatchSureness,
  type MessageContent,
  type PlanChange,
  type RecipientState,
  type RecipientWindow,
  type RecordedEventKind,
} from '@baton/core';
import type { LetterState, MailParts, Outcome, ProposedChoice } from '@baton/contract';
import { sql } from 'drizzle-orm';
import {
  boolean,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  serial,
  text,
  unique,
  uniqueIndex,
} from 'drizzle-orm/pg-core';
import { bytea, instant } from './column-types';
import { mailboxes } from './mailbox-schema';
import { messages } from './message-schema';
import { contacts, lists, segments } from './people-schema';

export * from './mailbox-schema';
export * from './message-schema';
export * from './people-schema';
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

export const campaigns = pgTable('campaigns', {
  id: serial().primaryKey(),
  name: text().notNull(),
  listId: integer().references(() => lists.id),
  /** Only the people of this segment of the list; null for all. */
  segmentId: integer().references(() => segments.id),
  /** Only these rows of the list, and how they were picked, in words; null for no such choice. */
  picked: jsonb().$type<{ rowIds: number[]; words: string } | null>(),
  /** Choices that Baton has proposed and nobody has looked at yet. */
  proposed: jsonb().$type<ProposedChoice[]>().notNull().default([]),
  state: text().$type<CampaignState>().notNull(),
  startDate: text().notNull(),
  window: jsonb().$type<RecipientWindow>().notNull(),
  /** Whose time zone the window is in. */
  windowZone: text().$type<'recipient' | 'workspace'>().notNull(),
  dailyLimit: integer(),
  /** How many start in it for each one of another campaign, where these share mailboxes; 1 to 9. */
  share: integer().notNull().default(1),
  leaveOutBlank: boolean().notNull().default(false),
  /** Addresses that a verifier is unsure about; null until somebody says. */
  leaveOutDoubtful: boolean(),
  /** Whether people who come onto the list while it runs join it, and up to which revision of the list they have. */
  enrolNew: boolean().notNull().default(false),
  /** Whether people join it to whom another campaign is still writing. */
  allowsOthers: boolean().notNull().default(false),
  /** Whoever was written to in so many days is left out; null for nobody. */
  notWithinDays: integer(),
  /** The most people of one company; null for any number. */
  mostPerCompany: integer(),
  /** Whether every message waits until a person lets its day's batch go. */
  releasedByHand: boolean().notNull().default(false),
  /** Whether a reply ends this campaign only for the person, and not their others too. */
  replyEndsHere: boolean().notNull().default(false),
  /** Whether a reply holds the person's colleagues at the same company. */
  holdsColleagues: boolean().notNull().default(false),
  enrolledRevision: integer().notNull().default(0),
  /** Shares of its variants, one after the other; empty where everybody gets the same. */
  variants: jsonb().$type<number[]>().notNull().default([]),
  /** Whether nothing leaves to anybody whose personal line has not been approved. */
  needsLines: boolean().notNull().default(false),
  /** How many it is for. */
  recipients: integer().notNull().default(0),
  createdAt: instant().notNull(),
  startedAt: instant(),
  finishedAt: instant(),
  /** Counts the changes of its choices, so that nobody overwrites what somebody else has chosen meanwhile. */
  revision: integer().notNull().default(0),
});

/** What a variant after the first gets at a step: its own message, as it was at the start. */
export interface StepVariant {
  messageId: number | null;
  content: MessageContent | null;
}

export const campaignSteps = pgTable(
  'campaign_steps',
  {
    campaignId: integer()
      .notNull()
      .references(() => campaigns.id, { onDelete: 'cascade' }),
    /** Which step it is, for good: deliveries and links in messages name it. The first message has 0. */
    position: integer().notNull(),
    /** Where in the sequence it stands, from 0 without gaps; of one that was taken out, where whoever has had it is. */
    place: integer().notNull(),
    /** Whether it was taken out of the sequence while the campaign ran, after it had left to somebody. */
    isOut: boolean().notNull().default(false),
    messageId: integer().references(() => messages.id),
    /** Working days after the previous message, and how many more are still on time. */
    delay: integer().notNull(),
    tolerance: integer().notNull(),
    /** Whether it begins a thread of its own, under its own subject; of the first message it means nothing. */
    startsThread: boolean().notNull().default(false),
    /** The message as it was at the start; later edits of the message do not reach a running campaign. */
    content: jsonb().$type<MessageContent>(),
    /** For the campaign's second variant and those after it: their messages, in order; null is the first one's. */
    others: jsonb().$type<StepVariant[]>().notNull().default([]),
  },
  (t) => [primaryKey({ columns: [t.campaignId, t.position] })],
);

/** What a step sent before its message was changed while the campaign ran: what has left stays as it was. */
export const stepVersions = pgTable(
  'step_versions',
  {
    id: serial().primaryKey(),
    campaignId: integer()
      .notNull()
      .references(() => campaigns.id, { onDelete: 'cascade' }),
    position: integer().notNull(),
    content: jsonb().$type<MessageContent>(),
    others: jsonb().$type<StepVariant[]>().notNull(),
    /** Until when it was sent. */
    until: instant().notNull(),
  },
  (t) => [index().on(t.campaignId)],
);

/** A campaign before a change while it ran, and the people whom the change concerned. */
export interface CampaignBefore {
  state: CampaignState;
  /** Null where the change was of people alone. */
  choices: {
    campaign: Pick<typeof campaigns.$inferSelect, ChangedColumn>;
    steps: (typeof campaignSteps.$inferSelect)[];
    mailboxIds: number[];
  } | null;
  /** As they were, with the state that they have since. */
  people: (PersonStands & { id: number; since: RecipientState })[];
  /** What their history has of it. */
  eventIds: number[];
  /** Enrolments that it brought in. */
  joined: number[];
  /** The last try of any message before it. */
  lastAttemptId: number;
}

/** How far somebody is in a campaign, and what is to come for them. */
export interface PersonStands {
  state: RecipientState;
  reason: string;
  /** Place of the next message. */
  sent: number;
  notBefore: number | null;
  mailboxId: number | null;
}

/** What a change of a running campaign may write of its row. */
export type ChangedColumn =
  | 'name'
  | 'listId'
  | 'segmentId'
  | 'picked'
  | 'startDate'
  | 'window'
  | 'windowZone'
  | 'dailyLimit'
  | 'share'
  | 'leaveOutBlank'
  | 'leaveOutDoubtful'
  | 'enrolNew'
  | 'replyEndsHere'
  | 'holdsColleagues'
  | 'variants'
  | 'needsLines'
  | 'allowsOthers'
  | 'notWithinDays'
  | 'mostPerCompany'
  | 'releasedByHand'
  | 'recipients';

/** Changes of running campaigns. */
export const campaignChanges = pgTable(
  'campaign_changes',
  {
    id: serial().primaryKey(),
    campaignId: integer()
      .notNull()
      .references(() => campaigns.id, { onDelete: 'cascade' }),
    at: instant().notNull(),
    /** What was changed, in sentences. */
    words: jsonb().$type<string[]>().notNull(),
    before: jsonb().$type<CampaignBefore>().notNull(),
    undoneAt: instant(),
  },
  (t) => [index().on(t.campaignId)],
);

export const campaignMailboxes = pgTable(
  'campaign_mailboxes',
  {
    campaignId: integer()
      .notNull()
      .references(() => campaigns.id, { onDelete: 'cascade' }),
    mailboxId: integer()
      .notNull()
      .references(() => mailboxes.id),
  },
  (t) => [primaryKey({ columns: [t.campaignId, t.mailboxId] })],
);

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
    /** Which variant of the messages, drawn once; 0 is the first. */
    variant: integer().notNull().default(0),
    /** Envelope recipients of one message: 1 and those of Cc and Bcc. */
    units: integer().notNull().default(1),
    /** 1-based place among those the campaign is for; 0 for those left out. */
    position: integer().notNull().default(0),
    changedAt: instant().notNull(),
    /** What was before they left by the link; null where they did not, or came back. */
    beforeLeaving: jsonb().$type<Before>(),
  },
  (t) => [unique().on(t.campaignId, t.contactId), index().on(t.contactId), index().on(t.campaignId, t.state)],
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
