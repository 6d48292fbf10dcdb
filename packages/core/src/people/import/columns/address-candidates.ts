import { parseAddress } from '../../address/address';
import { holdsAddress, namedAddress } from '../cleaning/named-address';
import type { Table } from '../files/table';
import type { ColumnRole } from './column-roles';

/** A column that could be the one of the people's addresses. */
export interface AddressCandidate {
  column: number;
  /** Rows in which it has an address, and how many different ones these are. */
  rows: number;
  different: number;
}

/** Rows that tell whether a column holds addresses, and what share of its values must be some. */
const SAMPLE_ROWS = 400;
const SHARE = 0.5;

/**
 * The columns of a table that hold addresses, but for those of copies; where there are several, somebody may know better
 * than Baton which is the people's.
 *
 * @param roles one per column
 */
export function addressCandidates(table: Table, roles: readonly ColumnRole[]): AddressCandidate[] {
  const sample = table.rows.slice(0, SAMPLE_ROWS);
  return table.header.flatMap((_, column): AddressCandidate[] => {
    if (roles[column] === 'cc' || roles[column] === 'bcc') return [];
    const filled = sample.map((r) => r.cells[column] ?? '').filter((c) => c.trim() !== '');
    if (filled.length === 0 || filled.filter(holdsAddress).length < SHARE * filled.length) return [];
    const keys = new Set<string>();
    let rows = 0;
    for (const row of table.rows) {
      const cell = row.cells[column] ?? '';
      const parsed = parseAddress(namedAddress(cell)?.address ?? cell);
      if (!parsed.ok) continue;
      rows++;
      keys.add(parsed.value.key);
    }
    return [{ column, rows, different: keys.size }];
  });
}
