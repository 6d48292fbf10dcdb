import { DomainError, lineState, PERSONAL_LINE, PERSONAL_LINE_KEY } from '@baton/core';
import type { PersonalLine, PersonalLines } from '@baton/contract';
import type { ServerParts } from '../http/context';
import { addColumn } from '../people/list/change-columns';
import { editCells } from '../people/list/edit-rows';
import { announce } from '../store/changes';
import type { Queryable } from '../store/database';
import { decideLine, forgetLine, readLines } from '../store/messages/line-rows';
import { everyRow, personAt, readColumns, readList, readPeople } from '../store/people/list/list-rows';

/** How far the personal lines of a list are. */
export async function viewLines(db: Queryable, listId: number): Promise<PersonalLines> {
  const column = (await readColumns(db, listId)).find((c) => c.key === PERSONAL_LINE_KEY) ?? null;
  const decided = await readLines(db, listId);
  const order = (await everyRow(db, listId)).map((p) =>
    lineState(p.fields[PERSONAL_LINE_KEY] ?? '', decided.get(p.rowId) ?? null),
  );
  const counts: PersonalLines['counts'] = { to_do: 0, written: 0, approved: 0, rejected: 0 };
  for (const state of order) counts[state]++;
  return { column: column && { key: column.key, name: column.name }, counts, total: order.length, order };
}

/** One person of a list beside their line. @param index 0-based place in the list */
export async function viewLine(db: Queryable, listId: number, index: number): Promise<PersonalLine> {
  const person = await personAt(db, listId, index);
  if (!person) throw new DomainError('not_found', 'The list has nobody at this place.');
  const decided = (await readLines(db, listId)).get(person.rowId) ?? null;
  const line = person.fields[PERSONAL_LINE_KEY] ?? '';
  const { rowId, address, fields } = person;
  return { rowId, address, fields, line, state: lineState(line, decided) };
}

/**
 * Keeps a person's line and what is decided of it. The list gets a column for the lines with the first one.
 *
 * @param decision `written` takes back what was decided
 */
export async function writeLine(
  { store, clock }: ServerParts,
  listId: number,
  rowId: number,
  { line, decision }: { line: string; decision: 'approved' | 'rejected' | 'written' },
): Promise<void> {
  const { db } = store;
  const nowMs = await clock.now();
  const list = await readList(db, listId);
  if (!list || list.removedAt !== null) throw new DomainError('not_found', 'There is no such list.');
  if (decision === 'approved' && line.trim() === '')
    throw new DomainError('invalid', 'There is no line to approve; write one first.');
  const [person] = await readPeople(db, listId, [rowId]);
  if (!person) throw new DomainError('not_found', 'There is no such person on this list any more.');
  if (!(await readColumns(db, listId)).some((c) => c.key === PERSONAL_LINE_KEY))
    await addColumn(db, listId, { name: PERSONAL_LINE, kind: 'text', formula: null, after: null }, nowMs);
  if ((person.fields[PERSONAL_LINE_KEY] ?? '') !== line.trim())
    await editCells(db, listId, [{ rowId, key: PERSONAL_LINE_KEY, value: line }], nowMs);
  await db.transaction(async (tx) => {
    if (decision === 'written') await forgetLine(tx, rowId);
    else await decideLine(tx, rowId, { state: decision, line: line.trim() }, nowMs);
    await announce(tx, 'people', 'campaigns');
  });
}
