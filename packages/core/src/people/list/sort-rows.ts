import { fieldKey } from '../../messages/field-name';
import { zoneOfPlace } from '../../time/zone-of-place';
import { parseAddress } from '../address/address';
import { ROLE_NAMES, type ColumnRole } from '../import/columns/column-roles';
import { FirstLines } from '../import/files/first-lines';
import type { DateReading } from '../import/columns/read-dates';
import { sendOnReader } from '../import/columns/read-send-on';
import type { RowAside, Table, TableRow } from '../import/files/table';

/** A row that becomes a person of the list. */
export interface TakenRow {
  line: number;
  address: string;
  key: string;
  domain: string;
  /** IANA zone, or null where the row names none. */
  zone: string | null;
  /** ISO date before which nothing is sent, or null where the row names none. */
  sendOn: string | null;
  /** Values by field key ({@link fieldKey} of the column's name); blanks are absent. */
  fields: Record<string, string>;
  /** Somebody Baton has heard of before, on this list or another. */
  known: boolean;
  /** On the suppression list: taken, never written to. */
  suppressed: boolean;
}

/** A column that is kept, under the name that messages use for it. */
export interface KeptColumn {
  position: number;
  name: string;
  key: string;
  role: Exclude<ColumnRole, 'ignore'>;
}

export interface SortedRows {
  columns: KeptColumn[];
  taken: TakenRow[];
  aside: RowAside[];
  counts: { new: number; known: number; doubled: number; invalid: number; suppressed: number };
}

/** What is known of the people already there, asked by address key and domain. */
export interface KnownPeople {
  isKnown(key: string): boolean;
  isSuppressed(key: string, domain: string): boolean;
}

/**
 * Sorts the rows of a sheet into people to take and rows set aside with the reason.
 *
 * @param roles one per column of the table, in order
 * @param dates how send-on dates are read that could be read two ways
 * @returns counts that add up: new + known + doubled + invalid = rows + rows already aside; `suppressed`
 *   counts those of new and known that are on the suppression list
 */
export function sortRows(
  table: Table,
  roles: readonly ColumnRole[],
  people: KnownPeople,
  dates: DateReading = {},
): SortedRows {
  const { columns, ownerOf, fieldsOf } = rowSorter(table, roles, dates);
  const out: SortedRows = {
    columns,
    taken: [],
    aside: table.aside.map((row) => (isMendable(row, table.header) ? { ...row, fields: fieldsOf(row) } : row)),
    counts: { new: 0, known: 0, doubled: 0, invalid: table.aside.length, suppressed: 0 },
  };
  for (const row of table.rows) {
    const owner = ownerOf(row);
    if ('reason' in owner) {
      out.counts[owner.isDouble ? 'doubled' : 'invalid']++;
      out.aside.push({ ...row, reason: owner.reason, fields: fieldsOf(row) });
      continue;
    }
    const known = people.isKnown(owner.key);
    const suppressed = people.isSuppressed(owner.key, owner.domain);
    out.counts[known ? 'known' : 'new']++;
    if (suppressed) out.counts.suppressed++;
    out.taken.push({ ...owner, fields: fieldsOf(row), known, suppressed });
  }
  out.aside.sort((a, b) => a.line - b.line);
  return out;
}

/** Whether a row that was not read has a cell for each column, so that one of them mended is all it may need. */
export const isMendable = (row: RowAside, header: readonly string[]): boolean =>
  row.isWhole === true && row.cells.length === header.length;

/** Whose row it is, without what else it says. */
export type RowOwner = Omit<TakenRow, 'known' | 'suppressed' | 'fields'>;

/** Why a row has no owner: no usable address, or one that is already further up. */
export interface NoOwner {
  reason: string;
  isDouble: boolean;
}

/** Sorts rows one by one. */
export interface RowSorter {
  columns: KeptColumn[];
  /** Where each address occurred first. */
  lines: FirstLines;
  /** Remembers the address, so that a row is to be asked for once. */
  ownerOf(row: TableRow): RowOwner | NoOwner;
  /** A row's values under the keys of the columns. */
  fieldsOf(row: TableRow): Record<string, string>;
}

/**
 * Returns a function that sorts rows one by one; it remembers every address, in some twenty bytes each.
 *
 * @param sample a table of the columns, with enough rows to tell how dates are written
 */
export function rowSorter(sample: Table, roles: readonly ColumnRole[], dates: DateReading = {}): RowSorter {
  const columns = keptColumns(sample.header, roles);
  const addressAt = roles.indexOf('address');
  const dateAt = roles.indexOf('send_on');
  const zoneAt = roles.indexOf('time_zone');
  const readSendOn = sendOnReader(dateAt < 0 ? [] : sample.rows.map((r) => r.cells[dateAt] ?? ''), {
    ...dates,
    serials: true,
  });
  const lines = new FirstLines();
  return {
    columns,
    lines,
    ownerOf: ({ line, cells }) => {
      const parsed = parseAddress(cells[addressAt] ?? '');
      if (!parsed.ok) return { reason: parsed.reason, isDouble: false };
      const { address, key, domain } = parsed.value;
      const written = dateAt < 0 ? '' : (cells[dateAt] ?? '').trim();
      const sendOn = written === '' ? null : readSendOn(written);
      // Whoever has a date that cannot be read is not written to without it.
      if (sendOn === null && written !== '' && !NO_DATE.test(written))
        return { reason: `“${written.slice(0, 40)}” is no date on which to send`, isDouble: false };
      const earlier = lines.firstOf(key, line);
      if (earlier !== null) return { reason: `${address} is already in line ${earlier}`, isDouble: true };
      const zone = zoneAt < 0 ? null : zoneOfPlace((cells[zoneAt] ?? '').trim());
      return { line, address, key, domain, sendOn, zone };
    },
    fieldsOf: ({ cells }) => readFields(columns, cells),
  };
}

/** What is written for no date. */
const NO_DATE = /^(?:[-–—.?]+|n\/?a|none|0)$/i;

function keptColumns(header: readonly string[], roles: readonly ColumnRole[]): KeptColumn[] {
  const taken = new Set<string>();
  return header.flatMap((head, position) => {
    const role = roles[position] ?? 'field';
    if (role === 'ignore') return [];
    let name = ROLE_NAMES[role] ?? head;
    for (let n = 2; taken.has(fieldKey(name)) || fieldKey(name) === ''; n++) name = `${head} ${n}`;
    taken.add(fieldKey(name));
    return [{ position, name, key: fieldKey(name), role }];
  });
}

function readFields(columns: KeptColumn[], cells: string[]): Record<string, string> {
  const fields: Record<string, string> = {};
  for (const column of columns) {
    const value = (cells[column.position] ?? '').trim();
    if (value !== '') fields[column.key] = value;
  }
  return fields;
}
