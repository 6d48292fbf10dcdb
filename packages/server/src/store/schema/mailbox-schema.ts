import type { RecordFinding, RestMoved, WeekWindows } from '@baton/core';
import { sql } from 'drizzle-orm';
import { boolean, check, index, integer, jsonb, pgTable, primaryKey, serial, text } from 'drizzle-orm/pg-core';
import { instant } from './column-types';

export interface Server {
  host: string;
  port: number;
  /** `tls` from the start, `starttls` before the password, or `none` (loopback only). */
  security: 'tls' | 'starttls' | 'none';
  /** A certificate (PEM) that a person trusted for this server. */
  trusted?: string;
}

/** A provider at which people sign in by OAuth 2.0, and Baton as it is registered there. */
export const signInProviders = pgTable('sign_in_providers', {
  id: serial().primaryKey(),
  name: text().notNull(),
  /** Its issuer identifier (RFC 8414); where its endpoints were typed by hand, the origin of the token endpoint. */
  issuer: text().notNull(),
  authorizationEndpoint: text().notNull(),
  tokenEndpoint: text().notNull(),
  clientId: text().notNull(),
  /** AES-256-GCM; null for a client without one (RFC 8252, 8.5). */
  clientSecretSealed: text(),
  /** Whether it takes the secret in a header (RFC 6749, 2.3.1), and not in the body. */
  secretInHeader: boolean().notNull(),
  /** Whether it names itself in its answers (RFC 9207). */
  namesItself: boolean().notNull(),
  /** Separated by spaces. */
  scopes: text().notNull(),
  /** Further parameters of the authorization request, as a query. */
  extraParameters: text().notNull().default(''),
});

/** How far a folder has been read. */
export interface FolderPlace {
  path: string;
  uidValidity: string;
  uidNext: number;
}

/** The access to one account that a person gave at a provider, or is about to give. */
export const grants = pgTable('grants', {
  id: serial().primaryKey(),
  providerId: integer()
    .notNull()
    .references(() => signInProviders.id),
  /** The account that is meant. */
  username: text().notNull(),
  /** Of a sign-in under way: what its answer is known by, the code verifier (RFC 7636), when it began. */
  state: text().unique(),
  verifierSealed: text(),
  begunAt: instant().notNull(),
  /** What came of the last sign-in that gave no access, in a sentence. */
  refusal: text(),
  /** All sealed. Null until access was given. */
  refreshTokenSealed: text(),
  accessTokenSealed: text(),
  grantedAt: instant(),
  renewAt: instant(),
  expiresAt: instant(),
  /** Until then somebody else is renewing it; real time. */
  renewingUntil: instant(),
});

export const mailboxes = pgTable(
  'mailboxes',
  {
    id: serial().primaryKey(),
    address: text().notNull().unique(),
    senderName: text().notNull(),
    signature: text().notNull(),
    smtp: jsonb().$type<Server>().notNull(),
    imap: jsonb().$type<Server>().notNull(),
    username: text().notNull(),
    /** AES-256-GCM, see security/secrets.ts; null where it signs in by a grant. */
    passwordSealed: text(),
    grantId: integer().references(() => grants.id),
    zone: text().notNull(),
    windows: jsonb().$type<WeekWindows>().notNull(),
    dailyQuota: integer().notNull(),
    /** `back`: days taken back from those on which it sent, after trouble. */
    ramp: jsonb().$type<{ day: number; first: number; add: number; every: number; back?: number }>(),
    providerLimit24h: integer(),
    /** Units of 24 hours after which the provider last said *too much*, of its connection; proposed as its limit. */
    learntLimit24h: integer(),
    paceSeconds: integer().notNull(),
    /** ISO local dates on which this mailbox sends nothing. */
    daysOff: jsonb().$type<string[]>().notNull().default([]),
    /** Where replies go, where not to the mailbox itself. */
    replyTo: text().notNull().default(''),
    /** Whether the connection test has found that the provider itself puts what it sends into the Sent folder: then a crash mid-send can be cleared up. */
    keepsSent: boolean().notNull(),
    /** The folder into which Baton puts a copy of each message that leaves; '' for none. */
    archiveFolder: text().notNull().default(''),
    /** Why the last copy could not be put there, in a sentence. */
    archiveProblem: text(),
    held: boolean().notNull().default(false),
    /** ISO local date before which Baton lets it rest, and why. */
    restUntil: text(),
    restReason: text(),
    /** What the rest changed for messages planned in it; null until the plan is made again. */
    restMoved: jsonb().$type<RestMoved>(),
    /** When its last rest began: what came of messages before it is settled. */
    restedAt: instant(),
    /** The server's words when it would not let us in; nothing is sent until a test passes. */
    problem: text(),
    /** Tries in a row that did not get as far as a recipient: since when, how often, what was said, and when the next is made. */
    sendFailedSince: instant(),
    sendFailures: integer().notNull().default(0),
    sendFailure: text().notNull().default(''),
    sendRetryAt: instant(),
    lastSentAt: instant(),
    lastReadAt: instant(),
    uidValidity: text(),
    uidNext: integer(),
    /** The same of its Sent folder; null where none has been found yet. */
    sentUidValidity: text(),
    sentUidNext: integer(),
    /** Up to where other folders have been read, in which answers may end. */
    folders: jsonb().$type<FolderPlace[]>().notNull().default([]),
    createdAt: instant().notNull(),
  },
  (t) => [check('mailboxes_one_credential', sql`(${t.passwordSealed} is null) <> (${t.grantId} is null)`)],
);

/** What was found when the records of a mailbox's domain were last looked at. */
export const domainRecords = pgTable('domain_records', {
  domain: text().primaryKey(),
  findings: jsonb().$type<RecordFinding[]>().notNull(),
  lookedAt: instant().notNull(),
  /** When it is to be looked at again. */
  againAt: instant().notNull(),
});

/** What happened to a mailbox: connected, changed, held, resting, shut out. */
export const mailboxEvents = pgTable(
  'mailbox_events',
  {
    id: serial().primaryKey(),
    mailboxId: integer()
      .notNull()
      .references(() => mailboxes.id, { onDelete: 'cascade' }),
    at: instant().notNull(),
    words: text().notNull(),
  },
  (t) => [index().on(t.mailboxId, t.at)],
);

/** What left from a mailbox besides campaigns: by its owner's hand, or as a test email. Counts like everything that leaves. */
export const otherSends = pgTable(
  'other_sends',
  {
    mailboxId: integer()
      .notNull()
      .references(() => mailboxes.id, { onDelete: 'cascade' }),
    messageId: text().notNull(),
    at: instant().notNull(),
    units: integer().notNull(),
    byHand: boolean().notNull(),
  },
  (t) => [primaryKey({ columns: [t.mailboxId, t.messageId] }), index().on(t.mailboxId, t.at)],
);

export const mailboxDays = pgTable(
  'mailbox_days',
  {
    mailboxId: integer()
      .notNull()
      .references(() => mailboxes.id, { onDelete: 'cascade' }),
    day: integer().notNull(),
    units: integer().notNull(),
    messages: integer().notNull(),
    /** What it might send on that day when its last message left; null where no message of a campaign did. */
    quota: integer(),
  },
  (t) => [primaryKey({ columns: [t.mailboxId, t.day] })],
);
