import { ADDRESS_KEY, dayWords, DomainError, isoDate, ownWords, type ColumnRole } from '@baton/core';
import { addRow } from '../people/list/add-row';
import { changeList } from '../people/list/change-list';
import { editCells } from '../people/list/edit-rows';
import { readEnrolment } from '../store/campaigns/campaign-rows';
import type { Queryable, Store } from '../store/database';
import { listOfRow } from '../store/people/list/list-of-row';
import { addNote } from '../store/reading/note-rows';
import { readIncoming, type IncomingRow } from '../store/reading/reply-rows';
import { readWorkspace } from '../store/workspace-rows';
import { zones } from '../time/zones';

export interface Named {
  address: string;
  /** '' where it is not known. */
  name: string;
}

/** The list and the row from which the sender of a message was written to. @throws DomainError `not_found` */
async function writtenFrom(db: Queryable, incoming: IncomingRow | null) {
  const person = incoming?.enrolmentId == null ? null : await readEnrolment(db, incoming.enrolmentId);
  const list = person && (await listOfRow(db, person.listRowId));
  if (!person || !list) throw new DomainError('not_found', 'There is no list that the person was written to from.');
  return { person, list };
}

/**
 * Changes the address in the row from which the sender of a message was written to.
 *
 * @returns the list's name
 * @throws DomainError `not_found`, or `invalid` with what keeps the address from being used
 */
export async function changeAddress(
  { db }: Store,
  incomingId: number,
  address: string,
  nowMs: number,
): Promise<string> {
  const { person, list } = await writtenFrom(db, await readIncoming(db, incomingId));
  const cell = { rowId: person.listRowId, key: ADDRESS_KEY, value: address };
  const { refused } = await editCells(db, list.id, [cell], nowMs);
  if (refused[0]) throw new DomainError('invalid', `${address}: ${refused[0].reason}.`);
  return list.name;
}

/**
 * Takes somebody whom a message names onto the list from which its sender was written to; who named them, and with which
 * words, is noted of them.
 *
 * @returns the list's name
 * @throws DomainError `not_found`, or where the address cannot be used or is on the list
 */
export async function takeOntoList({ db }: Store, incomingId: number, named: Named, nowMs: number): Promise<string> {
  const incoming = await readIncoming(db, incomingId);
  const { person, list } = await writtenFrom(db, incoming);
  await changeList(db, list.id, nowMs, async (change) => {
    const values: Record<string, string> = {};
    const [given, ...family] = named.name.split(/\s+/);
    const byRole: Partial<Record<ColumnRole, string>> = {
      ...{ given_name: given ?? '', family_name: family.join(' '), full_name: named.name },
      time_zone: person.zone ?? '',
    };
    // Of the person who was written to, a colleague has the company.
    for (const { key, role } of change.columns)
      values[key] = byRole[role] ?? (role === 'company' ? (person.fields[key] ?? '') : '');
    const contactId = await addRow(change, named.address, values);
    if (incoming) await addNote(change.tx, { contactId, at: nowMs, text: await namedBy(change.tx, incoming) });
    return `${named.address} added`;
  });
  return list.name;
}

/** Characters of a message that are noted. */
const MOST_NOTED = 2000;

async function namedBy(tx: Queryable, { fromName, fromKey, receivedAt, body }: IncomingRow): Promise<string> {
  const { zone, dateForm } = await readWorkspace(tx);
  const day = dayWords(isoDate(zones.get(zone).toLocal(receivedAt).day), 'dated', dateForm);
  const own = ownWords(body);
  const words = own.length > MOST_NOTED ? `${own.slice(0, MOST_NOTED)} […]` : own;
  return `Named by ${fromName || fromKey} <${fromKey}> on ${day}:\n${words}`;
}
