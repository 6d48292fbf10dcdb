import { asc, desc, eq } from 'drizzle-orm';
import type { Queryable } from '../database';
import { notes, snippets } from '../schema/schema';

/** What was noted about a person, newest first. */
export const notesOf = (db: Queryable, contactId: number) =>
  db
    .select({ id: notes.id, at: notes.at, text: notes.text })
    .from(notes)
    .where(eq(notes.contactId, contactId))
    .orderBy(desc(notes.at), desc(notes.id));

export async function addNote(db: Queryable, note: { contactId: number; at: number; text: string }): Promise<number> {
  const [added] = await db.insert(notes).values(note).returning({ id: notes.id });
  return (added as { id: number }).id;
}

/** @returns whether there was one */
export async function removeNote(db: Queryable, id: number): Promise<boolean> {
  return (await db.delete(notes).where(eq(notes.id, id)).returning({ id: notes.id })).length > 0;
}

export type SnippetRow = typeof snippets.$inferSelect;

export const listSnippets = (db: Queryable): Promise<SnippetRow[]> =>
  db.select().from(snippets).orderBy(asc(snippets.name));

/** Keeps a text under a name; one of that name is replaced. */
export async function keepSnippet(db: Queryable, { name, text }: { name: string; text: string }): Promise<number> {
  const [kept] = await db
    .insert(snippets)
    .values({ name, text })
    .onConflictDoUpdate({ target: snippets.name, set: { text } })
    .returning({ id: snippets.id });
  return (kept as { id: number }).id;
}

/** @returns whether there was one */
export async function removeSnippet(db: Queryable, id: number): Promise<boolean> {
  return (await db.delete(snippets).where(eq(snippets.id, id)).returning({ id: snippets.id })).length > 0;
}
