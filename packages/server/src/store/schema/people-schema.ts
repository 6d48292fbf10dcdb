import type {
  ADDRESS_NOTES,
  Cleaning,
  ColumnKind,
  ColumnRole,
  KeptColumn,
  ListColumn,
  ListQuery,
  OutcomeKey,
  Verdict,
} from '@baton/core';
import type { ImportEffect, ImportInto, ImportProgress, ImportReading } from '@baton/contract';
import { sql } from 'drizzle-orm';
import {
  bigint,
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
import { bytea, identifier, instant } from './column-types';

export const contacts = pgTable(
  'contacts',
  {
    id: serial().primaryKey(),
    address: text().notNull(),
    key: identifier().notNull().unique(),
    domain: identifier().notNull(),
    createdAt: instant().notNull(),
  },
  (t) => [index().on(t.domain)],
);

/** Whether a server takes mail for a domain; asked for when a person wants to know. */
export const mailDomains = pgTable(
  'mail_domains',
  {
    domain: text().primaryKey(),
    /** null while it is to be asked. */
    takesMail: boolean(),
    askedAt: instant(),
  },
  (t) => [
    index('mail_domains_wanted')
      .on(t.domain)
      .where(sql`takes_mail is null`),
  ],
);

export const lists = pgTable('lists', {
  id: serial().primaryKey(),
  name: text().notNull(),
  source: text().notNull(),
  createdAt: instant().notNull(),
  /** When it was deleted; it can come back for 30 days. */
  removedAt: instant(),
  /** Counts the changes of its rows and columns, so that a page can tell its own from others'. */
  revision: integer().notNull().default(0),
  /** Outcome columns that are not shown. */
  hiddenOutcomes: jsonb().$type<OutcomeKey[]>().notNull().default([]),
});

export const listColumns = pgTable(
  'list_columns',
  {
    listId: integer()
      .notNull()
      .references(() => lists.id, { onDelete: 'cascade' }),
    position: integer().notNull(),
    name: text().notNull(),
    key: text().notNull(),
    role: text().$type<KeptColumn['role']>().notNull(),
    kind: text().$type<ColumnKind>().notNull().default('text'),
    hidden: boolean().notNull().default(false),
    formula: text(),
    verdicts: jsonb().$type<Record<string, Verdict>>(),
  },
  (t) => [primaryKey({ columns: [t.listId, t.position] }), unique().on(t.listId, t.key)],
);

/**
 * The people of all lists. A list of very many has a partition of its own, which can be filled and given its indexes
 * before anybody sees it; all others share one.
 */
export const listRows = pgTable(
  'list_rows',
  {
    id: serial().notNull(),
    /** No foreign keys, here and below: checking two for each of a million rows takes longer than storing them. */
    listId: integer().notNull(),
    contactId: integer().notNull(),
    position: integer().notNull(),
    zone: text(),
    /** ISO date before which nothing is sent to them. */
    sendOn: text(),
    fields: jsonb().$type<Record<string, string>>().notNull(),
    /** What is worth a look about the address. */
    notes: jsonb().$type<(typeof ADDRESS_NOTES)[number][]>().notNull().default([]),
    /** When it was taken off the list; it can come back for 30 days. */
    removedAt: instant(),
  },
  (t) => [
    // The key of a table in partitions has what tells them apart; no foreign key can refer to the rest of it.
    primaryKey({ columns: [t.id, t.listId] }),
    uniqueIndex('list_rows_once')
      .on(t.contactId, t.listId)
      .where(sql`removed_at is null`),
    index('list_rows_in_order')
      .on(t.listId, t.position)
      .where(sql`removed_at is null`),
    index('list_rows_removed')
      .on(t.removedAt)
      .where(sql`removed_at is not null`),
  ],
);

/** Where a list is fed from by itself. */
export const listFeeds = pgTable('list_feeds', {
  listId: integer()
    .primaryKey()
    .references(() => lists.id, { onDelete: 'cascade' }),
  kind: text().$type<'folder' | 'url'>().notNull(),
  /** A folder of this machine, or the address of a file. */
  place: text().notNull(),
  how: text().$type<'add' | 'update'>().notNull(),
  everyMinutes: integer().notNull(),
  /** Whether addresses of this machine and its network may be fetched. */
  allowPrivate: boolean().notNull(),
  /** What was taken already: of a folder, each file's name with its time and size; of a URL, what its content was. */
  taken: jsonb().$type<string[]>().notNull().default([]),
  lookedAt: instant(),
  /** What the last look found, in a sentence. */
  found: text().notNull().default(''),
});

/** A named choice of a list's rows that stays live. */
export const segments = pgTable(
  'segments',
  {
    id: serial().primaryKey(),
    listId: integer()
      .notNull()
      .references(() => lists.id, { onDelete: 'cascade' }),
    name: text().notNull(),
    query: jsonb().$type<ListQuery>().notNull(),
    createdAt: instant().notNull(),
  },
  (t) => [index().on(t.listId)],
);

/** What a person changed in a list, to be undone and done again. */
export const listChanges = pgTable(
  'list_changes',
  {
    id: serial().primaryKey(),
    listId: integer()
      .notNull()
      .references(() => lists.id, { onDelete: 'cascade' }),
    at: instant().notNull(),
    /** What was done, in words. */
    label: text().notNull(),
    undone: boolean().notNull().default(false),
    /** All columns of the list before and after, where they changed. */
    columnsBefore: jsonb().$type<ListColumn[]>(),
    columnsAfter: jsonb().$type<ListColumn[]>(),
    /** A column that got another name, and so its values another key. */
    renamed: jsonb().$type<{ from: { name: string; key: string }; to: { name: string; key: string } }>(),
  },
  (t) => [index().on(t.listId, t.id)],
);

/** One row of such a change. */
export const listChangeRows = pgTable(
  'list_change_rows',
  {
    changeId: integer()
      .notNull()
      .references(() => listChanges.id, { onDelete: 'cascade' }),
    rowId: integer().notNull(),
    before: jsonb().$type<StoredPatch>().notNull(),
    after: jsonb().$type<StoredPatch>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.changeId, t.rowId] }), index().on(t.rowId)],
);

