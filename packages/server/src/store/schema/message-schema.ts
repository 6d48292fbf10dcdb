import type { Layout, MessageContent } from '@baton/core';
import { boolean, index, integer, jsonb, pgTable, serial, text } from 'drizzle-orm/pg-core';
import { bytea, instant } from './column-types';

export const messages = pgTable('messages', {
  id: serial().primaryKey(),
  name: text().notNull(),
  content: jsonb().$type<MessageContent>().notNull(),
  createdAt: instant().notNull(),
  updatedAt: instant().notNull(),
  /** When somebody last read finished messages made from it, and whether its content has been changed since. */
  proofsReadAt: instant(),
  changedSinceRead: boolean().notNull().default(false),
  /** When it was deleted; it can come back for 30 days. */
  removedAt: instant(),
});

/** What a message was before, kept from time to time while it is written. */
export const messageVersions = pgTable(
  'message_versions',
  {
    id: serial().primaryKey(),
    messageId: integer()
      .notNull()
      .references(() => messages.id, { onDelete: 'cascade' }),
    content: jsonb().$type<MessageContent>().notNull(),
    savedAt: instant().notNull(),
  },
  (t) => [index().on(t.messageId, t.savedAt)],
);

/** Pictures and files that messages use. */
export const assets = pgTable('assets', {
  id: serial().primaryKey(),
  name: text().notNull(),
  /** By which a value names it: in small letters. */
  nameKey: text().notNull().unique(),
  type: text().notNull(),
  bytes: bytea().notNull(),
  size: integer().notNull(),
  createdAt: instant().notNull(),
});

/** Layouts of the workspace's own. */
export const layouts = pgTable('layouts', {
  id: serial().primaryKey(),
  name: text().notNull(),
  layout: jsonb().$type<Layout>().notNull(),
  createdAt: instant().notNull(),
});

/** What was decided of a person's line; the line itself is in the list. */
export const personalLines = pgTable('personal_lines', {
  listRowId: integer().primaryKey(),
  /** `rejected`: not good enough to be sent. */
  state: text().$type<'approved' | 'rejected'>().notNull(),
  /** The line it was decided of: another one is to be looked at again. */
  line: text().notNull(),
  at: instant().notNull(),
});
