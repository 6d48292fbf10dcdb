import { addressCheck, ADDRESS_KEY, DomainError, rowPatcher } from '@baton/core';
import { addContacts, addHiddenRow, domainCounts, rowsOfContacts } from '../../store/people/list/list-rows';
import { isThrowAway } from '../import/throw-away';
import type { ListInChange } from './change-list';
import { recompute } from './edit-rows';

/**
 * Puts a person onto a list, as a change that can be undone.
 *
 * @param values of columns by key; those of formulas and of the address are left out
 * @returns their contact
 * @throws DomainError `invalid` for an address or a value that cannot be used; `conflict` for somebody who is on the list
 */
export async function addRow(
  list: ListInChange,
  address: string,
  values: Readonly<Record<string, string>>,
): Promise<number> {
  const { tx, listId, nowMs } = list;
  const columns = list.columns.filter((c) => c.formula === null && c.role !== 'address' && values[c.key]);
  const typed = Object.fromEntries(columns.map((c) => [c.key, values[c.key] ?? '']));
  const result = rowPatcher(list.columns)({}, { ...typed, [ADDRESS_KEY]: address });
  if (!result.ok) throw new DomainError('invalid', `${result.reason}.`);
  const { fields, zone, sendOn, address: read } = result.patch;
  if (!read) throw new DomainError('invalid', 'No address was given.');
  const contactId = (await addContacts(tx, [read], nowMs)).get(read.key) as number;
  if ((await rowsOfContacts(tx, listId, [contactId])).size > 0)
    throw new DomainError('conflict', `${read.address} is already on this list.`);
  const check = addressCheck({ domains: await domainCounts(tx, listId), isThrowAway });
  const kept = Object.entries(fields).filter((f): f is [string, string] => f[1] !== null);
  const rowId = await addHiddenRow(tx, {
    listId,
    contactId,
    zone: zone ?? null,
    sendOn: sendOn ?? null,
    fields: Object.fromEntries(kept),
    notes: check(read).map((n) => n.kind),
    removedAt: nowMs,
  });
  await list.changeRows([{ rowId, before: { removedAt: nowMs }, after: { removedAt: null } }]);
  await recompute(list, [rowId]);
  return contactId;
}