/** What of a row is put: absent is left as it is, a null among `fields` takes the value away. */
export interface StoredPatch {
  fields?: Record<string, string | null>;
  contactId?: number;
  zone?: string | null;
  sendOn?: string | null;
  notes?: string[];
  removedAt?: number | null;
}

export const listAside = pgTable(
  'list_aside',
  {
    id: serial().primaryKey(),
    listId: integer()
      .notNull()
      .references(() => lists.id, { onDelete: 'cascade' }),
    line: integer().notNull(),
    cells: jsonb().$type<string[]>().notNull(),
    reason: text().notNull(),
    /** Its values as the list would keep them; null for a row that does not fit the columns. */
    fields: jsonb().$type<Record<string, string>>(),
  },
  (t) => [index().on(t.listId, t.line)],
);

/** An uploaded sheet while its columns are being settled. */
export const imports = pgTable('imports', {
  id: serial().primaryKey(),
  name: text().notNull(),
  /** The whole file, or the head of one that is read piece by piece. */
  bytes: bytea().notNull(),
  /** Bytes of the whole file; more than `bytes` has where its pieces are kept apart. */
  size: bigint({ mode: 'number' }).notNull().default(0),
  /** Of a workbook: the sheet chosen; null while it is Baton's guess. */
  sheet: integer(),
  /** How the file is read otherwise; null where it is Baton's guess. */
  reading: jsonb().$type<ImportReading>(),
  roles: jsonb().$type<ColumnRole[]>(),
  /** How fields are read, by column; null where it is Baton's guess. */
  kinds: jsonb().$type<(ColumnKind | null)[]>(),
  /** Which cleanings are done; null: the usual ones. */
  cleanings: jsonb().$type<Cleaning[]>(),
  /** Cells corrected by hand, by line and column. */
  edits: jsonb().$type<Record<number, Record<number, string>>>(),
  /** Whether the roles are those of the last file of this kind. */
  remembered: boolean().notNull().default(false),
  into: jsonb().$type<ImportInto>(),
  /** `open` while it is looked at, `taking` while a worker takes it, `counted` when what it will do is known and waits for a yes. */
  state: text().$type<'open' | 'taking' | 'counted' | 'failed'>().notNull().default('open'),
  progress: jsonb().$type<ImportProgress>(),
  /** Of a large one, once it was counted; taking it again stores it. */
  effect: jsonb().$type<ImportEffect>(),
  /** Why it failed, in a sentence. */
  problem: text(),
  cancelled: boolean().notNull().default(false),
  createdAt: instant().notNull(),
});

/** The pieces of a large file, in order; not compressed, for they are read once. */
export const importPieces = pgTable(
  'import_pieces',
  {
    importId: integer()
      .notNull()
      .references(() => imports.id, { onDelete: 'cascade' }),
    n: integer().notNull(),
    bytes: bytea().notNull(),
  },
  (t) => [primaryKey({ columns: [t.importId, t.n] })],
);

/** What was said of files with the same header the last time. */
export const importMemory = pgTable('import_memory', {
  header: text().primaryKey(),
  roles: jsonb().$type<ColumnRole[]>().notNull(),
  kinds: jsonb().$type<(ColumnKind | null)[]>(),
  cleanings: jsonb().$type<Cleaning[]>(),
  reading: jsonb().$type<ImportReading>(),
  at: instant().notNull(),
});

export const suppressions = pgTable('suppressions', {
  id: serial().primaryKey(),
  kind: text().$type<'address' | 'domain'>().notNull(),
  key: text().notNull().unique(),
  reason: text().notNull(),
  source: text().notNull(),
  createdAt: instant().notNull(),
});
