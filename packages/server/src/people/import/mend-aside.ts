import { addressCheck, ADDRESS_KEY, DomainError, rowPatcher } from '@baton/core';
import type { Database } from '../../store/database';
import { addContacts, addHiddenRow, domainCounts, rowsOfContacts, takeAside } from '../../store/people/list/list-rows';
import { changeList, type ListChanged } from '../list/change-list';
import { recompute } from '../list/edit-rows';
import { isThrowAway } from './throw-away';

/**
 * Takes a row that was set aside onto its list, with another address.
 *
 * @throws DomainError `invalid` for an address that cannot be used, or a row that does not fit the columns; `conflict`
 *   for somebody who is on the list
 */
export async function mendAside(
  db: Database,
  listId: number,
  asideId: number,
  address: string,
  nowMs: number,
): Promise<ListChanged> {
  return changeList(db, listId, nowMs, async (list) => {
    const row = await takeAside(list.tx, listId, asideId);
    if (!row) throw new DomainError('not_found', 'This row is no longer set aside.');
    if (row.fields === null)
      throw new DomainError(
        'invalid',
        `Line ${row.line} does not fit the columns (${row.reason}); correct it in the file.`,
      );
    const columns = list.columns.filter((c) => c.formula === null && c.role !== 'address' && row.fields?.[c.key]);
    const typed = Object.fromEntries(columns.map((c) => [c.key, row.fields?.[c.key] ?? '']));
    const result = rowPatcher(list.columns)({}, { ...typed, [ADDRESS_KEY]: address });
    if (!result.ok) throw new DomainError('invalid', `${result.reason}.`);
    const { fields, zone, sendOn, address: read } = result.patch;
    if (!read) throw new DomainError('invalid', 'No address was given.');
    const contactId = (await addContacts(list.tx, [read], nowMs)).get(read.key) as number;
    if ((await rowsOfContacts(list.tx, listId, [contactId])).size > 0)
      throw new DomainError('conflict', `${read.address} is already on this list.`);
    const check = addressCheck({ domains: await domainCounts(list.tx, listId), isThrowAway });
    const kept = Object.entries(fields).filter((f): f is [string, string] => f[1] !== null);
    const rowId = await addHiddenRow(list.tx, {
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
    return `line ${row.line} corrected`;
  });
}
