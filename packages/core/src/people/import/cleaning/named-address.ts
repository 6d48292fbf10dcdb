import { parseAddress } from '../../address/address';
import { decodeWords } from '../../address/encoded-words';
import { roleOfHeader } from '../columns/column-roles';
import { nameCase, splitName } from './clean-names';
import type { Cleaning } from './cleanings';
import type { ColumnRole } from '../columns/column-roles';
import type { TableRow } from '../files/table';

/** A name and the address beside it, out of one cell. */
export interface NamedAddress {
  name: string;
  address: string;
}

/** `Ana Reyes <ana@x.example>`, also with other brackets, and `"Reyes, Ana" <ana@x.example>` (RFC 5322 3.4). */
const NAME_FIRST =
  /^\s*"?([^"<>()[\]@]{1,120}?)"?[\s,:–—-]*[<([]\s*(?:mailto:)?([^\s<>()[\]]+@[^\s<>()[\]]+)\s*[>)\]][\s,;]*$/iu;
/** `ana@x.example (Ana Reyes)` (RFC 5322 3.2.2, as older programs write it). */
const NAME_LAST = /^\s*([^\s<>()[\]]+@[^\s<>()[\]]+)\s*\(([^()@]{1,120})\)[\s,;]*$/u;
/** `Ana Reyes ana@x.example`, `Ana Reyes - ana@x.example`: the words before it must look like a name. */
const NO_BRACKETS =
  /^\s*(\p{Lu}[\p{L}\p{M}.'’-]*(?:\s+[\p{L}\p{M}.'’-]+){0,5}?)[\s,;:–—-]+([^\s<>()[\],;]+@[^\s<>()[\],;]+)\s*$/u;

/** Takes name and address out of one cell; null where it holds an address alone, none, several, or more than a name. */
export function namedAddress(cell: string): NamedAddress | null {
  if (!/[\s<([]/.test(cell) || !cell.includes('@')) return null;
  const last = NAME_LAST.exec(cell);
  const first = last ? null : (NAME_FIRST.exec(cell) ?? NO_BRACKETS.exec(cell));
  const [name = '', address = ''] = last ? [last[2], last[1]] : first ? [first[1], first[2]] : [];
  const tidy = name.replace(/\s+/g, ' ').replace(/^[\s'"]+|[\s'",:]+$/g, '');
  if (!/\p{L}/u.test(tidy) || !parseAddress(address).ok) return null;
  // `E-mail: ana@x.example` says what it is, not whose.
  return { name: roleOfHeader(tidy) === 'address' ? '' : decodeWords(tidy), address };
}

/** What stands between two addresses of one cell. */
const BETWEEN = /[\s,;/|]+(?:(?:or|and|oder|und|ou|et|o|y|e)\s+)?/iu;

/** The first of several addresses in a cell, where all of it is addresses; another cell as it is. */
export function firstAddress(cell: string): string {
  if (cell.split('@').length < 3) return cell;
  const all = cell.split(BETWEEN).filter((part) => part !== '');
  return all.length > 1 && all.every((part) => parseAddress(part).ok) ? (all[0] as string) : cell;
}

/** Whether a cell is an address, with a name beside it or without. */
export const holdsAddress = (cell: string): boolean => parseAddress(cell).ok || namedAddress(cell) !== null;

/** A row whose address is alone in its cell. */
export interface TakenApart {
  row: TableRow;
  /** What was in the cell, where that was more. */
  found: NamedAddress | null;
  /** The name that was beside it and that no column of the row has taken; ''. */
  name: string;
}

/**
 * Returns a function that takes names out of the cells of addresses. A name goes to the column of full names, or in two
 * parts to those of given and family names, where the row is blank there; names that are there already stay.
 *
 * @param on the cleanings that are done: whether the case of a name is put right
 * @returns null where no column holds addresses
 */
export function nameTaker(
  roles: readonly ColumnRole[],
  on: readonly Cleaning[],
): ((row: TableRow) => TakenApart) | null {
  const at = roles.indexOf('address');
  if (at < 0) return null;
  const fullAt = roles.indexOf('full_name');
  const partsAt = [roles.indexOf('given_name'), roles.indexOf('family_name')] as const;
  const hasParts = partsAt.some((i) => i >= 0);
  return (row) => {
    const found = namedAddress(row.cells[at] ?? '');
    if (!found) return { row, found, name: '' };
    const name = on.includes('name_case') ? nameCase(found.name) : found.name;
    const cells = [...row.cells];
    cells[at] = found.address;
    const isBlank = (i: number) => i < 0 || (cells[i] ?? '').trim() === '';
    if (fullAt >= 0 && isBlank(fullAt)) cells[fullAt] = name;
    if (hasParts && partsAt.every(isBlank)) {
      const parts = splitName(name) ?? { given: name, family: '' };
      if (partsAt[0] >= 0) cells[partsAt[0]] = parts.given;
      if (partsAt[1] >= 0) cells[partsAt[1]] = parts.family;
    }
    return { row: { line: row.line, cells }, found, name: fullAt >= 0 || hasParts ? '' : name };
  };
}
