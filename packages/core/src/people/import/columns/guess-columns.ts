import { fieldKey } from '../../../messages/field-name';
import { isZone } from '../../../time/zone';
import { zoneOfPlace } from '../../../time/zone-of-place';
import { isNameTitle, withoutLegalForm } from '../cleaning/clean-names';
import {
  FAMILY_BESIDE_GIVEN,
  GIVEN_BESIDE_FAMILY,
  PLACE_HEADERS,
  roleOfHeader,
  SENDER_HEADERS,
  type ColumnRole,
} from './column-roles';
import { guessFromAddresses, type ContentGuess } from './guess-from-addresses';
import { tickOf } from '../../list/list-columns';
import { holdsAddress } from '../cleaning/named-address';
import { dateReader } from './read-dates';
import type { Table } from '../files/table';
import { isCheckersWord } from '../../address/verdict';

export interface ColumnGuess {
  role: ColumnRole;
  /** 0 to 1: 1 when header and content agree, less when only one speaks for it. */
  sureness: number;
  /** Why, in words. */
  because: string;
}

/** Rows looked at; the first few hundred tell as much as a million. */
const SAMPLE_ROWS = 400;

/**
 * Guesses what each column of a sheet is, from its header and from its values. Each role but
 * `field` and `ignore` is given once at most, to the likeliest column.
 *
 * @returns one guess per column, in order
 */
export function guessColumns(table: Table): ColumnGuess[] {
  const sample = table.rows.slice(0, SAMPLE_ROWS);
  const column = (i: number) => sample.map((r) => (r.cells[i] ?? '').trim());
  const guesses = table.header.map((name, i) =>
    guessColumn(
      name,
      column(i).filter((c) => c !== ''),
    ),
  );
  weighAddresses(table, guesses, column);
  giveNamesTheirPart(table, guesses, column);
  tellTitlesApart(guesses, column);
  companyBesideContact(guesses, column);
  const unknown = guesses.flatMap((g, i) =>
    g.role === 'field' && roleOfHeader(table.header[i] as string) === undefined ? [i] : [],
  );
  const addressAt = guesses.reduce(
    (best, g, i) => (g.role === 'address' && g.sureness > (guesses[best]?.sureness ?? 0) ? i : best),
    -1,
  );
  if (addressAt >= 0)
    guessFromAddresses(column(addressAt), unknown.map(column)).forEach((found, n) => {
      if (found) guesses[unknown[n] as number] = { ...found, because: FROM_ADDRESSES[found.role] };
    });
  const given = guesses.some((g) => g.role === 'given_name' || g.role === 'family_name');
  const best = new Map<ColumnRole, number>();
  guesses.forEach((g, i) => {
    const rival = best.get(g.role);
    if (rival === undefined || g.sureness > (guesses[rival] as ColumnGuess).sureness) best.set(g.role, i);
  });
  return guesses.map((g, i) => {
    if (g.role === 'field' || g.role === 'ignore') return g;
    if (best.get(g.role) !== i)
      return { role: 'field', sureness: 0.5, because: `another column fits “${g.role.replace('_', ' ')}” better` };
    if (g.role === 'full_name' && given)
      return { role: 'field', sureness: 0.5, because: 'given and family name have columns of their own' };
    return g;
  });
}

/**
 * Of several columns of addresses, the people's is the one that is filled in most rows and says another one in each: a
 * sender's or owner's is the same in many. Headers tell before either.
 */
function weighAddresses(table: Table, guesses: ColumnGuess[], column: (i: number) => string[]): void {
  const found = guesses.flatMap((g, i) => (g.role === 'address' ? [i] : []));
  if (found.length < 2) return;
  for (const i of found) {
    const cells = column(i);
    const filled = cells.filter((c) => c !== '');
    const distinct = new Set(filled.map((c) => c.toLowerCase())).size / Math.max(1, filled.length);
    const weight = (filled.length / Math.max(1, cells.length)) * distinct;
    const isSender = SENDER_HEADERS.includes(fieldKey(table.header[i] as string));
    const guess = guesses[i] as ColumnGuess;
    guesses[i] = { ...guess, sureness: guess.sureness * (0.2 + 0.8 * weight) * (isSender ? 0.3 : 1) };
  }
}

/** Which part of a name a column holds, where its header says one thing by itself and another beside others. */
function giveNamesTheirPart(table: Table, guesses: ColumnGuess[], column: (i: number) => string[]): void {
  const key = (i: number) => fieldKey(table.header[i] as string);
  const has = (role: ColumnRole) => guesses.some((g) => g.role === role);
  const find = (role: ColumnRole, keys: readonly string[]) =>
    guesses.findIndex((g, i) => g.role === role && keys.includes(key(i)));
  const sureness = 0.8;
  const given = find('family_name', GIVEN_BESIDE_FAMILY);
  if (given >= 0 && !has('given_name') && guesses.filter((g) => g.role === 'family_name').length > 1)
    guesses[given] = { role: 'given_name', sureness, because: 'the family name has a column of its own' };
  const family = find('full_name', FAMILY_BESIDE_GIVEN);
  // Names of several words throughout are whole ones after all.
  if (family >= 0 && has('given_name') && !has('family_name') && !areWhole(column(family)))
    guesses[family] = { role: 'family_name', sureness, because: 'the given name has a column of its own' };
  const alone = guesses.findIndex((g) => g.role === 'given_name');
  if (alone >= 0 && !has('family_name') && !has('full_name') && areWhole(column(alone)))
    guesses[alone] = { role: 'full_name', sureness, because: 'it holds names of several words' };
}

/** Whether names have several words, most of them. */
function areWhole(cells: readonly string[]): boolean {
  const filled = cells.filter((c) => c !== '');
  return filled.filter((c) => /\S\s+\S/.test(c)).length >= 0.5 * filled.length && filled.length > 0;
}

