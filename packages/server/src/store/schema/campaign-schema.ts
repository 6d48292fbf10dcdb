import type {
  CampaignState,
  FollowUpCondition,
  MessageContent,
  RecipientState,
  RecipientWindow,
  StepHours,
  StepTerms,
  Watches,
} from '@baton/core';
import type { AudiencePart, ProposedChoice } from '@baton/contract';
import { boolean, index, integer, jsonb, pgTable, primaryKey, serial, text } from 'drizzle-orm/pg-core';
import { instant } from './column-types';
import { mailboxes } from './mailbox-schema';
import { messages } from './message-schema';
import { lists, segments } from './people-schema';

export const campaigns = pgTable('campaigns', {
  id: serial().primaryKey(),
  name: text().notNull(),
  listId: integer().references(() => lists.id),
  /** Only the people of this segment of the list; null for all. */
  segmentId: integer().references(() => segments.id),
  /** Of these lists (without `listIds`, of the first) only these rows, and how they were picked, in words; null for no such choice. */
  picked: jsonb().$type<{ rowIds: number[]; words: string; listIds?: number[] } | null>(),
  /** Whose people it is for too, and whose it leaves out. */
  alsoParts: jsonb().$type<AudiencePart[]>().notNull().default([]),
  exceptParts: jsonb().$type<AudiencePart[]>().notNull().default([]),
  /** Choices that Baton has proposed and nobody has looked at yet. */
  proposed: jsonb().$type<ProposedChoice[]>().notNull().default([]),
  state: text().$type<CampaignState>().notNull(),
  startDate: text().notNull(),
  /** See core's `CampaignHours`. */
  startMinute: integer(),
  endDate: text(),
  endMinute: integer(),
  window: jsonb().$type<RecipientWindow>().notNull(),
  /** Whose time zone the window is in. */
  windowZone: text().$type<'recipient' | 'workspace'>().notNull(),
  /** See the contract's `BriefChoices`. */
  senderKey: text(),
  keepsSender: boolean().notNull().default(false),
  dailyLimit: integer(),
  /** How many start in it for each one of another campaign, where these share mailboxes; 1 to 9. */
  share: integer().notNull().default(1),
  leaveOutBlank: boolean().notNull().default(false),
  /** Addresses that a verifier is unsure about; null until somebody says. */
  leaveOutDoubtful: boolean(),
  /** Whether people who come onto its lists while it runs join it. */
  enrolNew: boolean().notNull().default(false),
  /** Whether people join it to whom another campaign is still writing. */
  allowsOthers: boolean().notNull().default(false),
  /** Whoever was written to in so many days is left out; null for nobody. */
  notWithinDays: integer(),
  /** The most people of one company; null for any number. */
  mostPerCompany: integer(),
  /** How many people come first, and how long the others wait then; see core's `FirstGroup`. */
  firstGroup: integer(),
  groupWait: integer().notNull().default(1),
  groupByHand: boolean().notNull().default(false),
  /** Whether every message waits until a person lets its day's batch go. */
  releasedByHand: boolean().notNull().default(false),
  /** In which messages it is counted whether they are opened, and links in them followed. */
  watchesOpens: text().$type<Watches>().notNull().default('none'),
  watchesClicks: text().$type<Watches>().notNull().default('none'),
  /** Whether the country is kept from which a link is followed. */
  watchesPlaces: boolean().notNull().default(false),
  /** Whether a reply ends this campaign only for the person, and not their others too. */
  replyEndsHere: boolean().notNull().default(false),
  /** Whether a reply holds the person's colleagues at the same company. */
  holdsColleagues: boolean().notNull().default(false),
  /** The revisions of all its lists together up to which it has been brought in line with them. */
  enrolledRevision: integer().notNull().default(0),
  /** Shares of its variants, one after the other; empty where everybody gets the same. */
  variants: jsonb().$type<number[]>().notNull().default([]),
  /** Whether a variant that clearly gets fewer replies is stopped; how many looks have been made for it, and what it has stopped, in sentences. */
  stopsLosers: boolean().notNull().default(false),
  variantLooks: integer().notNull().default(0),
  variantsStopped: jsonb().$type<string[]>().notNull().default([]),
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

/** A text that a step has beside its first: its own message, as it was at the start. */
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
    /** To which of those who have not replied it goes; of the first message it means nothing. */
    condition: text().$type<FollowUpCondition>().notNull().default('no_reply'),
    /** See core's `StepTerms`. */
    quotes: boolean().notNull().default(false),
    lastDay: text(),
    hours: jsonb().$type<StepHours | null>(),
    answersLast: boolean().notNull().default(false),
    /** The message as it was at the start; later edits of the message do not reach a running campaign. */
    content: jsonb().$type<MessageContent>(),
    /** For the campaign's second variant and those after it: their messages, in order; null is the first one's. */
    others: jsonb().$type<StepVariant[]>().notNull().default([]),
    /** What whoever has followed a link gets instead, of whatever variant; null for the same as everybody. */
    ifClicked: jsonb().$type<StepVariant | null>(),
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
    /** Whose text it was; null where that was not kept. */
    messageId: integer(),
    content: jsonb().$type<MessageContent>(),
    others: jsonb().$type<StepVariant[]>().notNull(),
    ifClicked: jsonb().$type<StepVariant | null>(),
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
    campaign: CampaignChoices & Pick<typeof campaigns.$inferSelect, 'recipients'>;
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
  /** The campaign's revision before it and since. */
  revisions: { before: number; since: number };
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

/** The choices of a campaign that stand in its row. */
export const CAMPAIGN_CHOICES = [
  'name',
  'listId',
  'segmentId',
  'picked',
  'alsoParts',
  'exceptParts',
  'startDate',
  'startMinute',
  'endDate',
  'endMinute',
  'window',
  'windowZone',
  'senderKey',
  'keepsSender',
  'dailyLimit',
  'share',
  'leaveOutBlank',
  'leaveOutDoubtful',
  'enrolNew',
  'replyEndsHere',
  'holdsColleagues',
  'watchesOpens',
  'watchesClicks',
  'watchesPlaces',
  'variants',
  'stopsLosers',
  'needsLines',
  'allowsOthers',
  'notWithinDays',
  'mostPerCompany',
  'releasedByHand',
  'firstGroup',
  'groupWait',
  'groupByHand',
] as const satisfies readonly (keyof typeof campaigns.$inferSelect)[];

export type CampaignChoices = Pick<typeof campaigns.$inferSelect, (typeof CAMPAIGN_CHOICES)[number]>;

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

/** Choices of a campaign that say how, not to whom, when or from where; see {@link CAMPAIGN_CHOICES}. */
export const PATTERN_CHOICES = [
  ...([
    'window',
    'windowZone',
    'startMinute',
    'keepsSender',
    'dailyLimit',
    'share',
    'variants',
    'stopsLosers',
    'needsLines',
  ] as const),
  ...(['leaveOutBlank', 'leaveOutDoubtful', 'allowsOthers', 'notWithinDays', 'mostPerCompany'] as const),
  ...(['firstGroup', 'groupWait', 'groupByHand', 'releasedByHand', 'replyEndsHere', 'holdsColleagues'] as const),
  ...(['watchesOpens', 'watchesClicks', 'watchesPlaces'] as const),
] as const satisfies readonly (keyof CampaignChoices)[];

/** A sequence that is kept to begin campaigns with: its messages by number, with waits, times and limits. */
export const campaignPatterns = pgTable('campaign_patterns', {
  id: serial().primaryKey(),
  name: text().notNull().unique(),
  steps: jsonb()
    .$type<
      // What came later is absent in what was kept earlier.
      ({ messageId: number | null; others: (number | null)[]; ifClicked?: number | null } & Pick<StepTerms, 'delay'> &
        Partial<StepTerms>)[]
    >()
    .notNull(),
  choices: jsonb().$type<Pick<CampaignChoices, (typeof PATTERN_CHOICES)[number]>>().notNull(),
  /** When it was deleted; it can be brought back until another takes its name. */
  removedAt: instant(),
});
