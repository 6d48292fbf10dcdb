import { DomainError, type ColumnRole } from '@baton/core';
import { addRow } from '../people/list/add-row';
import { changeList } from '../people/list/change-list';
import { readEnrolment } from '../store/campaigns/campaign-rows';
import type { Store } from '../store/database';
import { listOfRow } from '../store/people/list/list-of-row';
import { readIncoming } from '../store/reading/reply-rows';

export interface Named {
  address: string;
  /** '' where it is not known. */
  name: string;
}

/**
 * Takes somebody whom a message names onto the list from which its sender was written to.
 *
 * @returns the list's name
 * @throws DomainError `not_found`, or where the address cannot be used or is on the list
 */
export async function takeOntoList({ db }: Store, incomingId: number, named: Named, nowMs: number): Promise<string> {
  const incoming = await readIncoming(db, incomingId);
  const person = incoming?.enrolmentId == null ? null : await readEnrolment(db, incoming.enrolmentId);
  const list = person && (await listOfRow(db, person.listRowId));
  if (!person || !list) throw new DomainError('not_found', 'There is no list that the person was written to from.');
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
    await addRow(change, named.address, values);
    return `${named.address} added`;
  });
  return list.name;
}