/** Of several columns of titles, the job's is not the one of forms of address: `Dr.`, `Frau`. */
function tellTitlesApart(guesses: ColumnGuess[], column: (i: number) => string[]): void {
  const titles = guesses.flatMap((g, i) => (g.role === 'title' ? [i] : []));
  if (titles.length < 2) return;
  for (const i of titles) {
    const filled = column(i).filter((c) => c !== '');
    if (filled.length > 0 && filled.every(isNameTitle))
      guesses[i] = {
        role: 'field',
        sureness: 0.8,
        because: 'it holds forms of address; the job has a column of its own',
      };
  }
}

/** Of two columns of full names, the one with legal forms holds companies. */
function companyBesideContact(guesses: ColumnGuess[], column: (i: number) => string[]): void {
  const names = guesses.flatMap((g, i) => (g.role === 'full_name' ? [i] : []));
  if (names.length < 2 || guesses.some((g) => g.role === 'company')) return;
  const share = (i: number) => {
    const filled = column(i).filter((c) => c !== '');
    return filled.filter((c) => withoutLegalForm(c) !== c).length / Math.max(1, filled.length);
  };
  const company = names.find((i) => share(i) > COMPANY_SHARE);
  if (company !== undefined && names.some((i) => share(i) <= COMPANY_SHARE))
    guesses[company] = { role: 'company', sureness: 0.7, because: 'it holds legal forms of companies' };
}

/** Of a column's values, those with a legal form, from which on they are companies. */
const COMPANY_SHARE = 0.3;

const FROM_ADDRESSES: Record<ContentGuess['role'], string> = {
  given_name: 'the addresses begin with it',
  family_name: 'it stands in the addresses',
  full_name: 'its words stand in the addresses',
  company: 'it stands in the domains of the addresses',
};

/** What the cells of a column tell whose header is not known, the surest first. */
const BY_CELLS: readonly (ColumnGuess & { least: number; test(cell: string): boolean })[] = [
  { role: 'verification', least: 0.6, test: isCheckersWord, sureness: 0.7, because: 'it holds a verifier’s results' },
  { role: 'title', least: 0.8, test: isNameTitle, sureness: 0.7, because: 'it holds forms of address' },
  {
    role: 'picture',
    least: 0.8,
    test: (cell) => /\.(?:png|jpe?g|gif|webp|svg)(?:\?\S*)?$/i.test(cell),
    sureness: 0.7,
    because: 'it holds names of pictures',
  },
  {
    role: 'attachment',
    least: 0.8,
    test: (cell) => /\.(?:pdf|docx?|xlsx?|pptx?|od[tsp]|rtf|zip|ics)$/i.test(cell),
    sureness: 0.7,
    because: 'it holds names of files',
  },
  {
    role: 'company',
    least: COMPANY_SHARE,
    test: (cell) => withoutLegalForm(cell) !== cell,
    sureness: 0.7,
    because: 'it holds legal forms of companies',
  },
  {
    role: 'time_zone',
    least: 0.8,
    test: (cell) => tickOf(cell) === null && zoneOfPlace(cell) !== null,
    sureness: 0.6,
    because: 'its places give the time zone',
  },
];

/** Of the cells under a header that names it, so many must be dates; the others keep their rows aside. */
const SEND_ON_SHARE = 0.25;

function guessColumn(name: string, cells: string[]): ColumnGuess {
  const share = (test: (cell: string) => boolean) =>
    cells.length === 0 ? 0 : cells.filter(test).length / cells.length;
  const addresses = share(holdsAddress);
  const named = roleOfHeader(name);
  if (addresses >= 0.5 && (named === 'cc' || named === 'bcc'))
    return { role: named, sureness: 1, because: 'from its header; it holds addresses' };
  if ((named === 'cc' || named === 'bcc') && cells.length > 0 && addresses === 0) return field(cells);
  if (addresses >= 0.5)
    return {
      role: 'address',
      sureness: named === 'address' ? 1 : 0.7 + 0.2 * addresses,
      because: `${percent(addresses)} are addresses`,
    };
  if (named === 'address')
    return cells.length === 0 || addresses > 0
      ? { role: 'address', sureness: 0.4 + addresses, because: 'from its header' }
      : field(cells);
  if (named === 'time_zone' || share(isZoneName) > 0.8) {
    return share(isZoneName) > 0.5
      ? { role: 'time_zone', sureness: 0.95, because: 'it holds names of time zones' }
      : field(cells);
  }
  if (named === 'send_on') {
    const read = dateReader(cells, { serials: true });
    return share((cell) => read(cell) !== null) >= SEND_ON_SHARE
      ? { role: 'send_on', sureness: 0.9, because: 'from its header; it holds dates' }
      : field(cells);
  }
  if (PLACE_HEADERS.includes(fieldKey(name)) && share((cell) => zoneOfPlace(cell) !== null) > 0.5)
    return { role: 'time_zone', sureness: 0.7, because: 'its places give the time zone' };
  if (!named) {
    const told = BY_CELLS.find(({ least, test }) => share(test) > least);
    if (told) return { role: told.role, sureness: told.sureness, because: told.because };
  }
  if (named) return { role: named, sureness: 0.9, because: 'from its header' };
  return field(cells);
}

const field = (cells: string[]): ColumnGuess =>
  cells.length === 0
    ? { role: 'ignore', sureness: 0.8, because: 'it is empty' }
    : { role: 'field', sureness: 0.8, because: 'kept under its header' };
const isZoneName = (c: string) => c.includes('/') && isZone(c);
const percent = (share: number) => `${Math.round(share * 100)} %`;
