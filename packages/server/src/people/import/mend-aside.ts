import { DomainError } from '@baton/core';
import type { Database } from '../../store/database';
import { takeAside } from '../../store/people/list/list-rows';
import { addRow } from '../list/add-row';
import { changeList, type ListChanged } from '../list/change-list';

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
    await addRow(list, address, row.fields);
    return `line ${row.line} corrected`;
  });
}
