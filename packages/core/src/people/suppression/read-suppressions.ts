import { fieldKey } from '../../messages/field-name';
import { parseAddress } from '../address/address';
import type { PeopleFile } from '../import/files/read-people-file';
import type { RowAside } from '../import/files/table';
import { storableText } from '../../storable-text';

/** An address or a whole domain that gets nothing. */
export interface SuppressionEntry {
  kind: 'address' | 'domain';
  key: string;
  reason: string;
}

/**
 * Reads one entry: `ana@vines.example`, or a domain as `vines.example` or `@vines.example`.
 *
 * @returns null when it is neither
 */
export function readSuppression(text: string): Omit<SuppressionEntry, 'reason'> | null {
  const trimmed = text.trim();
  const isDomain = !trimmed.includes('@') || trimmed.startsWith('@');
  const parsed = parseAddress(isDomain ? `x@${trimmed.replace(/^@/, '')}` : trimmed);
  if (!parsed.ok) return null;
  return isDomain ? { kind: 'domain', key: parsed.value.domain } : { kind: 'address', key: parsed.value.key };
}

/**
 * The suppressions in a file, as any file of people is read, a row each; the first cell of a row that is an address or a domain
 * counts, and a column called `reason`.
 */
export function readSuppressions({ table }: Pick<PeopleFile, 'table'>): {
  entries: SuppressionEntry[];
  aside: RowAside[];
} {
  const reasonAt = table.header.findIndex((h) => fieldKey(h) === 'reason');
  // A file of domains alone has no header that could be told from its first entry.
  const first = table.headerLine === null ? null : { line: table.headerLine, cells: table.header };
  const rows = first && entryOf(first.cells, -1) ? [first, ...table.rows] : table.rows;
  const entries: SuppressionEntry[] = [];
  const aside = table.aside.map((row) => ({ ...row, cells: row.cells.map(storableText) }));
  for (const row of rows) {
    const entry = entryOf(row.cells, reasonAt);
    if (entry) entries.push(entry);
    else
      aside.push({
        line: row.line,
        cells: row.cells.map(storableText),
        reason: 'No cell of this row is an address or a domain',
      });
  }
  return { entries, aside };
}

function entryOf(raw: readonly string[], reasonAt: number): SuppressionEntry | null {
  const cells = raw.map(storableText);
  for (const [i, cell] of cells.entries()) {
    const found = i === reasonAt || /\s/.test(cell.trim()) ? null : readSuppression(cell);
    if (found) return { ...found, reason: (cells[reasonAt] ?? '').trim() };
  }
  return null;
}
